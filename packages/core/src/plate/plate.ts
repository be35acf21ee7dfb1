import type { Context } from '../context/context';
import type { Picture, Plane } from '../raster/plane';
import { holeOf, suggestGrow } from './hole';
import { smoothFill } from './smooth';

/** How the plate is made. Lengths in pixels of the full-size shot. */
export interface PlateParams {
  /** How the hole is made up. */
  fill: 'smooth';
  /** How far the hole reaches beyond the matte, px; `auto` takes the proposal computed from the edge. */
  grow: number | 'auto';
  /** Width of the transition from invented to photographed, px. */
  feather: number;
}

/** A plate and what was invented of it. */
export interface PlateProduct {
  plate: Picture;
  /** 0 (photographed) to 1 (invented). */
  hole: Plane;
  /** The growth used and the measured softness behind the proposal, px of the full-size shot. */
  grow: number;
  suggested: number;
  softness: number;
}

/**
 * The shot with the subject gone.
 *
 * @param behind the shot with the subject unmixed from the half-covered pixels, see `edgeColour`
 * @throws RangeError when sizes differ; AbortError
 */
export async function plate(behind: Picture, matte: Plane, params: PlateParams, context: Context): Promise<PlateProduct> {
  const proposal = suggestGrow(matte);
  const suggested = proposal.grow / context.scale;
  const grow = params.grow === 'auto' ? suggested : params.grow;
  const hole = holeOf(matte, grow * context.scale, params.feather * context.scale);
  const filled = await smoothFill(behind, hole, context);
  return { plate: filled, hole, grow, suggested, softness: proposal.softness / context.scale };
}
