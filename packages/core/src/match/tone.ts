import { lightnessOf, luminance } from '../colour/cielab';
import { oklabOf, type Triple } from '../colour/oklab';
import { chromaticityOf, whitePointOf } from '../colour/whitepoint';
import type { Picture } from '../raster/plane';

/** Cast and tone of a picture or a part of it. */
export interface Tone {
  /** Mean OKLab. */
  mean: Triple;
  /** Standard deviation of OKLab lightness. */
  spread: number;
  /** Covariance of OKLab a and b: aa, ab, bb. */
  chroma: Triple;
  /** 1st, 50th and 99th percentile of L*. */
  black: number;
  middle: number;
  white: number;
  /** Colour of the mean light, in mired along the black-body locus and Δu′v′ × 1000 across it. */
  mired: number;
  tint: number;
  /** Sum of the weights that were measured; 0 when there was nothing to measure, and all figures are 0. */
  weight: number;
}

/** Samples looked at, about. */
const samples = 120000;

/**
 * Measures cast and tone. Where a picture has opacity, only what is at least half covered counts.
 *
 * @param mask weight of each pixel, 0 to 1; default the picture's opacity, or all
 */
export function measureTone(p: Picture, mask: Float32Array | undefined = p.a): Tone {
  const n = p.width * p.height;
  const step = Math.max(1, Math.floor(Math.sqrt(n / samples)));
  const histogram = new Float64Array(1001);
  const mean: Triple = [0, 0, 0];
  const light: Triple = [0, 0, 0];
  let [ll, aa, ab, bb, weight] = [0, 0, 0, 0, 0];
  for (let y = step >> 1; y < p.height; y += step) {
    for (let x = step >> 1; x < p.width; x += step) {
      const i = y * p.width + x;
      const w = mask ? mask[i] : 1;
      if (w < 0.5) continue;
      const [l, a, b] = oklabOf(p.r[i], p.g[i], p.b[i]);
      weight += w;
      mean[0] += w * l;
      mean[1] += w * a;
      mean[2] += w * b;
      ll += w * l * l;
      aa += w * a * a;
      ab += w * a * b;
      bb += w * b * b;
      light[0] += w * Math.min(1, p.r[i]);
      light[1] += w * Math.min(1, p.g[i]);
      light[2] += w * Math.min(1, p.b[i]);
      const bin = Math.round(10 * lightnessOf(luminance(p.r[i], p.g[i], p.b[i])));
      histogram[Math.min(1000, bin)] += w;
    }
  }
  if (weight === 0) {
    return { mean, spread: 0, chroma: [0, 0, 0], black: 0, middle: 0, white: 0, mired: 0, tint: 0, weight };
  }
  const m: Triple = [mean[0] / weight, mean[1] / weight, mean[2] / weight];
  const white = whitePointOf(chromaticityOf(...light));
  return {
    mean: m,
    spread: Math.sqrt(Math.max(0, ll / weight - m[0] * m[0])),
    chroma: [Math.max(0, aa / weight - m[1] * m[1]), ab / weight - m[1] * m[2], Math.max(0, bb / weight - m[2] * m[2])],
    black: percentile(histogram, weight, 0.01),
    middle: percentile(histogram, weight, 0.5),
    white: percentile(histogram, weight, 0.99),
    mired: white.mired,
    tint: white.tint,
    weight,
  };
}

function percentile(histogram: Float64Array, total: number, share: number): number {
  let left = total * share;
  for (let i = 0; i < histogram.length; i++) {
    left -= histogram[i];
    if (left <= 0) return i / 10;
  }
  return 100;
}
