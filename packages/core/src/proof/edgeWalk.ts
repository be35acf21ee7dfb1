import { gaussian } from '../raster/filter';
import type { Plane } from '../raster/plane';

/** One stretch of the subject's edge. */
export interface EdgePlace {
  /** Its middle, px of the full-size shot. */
  x: number;
  y: number;
  /** Direction across the edge towards the outside, of length 1. */
  outX: number;
  outY: number;
}

/**
 * Places along the edge where opacity crosses one half, about `spacing` full-size pixels apart, in reading order of
 * the clock around the subject.
 *
 * @param scale pixels of the matte per full-size pixel
 */
export function edgeWalk(matte: Plane, scale: number, spacing = 90): EdgePlace[] {
  const { width, height, data } = matte;
  const smooth = gaussian(matte, Math.max(1, 3 * scale)).data;
  const gap = spacing * scale;
  const cell = Math.max(1, gap);
  const columns = Math.ceil(width / cell) + 1;
  const taken = new Map<number, EdgePlace[]>();
  const out: EdgePlace[] = [];
  let [sumX, sumY] = [0, 0];
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const p = y * width + x;
      const inside = data[p] >= 0.5;
      if (inside === data[p + 1] >= 0.5 && inside === data[p + width] >= 0.5) continue;
      const gx = smooth[p + 1] - smooth[p - 1];
      const gy = smooth[p + width] - smooth[p - width];
      const steepness = Math.hypot(gx, gy);
      if (steepness < 0.02) continue;
      const cx = Math.floor(x / cell);
      const cy = Math.floor(y / cell);
      let near = false;
      for (let dy = -1; dy <= 1 && !near; dy++) {
        for (let dx = -1; dx <= 1 && !near; dx++) {
          near = (taken.get((cy + dy) * columns + cx + dx) ?? []).some((q) => Math.hypot(q.x * scale - x, q.y * scale - y) < gap);
        }
      }
      if (near) continue;
      const place = { x: (x + 0.5) / scale, y: (y + 0.5) / scale, outX: -gx / steepness, outY: -gy / steepness };
      taken.set(cy * columns + cx, [...(taken.get(cy * columns + cx) ?? []), place]);
      out.push(place);
      sumX += place.x;
      sumY += place.y;
    }
  }
  const [mx, my] = [sumX / out.length, sumY / out.length];
  return out.sort((a, b) => Math.atan2(a.y - my, a.x - mx) - Math.atan2(b.y - my, b.x - mx));
}
