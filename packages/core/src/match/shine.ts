import { luminance } from '../colour/cielab';
import { makePicture, type Picture } from '../raster/plane';

/** Glow from a bright place behind the subject. Lengths in px of the full-size frame. */
export interface Shine {
  /** A bright place in the frame; nothing: no glow. */
  at: readonly [number, number] | null;
  radius: number;
  /** 0 to 1 and beyond: light of the place that is spread. */
  strength: number;
  /** Share that lies over the subject as well, 0 to 1. */
  over: number;
}

export const defaultShine: Shine = { at: null, radius: 260, strength: 0.4, over: 0.25 };

/** Colour of the brightest tenth around a place, linear light. */
export function shineColour(p: Picture, [x, y]: readonly [number, number], radius: number): [number, number, number] {
  const reach = Math.max(1, radius);
  const found: { light: number; i: number }[] = [];
  for (let v = Math.max(0, Math.floor(y - reach)); v < Math.min(p.height, y + reach); v++) {
    for (let u = Math.max(0, Math.floor(x - reach)); u < Math.min(p.width, x + reach); u++) {
      if (Math.hypot(u + 0.5 - x, v + 0.5 - y) > reach) continue;
      const i = v * p.width + u;
      found.push({ light: luminance(p.r[i], p.g[i], p.b[i]), i });
    }
  }
  if (found.length === 0) return [0, 0, 0];
  found.sort((a, b) => b.light - a.light);
  const best = found.slice(0, Math.max(1, Math.round(found.length / 10)));
  const mean = (c: Float32Array): number => best.reduce((sum, { i }) => sum + Math.max(0, c[i]), 0) / best.length;
  return [mean(p.r), mean(p.g), mean(p.b)];
}

/** A picture with a glow added: strongest at the place, falling as a glow in a lens does, nothing at the radius. */
export function shone(p: Picture, at: readonly [number, number], radius: number, colour: readonly number[], strength: number): Picture {
  if (strength <= 0) return p;
  const out = makePicture(p.width, p.height);
  if (p.a) out.a = p.a;
  for (let y = 0, i = 0; y < p.height; y++) {
    for (let x = 0; x < p.width; x++, i++) {
      const t = Math.min(1, Math.hypot(x + 0.5 - at[0], y + 0.5 - at[1]) / Math.max(1, radius));
      const k = (strength * (1 - t) ** 2) / (1 + 12 * t * t);
      out.r[i] = p.r[i] + k * colour[0];
      out.g[i] = p.g[i] + k * colour[1];
      out.b[i] = p.b[i] + k * colour[2];
    }
  }
  return out;
}
