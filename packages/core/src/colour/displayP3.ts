import type { Picture } from '../raster/plane';

/** A space that codes can be of; both have the curve of sRGB and its white. */
export type CodeSpace = 'srgb' | 'display-p3';

/** Rows from linear Display P3 to linear sRGB (primaries of SMPTE EG 432-1 and IEC 61966-2-1, white D65). */
const toSrgb = [1.2249401763, -0.2249401763, 0, -0.0420569547, 1.0420569547, 0, -0.0196375546, -0.0786360456, 1.0982736002];
/** And back. */
export const displayP3FromSrgb: readonly number[] = [
  0.8224619687, 0.1775380313, 0, 0.0331941989, 0.9668058011, 0, 0.0170826307, 0.0723974407, 0.9105199286,
];

function through(m: readonly number[], { r, g, b }: Pick<Picture, 'r' | 'g' | 'b'>, out: Pick<Picture, 'r' | 'g' | 'b'>): void {
  for (let p = 0; p < r.length; p++) {
    const [x, y, z] = [r[p], g[p], b[p]];
    out.r[p] = m[0] * x + m[1] * y + m[2] * z;
    out.g[p] = m[3] * x + m[4] * y + m[5] * z;
    out.b[p] = m[6] * x + m[7] * y + m[8] * z;
  }
}

/** Turns linear Display P3 into linear sRGB where it lies: what sRGB has not lies below 0 or above 1. */
export function lightFromDisplayP3(p: Picture): void {
  through(toSrgb, p, p);
}

/** A picture's light in the primaries of Display P3. */
export function lightInDisplayP3(p: Picture): Picture {
  const out: Picture = { ...p, r: new Float32Array(p.r.length), g: new Float32Array(p.r.length), b: new Float32Array(p.r.length) };
  through(displayP3FromSrgb, p, out);
  return out;
}

/** Whether a picture has colours that sRGB has not: more than so many in a hundred thousand pixels, by more than a code. */
export function leavesSrgb({ r, g, b }: Picture, least = 5): boolean {
  const limit = 0.004;
  let count = 0;
  for (let p = 0; p < r.length; p++) if (r[p] < -limit || g[p] < -limit || b[p] < -limit) count++;
  return count * 1e5 > least * r.length;
}
