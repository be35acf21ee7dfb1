import { makePlane, type Plane } from '../raster/plane';
import { strokeCover, type Stroke } from '../raster/strokeCover';

/** Where a grade works. Lengths in px of the full-size picture it works on. */
export interface Limit {
  /** A kept matte, by its identifier. */
  matte: string | null;
  /** Full effect at the first point, none at the second, evenly between. */
  graduated: { from: readonly [number, number]; to: readonly [number, number] } | null;
  painted: readonly Stroke[];
  /** Outside instead of inside. */
  outside: boolean;
}

/** No limit: all of the picture. */
export const everywhere: Limit = { matte: null, graduated: null, painted: [], outside: false };

/**
 * Share of an effect at each pixel: the kept matte times the graduation, and what is painted added to it. Nothing when
 * there is no limit.
 *
 * @param kept the matte, in the picture's size
 */
export function limitPlane(limit: Limit, width: number, height: number, scale: number, kept?: Plane): Plane | undefined {
  const { graduated, painted, outside } = limit;
  if (!kept && !graduated && painted.length === 0) return undefined;
  const out = makePlane(width, height, kept || graduated ? 1 : 0);
  if (kept) out.data.set(kept.data);
  if (graduated) {
    const [x0, y0] = graduated.from.map((v) => v * scale);
    const [dx, dy] = [graduated.to[0] * scale - x0, graduated.to[1] * scale - y0];
    const length2 = Math.max(1e-6, dx * dx + dy * dy);
    for (let y = 0, p = 0; y < height; y++) {
      for (let x = 0; x < width; x++, p++) {
        const t = Math.min(1, Math.max(0, ((x + 0.5 - x0) * dx + (y + 0.5 - y0) * dy) / length2));
        out.data[p] *= 1 - t * t * (3 - 2 * t);
      }
    }
  }
  for (const stroke of painted) {
    const cover = strokeCover(stroke, width, height, scale);
    if (!cover) continue;
    const { left, top, plane } = cover;
    for (let y = 0, k = 0; y < plane.height; y++) {
      for (let p = (y + top) * width + left, end = p + plane.width; p < end; p++, k++) {
        out.data[p] = 1 - (1 - out.data[p]) * (1 - plane.data[k]);
      }
    }
  }
  if (outside) for (let p = 0; p < out.data.length; p++) out.data[p] = 1 - out.data[p];
  return out;
}
