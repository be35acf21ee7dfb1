import type { Context } from '../context/context';
import type { Picture } from '../raster/plane';
import { discBlur } from './discBlur';
import { blurDiscAt, type Lens } from './thinLens';

/**
 * A card at one distance as the lens sees it: its light, before clipping, spread into discs of the diameter that
 * the thin lens gives. Opaque cards go on beyond their border; cards with opacity stand free.
 *
 * @param distance of the card, m
 * @param fullWidth width of the full-size frame, px, which falls on the whole sensor
 * @throws AbortError
 */
export function defocus(card: Picture, distance: number, lens: Lens, fullWidth: number, context: Context): Promise<Picture> {
  return discBlur(card, blurDiscAt(lens, distance, fullWidth) * context.scale, context);
}
