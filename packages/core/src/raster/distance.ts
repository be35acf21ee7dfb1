import { makePlane, type Plane } from './plane';

/** Larger than any distance in a picture that fits in memory. */
const far = 1e12;

/**
 * Euclidean distance, in pixels, from every pixel to the nearest one for which `isGoal` is non-zero; zero
 * on the goal itself, and `Infinity` everywhere when there is none. Exact, linear time: one lower envelope
 * of parabolas a row and a column (Felzenszwalb & Huttenlocher 2012).
 */
export function distanceTo(isGoal: ArrayLike<number>, width: number, height: number): Plane {
  const out = makePlane(width, height);
  const longest = Math.max(width, height);
  const f = new Float64Array(longest);
  const d = new Float64Array(longest);
  const v = new Int32Array(longest);
  const z = new Float64Array(longest + 1);

  const envelope = (n: number): void => {
    let k = 0;
    v[0] = 0;
    z[0] = -Infinity;
    z[1] = Infinity;
    for (let q = 1; q < n; q++) {
      let s = crossing(f, q, v[k]);
      while (s <= z[k]) s = crossing(f, q, v[--k]);
      v[++k] = q;
      z[k] = s;
      z[k + 1] = Infinity;
    }
    k = 0;
    for (let q = 0; q < n; q++) {
      while (z[k + 1] < q) k++;
      d[q] = (q - v[k]) * (q - v[k]) + f[v[k]];
    }
  };

  // Columns first, in two sweeps: along one axis the nearest goal is simply the last or the next one seen.
  const { data } = out;
  for (let p = 0; p < data.length; p++) data[p] = isGoal[p] ? 0 : p < width ? far : data[p - width] + 1;
  for (let p = data.length - width - 1; p >= 0; p--) if (data[p + width] + 1 < data[p]) data[p] = data[p + width] + 1;
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const run = data[row + x];
      f[x] = run >= far ? far : run * run;
    }
    envelope(width);
    for (let x = 0; x < width; x++) data[row + x] = d[x] >= far ? Infinity : Math.sqrt(d[x]);
  }
  return out;
}

function crossing(f: Float64Array, q: number, p: number): number {
  return (f[q] + q * q - (f[p] + p * p)) / (2 * (q - p));
}
