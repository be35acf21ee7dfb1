import { lightnessOf, luminance } from '../colour/cielab';
import { oklabOf, type Triple } from '../colour/oklab';
import { chromaticityOf, whitePointOf } from '../colour/whitepoint';
import type { Picture } from '../raster/plane';

/** Cast and tone of a picture or a part of it. */
export interface Tone {
  /** Mean OKLab. */
  mean: Triple;
  /** Covariance of OKLab a and b: aa, ab, bb. */
  chroma: Triple;
  /** 1st, 50th and 99th percentile of L*. */
  black: number;
  middle: number;
  white: number;
  /** Standard deviation of L*. */
  contrast: number;
  /** Mean OKLab chroma, × 100. */
  saturation: number;
  /** Colour of the mean light, in mired along the black-body locus and Δu′v′ × 1000 across it. */
  mired: number;
  tint: number;
  /** Sum of the weights that were measured; 0 when there was nothing to measure, and all figures are 0. */
  weight: number;
}

/** Some of a picture's colours, linear sRGB one after the other, with a weight each. */
export interface ColourSample {
  colours: Float32Array;
  weights: Float32Array;
}

/** Samples looked at, about. */
const samples = 120000;

/**
 * Colours of a picture on an even grid. Where a picture has opacity, only what is at least half covered counts.
 *
 * @param mask weight of each pixel, 0 to 1; default the picture's opacity, or all
 * @param wanted how many are taken, about
 */
export function sampleColours(p: Picture, mask: Float32Array | undefined = p.a, wanted = samples): ColourSample {
  let n = p.width * p.height;
  if (mask) {
    n = 0;
    for (let i = 0; i < mask.length; i++) if (mask[i] >= 0.5) n++;
  }
  const step = Math.max(1, Math.floor(Math.sqrt(n / wanted)));
  const colours: number[] = [];
  const weights: number[] = [];
  for (let y = step >> 1; y < p.height; y += step) {
    for (let x = step >> 1; x < p.width; x += step) {
      const i = y * p.width + x;
      const w = mask ? mask[i] : 1;
      if (w < 0.5) continue;
      colours.push(p.r[i], p.g[i], p.b[i]);
      weights.push(w);
    }
  }
  return { colours: Float32Array.from(colours), weights: Float32Array.from(weights) };
}

/** Between these levels of its brightest channel, linear, a colour ceases to tell of the light: what is clipped is white whatever lit it. */
const clipping: readonly [number, number] = [0.92, 0.99];
/** What clipped colours count all the same, for a sample that has no others. */
const clippedCounts = 0.002;

/**
 * Cast and tone of a sample. Light beyond display white counts as white, below black as black. The colour of the light is told from what
 * is not clipped (as usual in estimates of illuminants; Barnard, Martin, Coath & Funt 2002): blown lamps would make any night neutral.
 */
export function toneOf({ colours, weights }: ColourSample): Tone {
  const histogram = new Float64Array(2002);
  const mean: Triple = [0, 0, 0];
  const light: Triple = [0, 0, 0];
  let [aa, ab, bb, weight, chroma, l1, l2] = [0, 0, 0, 0, 0, 0, 0];
  for (let i = 0, k = 0; i < weights.length; i++, k += 3) {
    const w = weights[i];
    const r = Math.min(1, Math.max(0, colours[k]));
    const g = Math.min(1, Math.max(0, colours[k + 1]));
    const b = Math.min(1, Math.max(0, colours[k + 2]));
    const [l, oa, ob] = oklabOf(r, g, b);
    weight += w;
    mean[0] += w * l;
    mean[1] += w * oa;
    mean[2] += w * ob;
    aa += w * oa * oa;
    ab += w * oa * ob;
    bb += w * ob * ob;
    chroma += w * Math.hypot(oa, ob);
    const tells = w * Math.max(clippedCounts, Math.min(1, (clipping[1] - Math.max(r, g, b)) / (clipping[1] - clipping[0])));
    light[0] += tells * r;
    light[1] += tells * g;
    light[2] += tells * b;
    const lightness = lightnessOf(luminance(r, g, b));
    l1 += w * lightness;
    l2 += w * lightness * lightness;
    // Shared between the two nearest levels, so that percentiles move smoothly with the picture.
    const at = Math.min(2000, 20 * lightness);
    const bin = at | 0;
    histogram[bin] += w * (1 - at + bin);
    histogram[bin + 1] += w * (at - bin);
  }
  if (weight === 0) {
    const none = { black: 0, middle: 0, white: 0, contrast: 0, saturation: 0, mired: 0, tint: 0 };
    return { mean, chroma: [0, 0, 0], ...none, weight };
  }
  const m: Triple = [mean[0] / weight, mean[1] / weight, mean[2] / weight];
  const white = whitePointOf(chromaticityOf(...light));
  return {
    mean: m,
    chroma: [Math.max(0, aa / weight - m[1] * m[1]), ab / weight - m[1] * m[2], Math.max(0, bb / weight - m[2] * m[2])],
    black: percentile(histogram, weight, 0.01),
    middle: percentile(histogram, weight, 0.5),
    white: percentile(histogram, weight, 0.99),
    contrast: Math.sqrt(Math.max(0, l2 / weight - (l1 / weight) ** 2)),
    saturation: (100 * chroma) / weight,
    mired: white.mired,
    tint: white.tint,
    weight,
  };
}

/** Measures cast and tone; see `sampleColours` for what counts. */
export function measureTone(p: Picture, mask: Float32Array | undefined = p.a): Tone {
  return toneOf(sampleColours(p, mask));
}

function percentile(histogram: Float64Array, total: number, share: number): number {
  let left = total * share;
  for (let i = 0; i < histogram.length; i++) {
    if (histogram[i] >= left) return Math.min(100, (i - (histogram[i] > 0 ? 1 - left / histogram[i] : 0)) / 20);
    left -= histogram[i];
  }
  return 100;
}
