import { inArenaNow } from '../context/compiled';
import { makePlane, type Plane } from './plane';

/**
 * Mean over a (2·radius+1)² window, borders repeated. Running sums: the cost does not depend on the radius.
 */
export function boxMean(p: Plane, radius: number): Plane {
  const { width, height } = p;
  const size = 2 * radius + 1;
  const across = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let sum = 0;
    for (let k = -radius; k <= radius; k++) sum += p.data[row + Math.min(width - 1, Math.max(0, k))];
    for (let x = 0; x < width; x++) {
      across[row + x] = sum;
      sum += p.data[row + Math.min(width - 1, x + radius + 1)] - p.data[row + Math.max(0, x - radius)];
    }
  }
  const out = makePlane(width, height);
  const sums = new Float64Array(width);
  for (let k = -radius; k <= radius; k++) {
    const row = Math.min(height - 1, Math.max(0, k)) * width;
    for (let x = 0; x < width; x++) sums[x] += across[row + x];
  }
  const weight = 1 / (size * size);
  for (let y = 0; y < height; y++) {
    const next = Math.min(height - 1, y + radius + 1) * width;
    const gone = Math.max(0, y - radius) * width;
    for (let x = 0; x < width; x++) {
      out.data[y * width + x] = sums[x] * weight;
      sums[x] += across[next + x] - across[gone + x];
    }
  }
  return out;
}

/**
 * Gaussian blur with a sampled kernel cut at 3 sigma, separable, borders repeated.
 *
 * @param sigma standard deviation in pixels; 0 gives the plane itself
 */
export function gaussian(p: Plane, sigma: number): Plane {
  if (sigma <= 0) return p;
  const radius = Math.max(1, Math.ceil(3 * sigma));
  const kernel = new Float32Array(radius + 1);
  let total = 0;
  for (let k = 0; k <= radius; k++) {
    kernel[k] = Math.exp((-0.5 * k * k) / (sigma * sigma));
    total += k === 0 ? kernel[k] : 2 * kernel[k];
  }
  for (let k = 0; k <= radius; k++) kernel[k] /= total;
  const { width, height } = p;
  const out = makePlane(width, height);
  // Rows around a band are blurred across once more for it: few, where it is high.
  const band = Math.max(128, 4 * radius);
  for (let from = 0; from < height; from += band) {
    const to = Math.min(height, from + band);
    const [top, bottom] = [Math.max(0, from - radius), Math.min(height, to + radius)];
    inArenaNow((arena) => {
      const source = arena.put(p.data.subarray(top * width, bottom * width));
      const rooms = [width + 2 * radius, (bottom - top) * width, (to - from) * width].map((n) => arena.room(4 * n));
      arena.run.blurRows(width, height, top, bottom, from, to, source, arena.put(kernel), radius, ...rooms);
      arena.take(rooms[2], out.data.subarray(from * width, to * width));
    });
  }
  return out;
}
