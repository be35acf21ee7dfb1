import { fillPolygon } from './fillPolygon';
import { nearWay } from './nearWay';
import { makePlane, type Plane } from './plane';

/** Points in order, each x, y and optionally the pen's pressure, 0 to 1; px of the full-size shot. */
export type Path = readonly (readonly [number, number] | readonly [number, number, number])[];

/** One stroke of a tip, lengths in pixels of the full-size shot. */
export interface Stroke {
  /** Half the tip's width. */
  radius: number;
  /** Share of the radius that has the full effect, 0 to 1; the rest falls off to nothing. */
  hardness: number;
  /** Strength of the whole stroke, 0 to 1; going over a place twice in one stroke adds nothing. */
  opacity: number;
  /** Pressure weakens the stroke there. */
  points: Path;
}

/** A drawn region: all that the points go around, or a stroke of a width. Lengths in pixels of the full-size shot. */
export interface Region {
  /** Half the stroke's width. */
  radius: number;
  points: Path;
  filled?: boolean;
}

/** A part of a picture and how much of each of its pixels is covered, 0 to 1. */
export interface Cover {
  left: number;
  top: number;
  plane: Plane;
}

/**
 * Strength of a stroke around it, 0 to 1: the strongest of its points and the ways between them. Nothing when it lies outside.
 *
 * @param scale pixels of the picture per pixel of the full-size shot
 */
export function strokeCover(stroke: Stroke, width: number, height: number, scale: number): Cover | undefined {
  const radius = Math.max(0.5, stroke.radius * scale);
  // A hard tip still ends over one pixel, so that its rim is not a staircase.
  const end = radius + 0.5;
  const points = stroke.points.map((p) => [p[0] * scale, p[1] * scale, p[2] ?? 1]);
  const left = Math.max(0, Math.floor(Math.min(...points.map((p) => p[0])) - end));
  const top = Math.max(0, Math.floor(Math.min(...points.map((p) => p[1])) - end));
  const right = Math.min(width - 1, Math.ceil(Math.max(...points.map((p) => p[0])) + end));
  const bottom = Math.min(height - 1, Math.ceil(Math.max(...points.map((p) => p[1])) + end));
  if (right < left || bottom < top) return undefined;
  const plane: Plane = {
    width: right - left + 1,
    height: bottom - top + 1,
    data: new Float32Array((right - left + 1) * (bottom - top + 1)),
  };
  const hard = Math.min(1, Math.max(0, stroke.hardness));
  const fall = Math.max(1, radius * (1 - hard));
  points.forEach(([x1, y1, s1], i) => {
    const [x0, y0, s0] = points[Math.max(0, i - 1)];
    const [dx, dy] = [x1 - x0, y1 - y0];
    const length2 = dx * dx + dy * dy;
    const rows = nearWay(x0, y0, x1, y1, end, width, height);
    for (let k = 0, y = rows.top; k < rows.ends.length; k += 2, y++) {
      for (let x = rows.ends[k]; x < rows.ends[k + 1]; x++) {
        const px = x + 0.5 - x0;
        const py = y + 0.5 - y0;
        const t = length2 > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / length2)) : 0;
        const away2 = (px - t * dx) ** 2 + (py - t * dy) ** 2;
        if (away2 >= end * end) continue;
        const u = Math.min(1, (end - Math.sqrt(away2)) / fall);
        const strength = stroke.opacity * (s0 + t * (s1 - s0)) * u * u * (3 - 2 * u);
        const q = (y - top) * plane.width + x - left;
        if (strength > plane.data[q]) plane.data[q] = strength;
      }
    }
  });
  return { left, top, plane };
}

/** How much of each pixel the regions cover, 0 to 1. */
export function rasterRegions(regions: readonly Region[], width: number, height: number, scale: number): Plane {
  const out = makePlane(width, height);
  for (const region of regions) {
    if (region.filled) {
      const inside = fillPolygon(
        region.points.map((p) => [p[0] * scale, p[1] * scale]),
        width,
        height,
      ).data;
      for (let p = 0; p < inside.length; p++) if (inside[p] > out.data[p]) out.data[p] = Math.min(1, inside[p]);
    } else {
      const cover = strokeCover({ ...region, hardness: 1, opacity: 1 }, width, height, scale);
      if (!cover) continue;
      const { left, top, plane } = cover;
      for (let y = 0, k = 0; y < plane.height; y++) {
        for (let p = (y + top) * width + left, end = p + plane.width; p < end; p++, k++) {
          if (plane.data[k] > out.data[p]) out.data[p] = plane.data[k];
        }
      }
    }
  }
  return out;
}
