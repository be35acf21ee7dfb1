import type { Plane } from '../raster/plane';
import { paintByHand, type HandStroke } from './hand';
import { rasterShapes, type Shape } from './shapes';
import { trimMatte, type Trim } from './trim';

/** What is done to an opacity after it was found. */
export interface Finish {
  /** Rough shapes outside which nothing can be subject; none: anywhere. */
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
    const allowed = rasterShapes(finish.garbage, matte.width, matte.height, scale);
    out = { ...matte, data: matte.data.map((v, p) => v * allowed.data[p]) };
  }
  out = trimMatte(out, finish.trim, scale);
  return paintByHand(out, finish.hand ?? [], scale, out !== matte);
}
