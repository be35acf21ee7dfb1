import { luminance } from '../colour/cielab';
import { locus } from '../colour/whitepoint';
import type { Picture } from '../raster/plane';

/** A card's own colour. */
export interface Look {
  /** Mired: warmer above 0, colder below. */
  warmth: number;
  /** Stops. */
  exposure: number;
  /** 0 grey, 1 as it is. */
  saturation: number;
}

/** As it was photographed. */
export const plainLook: Look = { warmth: 0, exposure: 0, saturation: 1 };

export function isPlainLook({ warmth, exposure, saturation }: Look): boolean {
  return warmth === 0 && exposure === 0 && saturation === 1;
}

/** Light of a blackbody over that of daylight, by channel, at equal luminance: what warmth multiplies by. */
export function warmthGain(mired: number): [number, number, number] {
  const light = (kelvin: number): number[] => {
    const { u, v } = locus(kelvin);
    const [x, y] = [(9 * u) / (6 * u - 16 * v + 12), (4 * v) / (6 * u - 16 * v + 12)];
    const [X, Z] = [x / y, (1 - x - y) / y];
    return [3.2404542 * X - 1.5371385 - 0.4985314 * Z, -0.969266 * X + 1.8760108 + 0.041556 * Z, 0.0556434 * X - 0.2040259 + 1.0572252 * Z];
  };
  const from = light(6504);
  const to = light(1e6 / Math.min(500, Math.max(40, 1e6 / 6504 + mired)));
  const gain = to.map((v, i) => Math.max(0.02, v) / from[i]);
  const level = luminance(gain[0], gain[1], gain[2]);
  return gain.map((v) => v / level) as [number, number, number];
}

/** A picture with a card's own colour; light stays linear and unclipped. Returns the very picture when nothing changes. */
export function looked(p: Picture, look: Look): Picture {
  if (isPlainLook(look)) return p;
  const out: Picture = { ...p, r: p.r.slice(), g: p.g.slice(), b: p.b.slice() };
  const gain = look.warmth === 0 ? [1, 1, 1] : warmthGain(look.warmth);
  const [kr, kg, kb] = gain.map((v) => v * 2 ** look.exposure);
  const s = look.saturation;
  for (let i = 0; i < out.r.length; i++) {
    const [r, g, b] = [kr * p.r[i], kg * p.g[i], kb * p.b[i]];
    const grey = luminance(r, g, b);
    out.r[i] = Math.max(0, grey + s * (r - grey));
    out.g[i] = Math.max(0, grey + s * (g - grey));
    out.b[i] = Math.max(0, grey + s * (b - grey));
  }
  return out;
}
