import type { Picture, Plane } from '../raster/plane';
import { luminance } from '../colour/cielab';
import { encodedQuickly } from '../colour/srgb';

/** Code values a scope tells apart. */
export const scopeLevels = 256;
/** Columns of waveform and parade. */
export const scopeColumns = 224;
/** Side of the vectorscope's square; ±0.5 of blue and red difference. */
export const scopeSide = 160;

/** One side of a picture in all scopes, counts. */
export interface Scope {
  /** Luminance, red, green, blue, each by code value. */
  histogram: [Uint32Array, Uint32Array, Uint32Array, Uint32Array];
  /** Shares of the samples whose light is below 0 and above 1 in any channel. */
  below: number;
  above: number;
  /** Column by column, level by level from black: luminance, red, green, blue. */
  waveform: [Uint32Array, Uint32Array, Uint32Array, Uint32Array];
  /** Row by row from +0.5 of red difference down, blue difference from −0.5 (BT.709 weights). */
  vector: Uint32Array;
  samples: number;
}

/** Samples taken, about. */
const wanted = 100000;

function emptyScope(): Scope {
  const four = (n: number): Scope['histogram'] => [0, 1, 2, 3].map(() => new Uint32Array(n)) as Scope['histogram'];
  return {
    histogram: four(scopeLevels),
    waveform: four(scopeColumns * scopeLevels),
    vector: new Uint32Array(scopeSide * scopeSide),
    below: 0,
    above: 0,
    samples: 0,
  };
}

/**
 * Histogram, waveform, parade and vectorscope of a picture.
 *
 * @param part opacity of the subject in it: with it the two sides are counted apart
 * @returns one scope for the whole, or two: the subject's and the background's
 */
export function scopesOf(p: Picture, part?: Plane): Scope[] {
  const out = part ? [emptyScope(), emptyScope()] : [emptyScope()];
  const step = Math.max(1, Math.ceil(Math.sqrt((p.width * p.height) / wanted)));
  const column = new Int32Array(p.width).map((_, x) => Math.floor((x * scopeColumns) / p.width) * scopeLevels);
  for (let y = step >> 1; y < p.height; y += step) {
    for (let x = step >> 1; x < p.width; x += step) {
      const i = y * p.width + x;
      const scope = part && part.data[i] < 0.5 ? out[1] : out[0];
      const r = p.r[i];
      const g = p.g[i];
      const b = p.b[i];
      if (r < -1e-4 || g < -1e-4 || b < -1e-4) scope.below++;
      if (r > 1.0001 || g > 1.0001 || b > 1.0001) scope.above++;
      scope.samples++;
      const er = encodedQuickly(r);
      const eg = encodedQuickly(g);
      const eb = encodedQuickly(b);
      const { histogram, waveform } = scope;
      const at = column[x];
      const light = (encodedQuickly(luminance(r, g, b)) * 255 + 0.5) | 0;
      const red = (er * 255 + 0.5) | 0;
      const green = (eg * 255 + 0.5) | 0;
      const blue = (eb * 255 + 0.5) | 0;
      histogram[0][light]++;
      histogram[1][red]++;
      histogram[2][green]++;
      histogram[3][blue]++;
      waveform[0][at + light]++;
      waveform[1][at + red]++;
      waveform[2][at + green]++;
      waveform[3][at + blue]++;
      const luma = 0.2126 * er + 0.7152 * eg + 0.0722 * eb;
      const across = (((eb - luma) / 1.8556 + 0.5) * (scopeSide - 1) + 0.5) | 0;
      const down = ((0.5 - (er - luma) / 1.5748) * (scopeSide - 1) + 0.5) | 0;
      scope.vector[down * scopeSide + across]++;
    }
  }
  for (const s of out) {
    s.below /= Math.max(1, s.samples);
    s.above /= Math.max(1, s.samples);
  }
  return out;
}
