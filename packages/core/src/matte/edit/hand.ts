import { copyOf } from '../../runtime/parallelFor';
import { gaussian } from '../../raster/filter';
import type { Plane } from '../../raster/plane';
import { strokeCover, type Cover, type Stroke } from '../../raster/strokeCover';

/** What a tip does to the matte under it. */
export type HandTip = 'opaque' | 'clear' | 'soften';

/** One stroke painted on the matte by hand. */
export interface HandStroke extends Stroke {
  tip: HandTip;
}

/**
 * The matte with strokes painted on it, oldest first. No strokes: the plane itself.
 *
 * @param scale pixels of the matte per pixel of the full-size shot
 * @param own the plane is painted on, not a copy of it
 */
export function paintByHand(matte: Plane, strokes: readonly HandStroke[], scale: number, own = false): Plane {
  if (strokes.length === 0) return matte;
  const { width, height } = matte;
  const data = own ? matte.data : copyOf(matte.data);
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

/** The matte under a patch, blurred, with what lies around the patch taken into account. */
function softened(data: Float32Array, width: number, height: number, { left, top, plane }: Cover, sigma: number): Float32Array {
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
