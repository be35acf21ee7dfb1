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
  const across = new Float32Array(width * height);
  const padded = new Float32Array(width + 2 * radius);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    padded.fill(p.data[row], 0, radius);
    padded.set(p.data.subarray(row, row + width), radius);
    padded.fill(p.data[row + width - 1], radius + width);
    for (let x = 0; x < width; x++) {
      let sum = kernel[0] * padded[x + radius];
      for (let k = 1; k <= radius; k++) sum += kernel[k] * (padded[x + radius - k] + padded[x + radius + k]);
      across[row + x] = sum;
    }
  }
  const out = makePlane(width, height);
  for (let y = 0; y < height; y++) {
    const at = y * width;
    for (let x = 0; x < width; x++) out.data[at + x] = kernel[0] * across[at + x];
    for (let k = 1; k <= radius; k++) {
      const up = Math.max(0, y - k) * width;
      const down = Math.min(height - 1, y + k) * width;
      const w = kernel[k];
      for (let x = 0; x < width; x++) out.data[at + x] += w * (across[up + x] + across[down + x]);
    }
  }
  return out;
}
