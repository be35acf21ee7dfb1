import { makePlane, type Plane } from './plane';

/** Larger than any distance in a picture that fits in memory. */
const far = 1e12;

/**
 * Euclidean distance, in pixels, from every pixel to the nearest one for which `isGoal` is non-zero; zero
 * on the goal itself, and `Infinity` everywhere when there is none. Exact, linear time: one lower envelope
 * of parabolas a row and a column (Felzenszwalb & Huttenlocher 2012), to which only the ends of a run of goals in a row
 * and what lies within the limit along its column belong.
 *
 * @param limit distances above it, px, are given as `Infinity`; a small one is much faster
 */
export function distanceTo(isGoal: ArrayLike<number>, width: number, height: number, limit = Infinity): Plane {
  const out = makePlane(width, height);
  const most = Math.min(limit * limit, far - 1);
  const f = new Float64Array(width);
  const v = new Int32Array(width);
  const z = new Float64Array(width + 1);

  // Columns first, in two sweeps: along one axis the nearest goal is simply the last or the next one seen.
  const { data } = out;
  for (let p = 0; p < data.length; p++) data[p] = isGoal[p] ? 0 : p < width ? far : data[p - width] + 1;
  for (let p = data.length - width - 1; p >= 0; p--) if (data[p + width] + 1 < data[p]) data[p] = data[p + width] + 1;
  for (let row = 0; row < data.length; row += width) {
    let k = -1;
    for (let q = 0; q < width; q++) {
      const run = data[row + q];
      f[q] = run * run;
      if (f[q] > most || (run === 0 && q > 0 && q + 1 < width && data[row + q - 1] === 0 && data[row + q + 1] === 0)) continue;
      let s = -Infinity;
      while (k >= 0 && (s = crossing(f, q, v[k])) <= z[k]) k--;
      v[++k] = q;
      z[k] = k === 0 ? -Infinity : s;
    }
    if (k < 0) {
      data.fill(Infinity, row, row + width);
      continue;
    }
    z[k + 1] = Infinity;
    for (let q = 0, i = 0; q < width; q++) {
      if (data[row + q] === 0) continue;
      while (z[i + 1] < q) i++;
      const squared = (q - v[i]) * (q - v[i]) + f[v[i]];
      data[row + q] = squared > most ? Infinity : Math.sqrt(squared);
    }
  }
  return out;
}

function crossing(f: Float64Array, q: number, p: number): number {
  return (f[q] + q * q - (f[p] + p * p)) / (2 * (q - p));
}
