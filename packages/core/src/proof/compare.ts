import { cielabOf, deltaE2000 } from '../colour/cielab';
import { encodeSrgb } from '../colour/srgb';
import { distanceTo } from '../raster/distance';
import { boxMean } from '../raster/filter';
import { assertSameSize, type Picture, type Plane } from '../raster/plane';

/** Mean ΔE2000 of two pictures where the weight is not 0. @throws RangeError when sizes differ */
export function meanDeltaE(p: Picture, q: Picture, weight?: Float32Array): number {
  assertSameSize(p, q, 'comparing colours');
  let sum = 0;
  let total = 0;
  for (let i = 0; i < p.r.length; i++) {
    const w = weight ? weight[i] : 1;
    if (w <= 0) continue;
    sum += w * deltaE2000(shown(p, i), shown(q, i));
    total += w;
  }
  return total > 0 ? sum / total : 0;
}

/** CIELAB of a pixel as a screen would show it, clipped to 0 to 1. */
function shown(p: Picture, i: number): [number, number, number] {
  const clip = (v: number): number => (v < 0 ? 0 : v > 1 ? 1 : v);
  return cielabOf(clip(p.r[i]), clip(p.g[i]), clip(p.b[i]));
}

/** Peak signal-to-noise ratio, dB, of the sRGB-encoded pictures, where the weight is not 0. `Infinity` when equal. */
export function psnr(p: Picture, q: Picture, weight?: Float32Array): number {
  assertSameSize(p, q, 'signal to noise');
  let sum = 0;
  let total = 0;
  for (let i = 0; i < p.r.length; i++) {
    const w = weight ? weight[i] : 1;
    if (w <= 0) continue;
    const r = encodeSrgb(p.r[i]) - encodeSrgb(q.r[i]);
    const g = encodeSrgb(p.g[i]) - encodeSrgb(q.g[i]);
    const b = encodeSrgb(p.b[i]) - encodeSrgb(q.b[i]);
    sum += (w * (r * r + g * g + b * b)) / 3;
    total += w;
  }
  return sum > 0 ? 10 * Math.log10(total / sum) : Infinity;
}

/**
 * Structural similarity (Wang et al. 2004) of the encoded luma in 7 × 7 windows, averaged where the weight is
 * not 0; 1 when equal.
 */
export function ssim(p: Picture, q: Picture, weight?: Float32Array): number {
  assertSameSize(p, q, 'structural similarity');
  const x = luma(p);
  const y = luma(q);
  const times = (u: Plane, v: Plane): Plane => ({ ...u, data: u.data.map((a, i) => a * v.data[i]) });
  const mx = boxMean(x, 3).data;
  const my = boxMean(y, 3).data;
  const xx = boxMean(times(x, x), 3).data;
  const yy = boxMean(times(y, y), 3).data;
  const xy = boxMean(times(x, y), 3).data;
  const c1 = 0.01 ** 2;
  const c2 = 0.03 ** 2;
  let sum = 0;
  let total = 0;
  for (let i = 0; i < mx.length; i++) {
    const w = weight ? weight[i] : 1;
    if (w <= 0) continue;
    const m = mx[i] * my[i];
    const m2 = mx[i] * mx[i] + my[i] * my[i];
    const vx = Math.max(0, xx[i] - mx[i] * mx[i]);
    const vy = Math.max(0, yy[i] - my[i] * my[i]);
    sum += (w * ((2 * m + c1) * (2 * (xy[i] - m) + c2))) / ((m2 + c1) * (vx + vy + c2));
    total += w;
  }
  return total > 0 ? sum / total : 1;
}

function luma(p: Picture): Plane {
  const data = new Float32Array(p.r.length);
  for (let i = 0; i < data.length; i++) data[i] = 0.299 * encodeSrgb(p.r[i]) + 0.587 * encodeSrgb(p.g[i]) + 0.114 * encodeSrgb(p.b[i]);
  return { width: p.width, height: p.height, data };
}

/** 1 for pixels outside the subject whose distance from its edge lies in (from, to], px; else 0. */
export function bandOutside(matte: Plane, from: number, to: number): Float32Array {
  const away = distanceTo(
    matte.data.map((v) => (v >= 0.5 ? 1 : 0)),
    matte.width,
    matte.height,
  ).data;
  return away.map((d) => (d > from && d <= to ? 1 : 0));
}

/** Mean colour difference in the two bands where a halo shows. */
export interface Halo {
  /** Mean ΔE2000 from 0 to 4 px outside the edge. */
  near: number;
  /** Mean ΔE2000 from 4 to 12 px outside the edge. */
  far: number;
}

/**
 * The halo figure: how much a picture differs from one known to be right, just outside the subject.
 *
 * @param edge the matte whose half-opacity line is the edge
 * @param scale pixels per full-size pixel; the bands are stated in full-size pixels
 */
export function halo(picture: Picture, right: Picture, edge: Plane, scale = 1): Halo {
  return {
    near: meanDeltaE(picture, right, bandOutside(edge, 0, 4 * scale)),
    far: meanDeltaE(picture, right, bandOutside(edge, 4 * scale, 12 * scale)),
  };
}

/** Errors of a matte against the true one. */
export interface MatteErrors {
  /** Sum of absolute differences, in thousands. */
  sad: number;
  /** Mean squared difference. */
  mse: number;
  /** Sum of squared differences of the gradients (Gaussian derivative, sigma 1.4; Rhemann et al. 2009), in thousands. */
  gradient: number;
}

/** SAD, MSE and gradient error of a matte, over the picture or where the weight is not 0. */
export function matteErrors(matte: Plane, truth: Plane, weight?: Float32Array): MatteErrors {
  assertSameSize(matte, truth, 'matte errors');
  const g = gradientSize(matte);
  const h = gradientSize(truth);
  let [sad, square, gradient, total] = [0, 0, 0, 0];
  for (let i = 0; i < truth.data.length; i++) {
    if (weight && weight[i] <= 0) continue;
    const e = matte.data[i] - truth.data[i];
    sad += Math.abs(e);
    square += e * e;
    gradient += (g[i] - h[i]) ** 2;
    total++;
  }
  return { sad: sad / 1000, mse: total > 0 ? square / total : 0, gradient: gradient / 1000 };
}

/** Size of the gradient by Gaussian derivatives. */
function gradientSize(p: Plane): Float32Array {
  const sigma = 1.4;
  const reach = 4;
  const smooth: number[] = [];
  const slope: number[] = [];
  for (let k = -reach; k <= reach; k++) {
    const v = Math.exp((-k * k) / (2 * sigma * sigma));
    smooth.push(v);
    slope.push((-k / (sigma * sigma)) * v);
  }
  const norm = smooth.reduce((a, b) => a + b);
  const across = (kernel: number[], src: Float32Array, dx: number, dy: number): Float32Array => {
    const out = new Float32Array(src.length);
    for (let y = 0; y < p.height; y++) {
      for (let x = 0; x < p.width; x++) {
        let sum = 0;
        for (let k = -reach; k <= reach; k++) {
          const sx = Math.min(p.width - 1, Math.max(0, x + k * dx));
          const sy = Math.min(p.height - 1, Math.max(0, y + k * dy));
          sum += kernel[k + reach] * src[sy * p.width + sx];
        }
        out[y * p.width + x] = sum / norm;
      }
    }
    return out;
  };
  const gx = across(smooth, across(slope, p.data, 1, 0), 0, 1);
  const gy = across(slope, across(smooth, p.data, 1, 0), 0, 1);
  return gx.map((v, i) => Math.hypot(v, gy[i]));
}
