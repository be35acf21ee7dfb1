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

export const defaultContact: Contact = { strength: 0, direction: 20, length: 0.35, softness: 40 };

/**
 * The shadow of an upright thing on level ground, from its own opacity: what is so high above the foot of its column falls
 * so far from it, in one direction; sharper where it touches, softer far off.
 *
 * @param opacity in the frame
 * @returns share of the light that is taken, 0 to 1, before the strength
 */
export function contactShadow(opacity: Plane, { direction, length, softness }: Contact, scale: number): Plane {
  const { width, height, data } = opacity;
  const out = makePlane(width, height);
  const { feet, tall } = feetOf(opacity);
  if (tall <= 0) return out;
  const radians = (direction * Math.PI) / 180;
  const along = Math.cos(radians) * length;
  const up = Math.sin(radians) * length;
  const sharp = makePlane(width, height);
  const far = makePlane(width, height);
  const parts = Math.max(1, Math.ceil(Math.hypot(along, up)));
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (data[i] < 0.02) continue;
      for (let part = 0; part < parts; part++) {
        const h = feet[x] - (y + (part + 0.5) / parts);
        if (h < 0) continue;
        const [u, v] = [Math.round(x + along * h), Math.floor(feet[x] - up * h)];
        if (u < 0 || v < 0 || u >= width || v >= height) continue;
        const to = v * width + u;
        const away = Math.min(1, h / tall);
        sharp.data[to] = Math.max(sharp.data[to], data[i] * (1 - away));
        far.data[to] = Math.max(far.data[to], data[i] * (0.35 + 0.65 * (1 - away)));
      }
    }
  }
  const near = soften(sharp, Math.max(0.8, 0.1 * softness * scale)).data;
  const soft = soften(far, Math.max(1, softness * scale)).data;
  for (let i = 0; i < out.data.length; i++) out.data[i] = Math.min(1, Math.max(0, near[i], soft[i]));
  return out;
}

/** How much of the height a foot may be above the lowest point and still stand on the ground. */
const standing = 0.22;

/**
 * The row on which each column stands: the lowest end of the thing thereabouts, where it comes down far enough to be a
 * foot; between feet, and beyond them, on the way from one to the next.
 */
function feetOf({ width, height, data }: Plane): { feet: Float32Array; tall: number } {
  const ends = new Float32Array(width);
  let [top, ground] = [height, 0];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (data[i] < 0.5) continue;
      if (y < top) top = y;
      ground = y + 1;
      ends[x] = y + 1;
    }
  }
  const tall = ground - top;
  // A wheel stands on its lowest point, not on its whole round.
  const reach = Math.max(1, Math.round(0.1 * tall));
  const feet = new Float32Array(width).fill(ground);
  let last = -1;
  for (let x = 0; x < width; x++) {
    let end = 0;
    for (let k = Math.max(0, x - reach); k <= Math.min(width - 1, x + reach); k++) end = Math.max(end, ends[k]);
    if (end < ground - standing * tall) continue;
    feet[x] = end;
    for (let k = last + 1; k < x; k++) feet[k] = last < 0 ? end : feet[last] + ((end - feet[last]) * (k - last)) / (x - last);
    last = x;
  }
  if (last >= 0) feet.fill(feet[last], last + 1);
  return { feet, tall };
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
