import { byteAt, doubleAt, floatAt, numberAt, setDouble, setFloat, setNumber } from './memory';

/** Larger than any distance in a picture that fits in memory. */
const far: f64 = 1e12;

function crossing(f: usize, q: i32, p: i32): f64 {
  const to = <f64>q;
  const from = <f64>p;
  return (doubleAt(f, q) + to * to - (doubleAt(f, p) + from * from)) / (2 * (to - from));
}

/**
 * Euclidean distance from every pixel to the nearest goal: one lower envelope of parabolas a row and a column (Felzenszwalb &
 * Huttenlocher 2012), to which only the ends of a run of goals in a row and what lies within the limit along its column belong.
 *
 * @param goal a mask
 * @param limit distances above it are given as infinite
 * @param room memory for 8 (2 · width + 1) + 4 · width bytes
 */
export function distanceTo(goal: usize, width: i32, height: i32, limit: f64, room: usize, out: usize): void {
  const n = width * height;
  const most = min(limit * limit, far - 1);
  const f = room;
  const z = f + 8 * <usize>width;
  const v = z + 8 * <usize>(width + 1);
  // Columns first, in two sweeps: along one axis the nearest goal is simply the last or the next one seen.
  for (let p = 0; p < n; p++) setFloat(out, p, byteAt(goal, p) !== 0 ? 0 : p < width ? far : floatAt(out, p - width) + 1);
  for (let p = n - width - 1; p >= 0; p--) {
    const below = <f64>(<f32>(floatAt(out, p + width) + 1));
    if (below < floatAt(out, p)) setFloat(out, p, below);
  }
  for (let row = 0; row < n; row += width) {
    let k = -1;
    for (let q = 0; q < width; q++) {
      const run = floatAt(out, row + q);
      setDouble(f, q, run * run);
      if (run * run > most) continue;
      if (run === 0 && q > 0 && q + 1 < width && floatAt(out, row + q - 1) === 0 && floatAt(out, row + q + 1) === 0) continue;
      let s = -Infinity;
      while (k >= 0) {
        s = crossing(f, q, numberAt(v, k));
        if (s > doubleAt(z, k)) break;
        k--;
      }
      k++;
      setNumber(v, k, q);
      setDouble(z, k, k === 0 ? -Infinity : s);
    }
    if (k < 0) {
      for (let q = 0; q < width; q++) setFloat(out, row + q, Infinity);
      continue;
    }
    setDouble(z, k + 1, Infinity);
    for (let q = 0, i = 0; q < width; q++) {
      if (floatAt(out, row + q) === 0) continue;
      while (doubleAt(z, i + 1) < q) i++;
      const from = numberAt(v, i);
      const squared = <f64>(q - from) * <f64>(q - from) + doubleAt(f, from);
      setFloat(out, row + q, squared > most ? Infinity : sqrt(squared));
    }
  }
}
