import { decodeSrgb, encodeSrgb } from '../colour/srgb';
import { assertSameSize, makePicture, type Picture } from '../raster/plane';

/** Ways of laying one picture over another: those of the W3C recommendation Compositing and Blending Level 1. */
export const blendModes = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
] as const;
export type BlendMode = (typeof blendModes)[number];

type Rgb = [number, number, number];

/** The recommendation's functions of one channel: behind, before. */
const separable: Partial<Record<BlendMode, (b: number, s: number) => number>> = {
  multiply: (b, s) => b * s,
  screen: (b, s) => b + s - b * s,
  overlay: (b, s) => hardLight(s, b),
  darken: Math.min,
  lighten: Math.max,
  'color-dodge': (b, s) => (b <= 0 ? 0 : s >= 1 ? 1 : Math.min(1, b / (1 - s))),
  'color-burn': (b, s) => (b >= 1 ? 1 : s <= 0 ? 0 : 1 - Math.min(1, (1 - b) / s)),
  'hard-light': (b, s) => hardLight(b, s),
  'soft-light': (b, s) => {
    if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b);
    const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b);
    return b + (2 * s - 1) * (d - b);
  },
  difference: (b, s) => Math.abs(b - s),
  exclusion: (b, s) => b + s - 2 * b * s,
};

function hardLight(b: number, s: number): number {
  return s <= 0.5 ? b * 2 * s : b + (2 * s - 1) - b * (2 * s - 1);
}

const lum = ([r, g, b]: Rgb): number => 0.3 * r + 0.59 * g + 0.11 * b;
const sat = (c: Rgb): number => Math.max(...c) - Math.min(...c);

function withLum(c: Rgb, to: number): Rgb {
  const shift = to - lum(c);
  const out = c.map((v) => v + shift) as Rgb;
  const [low, high] = [Math.min(...out), Math.max(...out)];
  if (low < 0) return out.map((v) => to + ((v - to) * to) / (to - low)) as Rgb;
  if (high > 1) return out.map((v) => to + ((v - to) * (1 - to)) / (high - to)) as Rgb;
  return out;
}

function withSat(c: Rgb, to: number): Rgb {
  const [low, range] = [Math.min(...c), sat(c)];
  return range <= 0 ? [0, 0, 0] : (c.map((v) => ((v - low) * to) / range) as Rgb);
}

const whole: Partial<Record<BlendMode, (b: Rgb, s: Rgb) => Rgb>> = {
  hue: (b, s) => withLum(withSat(s, sat(b)), lum(b)),
  saturation: (b, s) => withLum(withSat(b, sat(s)), lum(b)),
  color: (b, s) => withLum(s, lum(b)),
  luminosity: (b, s) => withLum(b, lum(s)),
};

/** The mixed colour of two, both sRGB-encoded, 0 to 1. */
export function blended(mode: BlendMode, behind: Rgb, before: Rgb): Rgb {
  const each = separable[mode];
  if (each) return behind.map((v, i) => each(v, before[i])) as Rgb;
  return whole[mode]?.(behind, before) ?? before;
}

/**
 * One picture over another in linear light, by the upper one's straight opacity (Porter & Duff 1984, over). The
 * only place where light is multiplied by opacity. Modes other than normal mix colours sRGB-encoded, as the
 * recommendation has them; what of the lower picture is brighter than display white is kept on top.
 *
 * @param strength scales the upper opacity, 0 to 1
 * @returns opaque when the lower picture is
 * @throws RangeError when sizes differ
 */
export function over(upper: Picture, lower: Picture, strength = 1, mode: BlendMode = 'normal'): Picture {
  assertSameSize(upper, lower, 'laying one picture over another');
  const mixed = mode === 'normal' ? upper : mixedColours(upper, lower, mode);
  const out = makePicture(lower.width, lower.height, lower.a ? 0 : undefined);
  const n = lower.r.length;
  for (let p = 0; p < n; p++) {
    const a = (upper.a ? upper.a[p] : 1) * strength;
    const below = lower.a ? lower.a[p] * (1 - a) : 1 - a;
    const total = a + below;
    if (out.a) out.a[p] = total;
    const k = total > 0 ? 1 / total : 0;
    out.r[p] = (a * mixed.r[p] + below * lower.r[p]) * k;
    out.g[p] = (a * mixed.g[p] + below * lower.g[p]) * k;
    out.b[p] = (a * mixed.b[p] + below * lower.b[p]) * k;
  }
  return out;
}

/** The upper picture's colours mixed with what is behind them, as far as there is anything. */
function mixedColours(upper: Picture, lower: Picture, mode: BlendMode): Picture {
  const out = makePicture(upper.width, upper.height);
  const shown = (v: number): number => encodeSrgb(Math.min(1, Math.max(0, v)));
  for (let p = 0; p < out.r.length; p++) {
    const behind: Rgb = [lower.r[p], lower.g[p], lower.b[p]];
    const before: Rgb = [upper.r[p], upper.g[p], upper.b[p]];
    const mixed = blended(mode, behind.map(shown) as Rgb, before.map(shown) as Rgb);
    const there = lower.a ? lower.a[p] : 1;
    const light = mixed.map((v, i) => there * (decodeSrgb(v) + Math.max(0, behind[i] - 1)) + (1 - there) * before[i]);
    [out.r[p], out.g[p], out.b[p]] = light;
  }
  return out;
}
