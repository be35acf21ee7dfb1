import { linearOfHex } from '../colour/srgb';
import { luminance } from '../colour/cielab';
import { makePicture, type Picture } from '../raster/plane';

/** Light that falls off towards the rim, and a tint over all. */
export interface Vignette {
  /** Stops at the far end: below 0 darker, above brighter. */
  strength: number;
  /** Its middle, shares of the frame. */
  x: number;
  y: number;
  /** Half its width and height, shares of half the frame. */
  width: number;
  height: number;
  /** Degrees against the clock. */
  turn: number;
  /** 0 a box, 1 an ellipse. */
  roundness: number;
  /** How wide the fall-off is, 0 to 1 of the shape. */
  softness: number;
}

export const defaultVignette: Vignette = { strength: 0, x: 0.5, y: 0.5, width: 1, height: 1, turn: 0, roundness: 1, softness: 0.6 };

/** A colour laid over all, luminance kept. */
export interface Wash {
  colour: string;
  /** 0 to 1. */
  strength: number;
}

/** No tint. */
export const noWash: Wash = { colour: '#e8d8c0', strength: 0 };

/** A picture with its vignette and its wash of colour; the very picture when there is neither. */
export function vignetted(p: Picture, v: Vignette, wash: Wash): Picture {
  if (v.strength === 0 && wash.strength === 0) return p;
  const out = makePicture(p.width, p.height);
  if (p.a) out.a = p.a;
  const [wr, wg, wb] = linearOfHex(wash.colour);
  const level = Math.max(1e-4, luminance(wr, wg, wb));
  const [c, s] = [Math.cos((v.turn * Math.PI) / 180), Math.sin((v.turn * Math.PI) / 180)];
  const power = 2 + 10 * (1 - v.roundness) ** 2;
  const half = [(v.width * p.width) / 2, (v.height * p.height) / 2].map((x) => Math.max(1, x));
  const soft = Math.max(0.02, v.softness);
  for (let y = 0, i = 0; y < p.height; y++) {
    for (let x = 0; x < p.width; x++, i++) {
      let k = 1;
      if (v.strength !== 0) {
        const [dx, dy] = [x + 0.5 - v.x * p.width, y + 0.5 - v.y * p.height];
        const [ax, ay] = [Math.abs(dx * c - dy * s) / half[0], Math.abs(dx * s + dy * c) / half[1]];
        const away = power === 2 ? Math.hypot(ax, ay) : (ax ** power + ay ** power) ** (1 / power);
        const t = Math.min(1, Math.max(0, (away - 1 + soft) / (2 * soft)));
        k = 2 ** (v.strength * t * t * (3 - 2 * t));
      }
      let [r, g, b] = [k * p.r[i], k * p.g[i], k * p.b[i]];
      if (wash.strength > 0) {
        const light = luminance(r, g, b) / level;
        r += wash.strength * (light * wr - r);
        g += wash.strength * (light * wg - g);
        b += wash.strength * (light * wb - b);
      }
      out.r[i] = r;
      out.g[i] = g;
      out.b[i] = b;
    }
  }
  return out;
}
