import { makePicture, makePlane, type Picture, type Plane } from '../raster/plane';
import { soften } from '../raster/soften';

/** The subject's shadow on the ground that it stands on. */
export interface Contact {
  /** 0 to 1: how much light it takes. */
  strength: number;
  /** Where it falls, degrees: 0 to the right, 90 away from the camera, 180 to the left. */
  direction: number;
  /** Length on the picture, in heights of the subject. */
  length: number;
  /** How soft it is at its far end, px of the full-size picture; at the feet a tenth of that. */
  softness: number;
}

export const plainContact: Contact = { strength: 0, direction: 20, length: 0.35, softness: 40 };

/**
 * The shadow of an upright thing on level ground, from its own opacity: every row of it falls as far from the ground
 * line as it is high, in one direction; sharper where it touches, softer far off.
 *
 * @param opacity in the frame
 * @returns share of the light that is taken, 0 to 1, before the strength
 */
export function contactShadow(opacity: Plane, { direction, length, softness }: Contact, scale: number): Plane {
  const { width, height, data } = opacity;
  const { top, ground } = rowsOf(opacity);
  const out = makePlane(width, height);
  if (ground <= top) return out;
  const tall = ground - top;
  const radians = (direction * Math.PI) / 180;
  const along = Math.cos(radians) * length;
  const sine = Math.sin(radians) * length;
  // A shadow that falls along the ground line alone would have no width: it is seen from a little above.
  const up = Math.abs(sine) < 0.06 ? (sine < 0 ? -0.06 : 0.06) : sine;
  const sharp = makePlane(width, height);
  const far = makePlane(width, height);
  for (let y = 0; y < height; y++) {
    const h = (ground - (y + 0.5)) / up;
    if (h < 0 || h > tall) continue;
    const row = Math.min(height - 1, Math.max(0, Math.floor(ground - h)));
    const away = h / tall;
    for (let x = 0; x < width; x++) {
      const from = x - along * h;
      const k = Math.floor(from);
      if (k < 0 || k + 1 >= width) continue;
      const t = from - k;
      const v = (1 - t) * data[row * width + k] + t * data[row * width + k + 1];
      sharp.data[y * width + x] = v * (1 - away);
      far.data[y * width + x] = v * (0.35 + 0.65 * (1 - away));
    }
  }
  const near = soften(sharp, Math.max(0.6, 0.1 * softness * scale)).data;
  const soft = soften(far, Math.max(0.8, softness * scale)).data;
  for (let i = 0; i < out.data.length; i++) out.data[i] = Math.min(1, Math.max(0, Math.max(near[i], soft[i])));
  return out;
}

/** First row and lower end of what is at least half covered, px. */
function rowsOf({ width, height, data }: Plane): { top: number; ground: number } {
  let [top, ground] = [height, 0];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (data[i] < 0.5) continue;
      if (y < top) top = y;
      ground = y + 1;
    }
  }
  return { top, ground };
}

/** A picture with light taken from it. */
export function shaded(p: Picture, shadow: Plane, strength: number): Picture {
  const out = makePicture(p.width, p.height);
  if (p.a) out.a = p.a;
  for (let i = 0; i < p.r.length; i++) {
    const k = 1 - strength * shadow.data[i];
    out.r[i] = k * p.r[i];
    out.g[i] = k * p.g[i];
    out.b[i] = k * p.b[i];
  }
  return out;
}
