import type { Plane } from '../../raster/plane';
import { paintByHand, type HandStroke } from './hand';
import { rasterShapes, type Shape } from './shapes';
import { trimMatte, type Trim } from './trim';

/** What is done to an opacity after it was found. */
export interface Finish {
  /** Rough shapes: outside those that keep, and inside those that clear, nothing can be subject. */
  garbage?: readonly Shape[];
  /** Corrections of the edge. */
  trim: Trim;
  /** Strokes painted on the matte, oldest first. */
  hand?: readonly HandStroke[];
}

/**
 * Garbage matte, corrections of the edge, strokes by hand, in that order. With none of them the plane itself comes back.
 *
 * @param scale pixels of the matte per pixel of the full-size shot
 */
export function finishMatte(matte: Plane, finish: Finish, scale: number): Plane {
  let out = matte;
  if (finish.garbage?.length) {
    const [keeping, clearing] = [false, true].map((clears) => finish.garbage!.filter((s) => (s.clears ?? false) === clears));
    const raster = (shapes: readonly Shape[]): Float32Array => rasterShapes(shapes, matte.width, matte.height, scale).data;
    const inside = keeping.length > 0 ? raster(keeping) : undefined;
    const gone = clearing.length > 0 ? raster(clearing) : undefined;
    out = { ...matte, data: matte.data.map((v, p) => v * (inside ? inside[p] : 1) * (gone ? 1 - gone[p] : 1)) };
  }
  out = trimMatte(out, finish.trim, scale);
  return paintByHand(out, finish.hand ?? [], scale, out !== matte);
}
