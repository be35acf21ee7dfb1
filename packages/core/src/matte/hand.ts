import { gaussian } from '../raster/filter';
import type { Plane } from '../raster/plane';

/** What a tip does to the matte under it. */
export type HandTip = 'opaque' | 'clear' | 'soften';

/** One stroke painted on the matte by hand, lengths in pixels of the full-size shot. */
export interface HandStroke {
  tip: HandTip;
  /** Half the tip's width. */
  radius: number;
  /** Share of the radius that has the full effect, 0 to 1; the rest falls off to nothing. */
  hardness: number;
  /** Strength of the whole stroke, 0 to 1; going over a place twice in one stroke adds nothing. */
  opacity: number;
  /** Points in order, each x, y and optionally the pen's pressure, 0 to 1, which weakens the stroke there. */
  points: readonly (readonly [number, number] | readonly [number, number, number])[];
}

/**
 * The matte with strokes painted on it, oldest first. No strokes: the plane itself.
 *
 * @param scale pixels of the matte per pixel of the full-size shot
 */
export function paintByHand(matte: Plane, strokes: readonly HandStroke[], scale: number): Plane {
  if (strokes.length === 0) return matte;
  const { width, height } = matte;
  const data = matte.data.slice();
  for (const stroke of strokes) {
    const cover = strokeCover(stroke, width, height, scale);
    if (!cover) continue;
    const { left, top, plane } = cover;
    const soft = stroke.tip === 'soften' ? softened(data, width, height, cover, Math.max(0.8, 0.25 * stroke.radius * scale)) : undefined;
    for (let y = 0; y < plane.height; y++) {
      for (let x = 0; x < plane.width; x++) {
        const w = plane.data[y * plane.width + x];
        if (w <= 0) continue;
        const p = (top + y) * width + left + x;
        const goal = stroke.tip === 'opaque' ? 1 : stroke.tip === 'clear' ? 0 : soft![y * plane.width + x];
        data[p] += w * (goal - data[p]);
      }
    }
  }
  return { width, height, data };
}

/** A part of the picture and a plane over it. */
interface Patch {
  left: number;
  top: number;
  plane: Plane;
}

/** Strength of a stroke around it, 0 to 1: the strongest of its points and the ways between them. */
function strokeCover(stroke: HandStroke, width: number, height: number, scale: number): Patch | undefined {
  const radius = Math.max(0.5, stroke.radius * scale);
  const points = stroke.points.map((p) => [p[0] * scale, p[1] * scale, p[2] ?? 1]);
  const left = Math.max(0, Math.floor(Math.min(...points.map((p) => p[0])) - radius));
  const top = Math.max(0, Math.floor(Math.min(...points.map((p) => p[1])) - radius));
  const right = Math.min(width - 1, Math.ceil(Math.max(...points.map((p) => p[0])) + radius));
  const bottom = Math.min(height - 1, Math.ceil(Math.max(...points.map((p) => p[1])) + radius));
  if (right < left || bottom < top) return undefined;
  const plane: Plane = {
    width: right - left + 1,
    height: bottom - top + 1,
    data: new Float32Array((right - left + 1) * (bottom - top + 1)),
  };
  const hard = Math.min(1, Math.max(0, stroke.hardness));
  points.forEach(([x1, y1, s1], i) => {
    const [x0, y0, s0] = points[Math.max(0, i - 1)];
    const length2 = (x1 - x0) ** 2 + (y1 - y0) ** 2;
    for (let y = Math.max(top, Math.floor(Math.min(y0, y1) - radius)); y <= Math.min(bottom, Math.ceil(Math.max(y0, y1) + radius)); y++) {
      for (let x = Math.max(left, Math.floor(Math.min(x0, x1) - radius)); x <= Math.min(right, Math.ceil(Math.max(x0, x1) + radius)); x++) {
        const [px, py] = [x + 0.5 - x0, y + 0.5 - y0];
        const t = length2 > 0 ? Math.min(1, Math.max(0, (px * (x1 - x0) + py * (y1 - y0)) / length2)) : 0;
        const away = Math.hypot(px - t * (x1 - x0), py - t * (y1 - y0));
        // A hard tip still ends over one pixel, so that its rim is not a staircase.
        const fall = Math.max(1, radius * (1 - hard));
        const u = Math.min(1, Math.max(0, (radius + 0.5 - away) / fall));
        const strength = stroke.opacity * (s0 + t * (s1 - s0)) * u * u * (3 - 2 * u);
        const q = (y - top) * plane.width + x - left;
        if (strength > plane.data[q]) plane.data[q] = strength;
      }
    }
  });
  return { left, top, plane };
}

/** The matte under a patch, blurred, with what lies around the patch taken into account. */
function softened(data: Float32Array, width: number, height: number, { left, top, plane }: Patch, sigma: number): Float32Array {
  const rim = Math.ceil(3 * sigma);
  const [l, t] = [Math.max(0, left - rim), Math.max(0, top - rim)];
  const [r, b] = [Math.min(width, left + plane.width + rim), Math.min(height, top + plane.height + rim)];
  const part: Plane = { width: r - l, height: b - t, data: new Float32Array((r - l) * (b - t)) };
  for (let y = t; y < b; y++) part.data.set(data.subarray(y * width + l, y * width + r), (y - t) * part.width);
  const soft = gaussian(part, sigma);
  const out = new Float32Array(plane.data.length);
  for (let y = 0; y < plane.height; y++) {
    const from = (top + y - t) * part.width + left - l;
    out.set(soft.data.subarray(from, from + plane.width), y * plane.width);
  }
  return out;
}
