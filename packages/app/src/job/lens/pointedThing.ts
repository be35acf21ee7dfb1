import { newRecipe, type Card, type Region } from '@ritaglio/core';
import { toast } from 'sonner';
import { renderer } from '../../worker/renderer';
import { sizeOf, type Sizes } from '../bench/cards';
import type { JobStore } from '../jobStore';
import { momentNow } from '../moments';
import { workingSide } from '../workingSide';
import { say } from '../../words/say';

/** A thing on a card that is pressed, or has a loop drawn around it, as regions of the card's own picture; none when nothing stands apart there. */
export async function pointedThing(store: JobStore, card: Card, points: [number, number][], sizes: Sizes): Promise<Region[]> {
  const now = momentNow(store.getState().recipe);
  const { width, height } = sizeOf(now, card, sizes);
  // A plate is looked at where it comes from, its subject's shot; another picture as if it were a shot.
  const recipe = card.kind === 'picture' ? { ...newRecipe('', card.picture, width, height), multiplied: now.multiplied } : now;
  const subject = card.kind === 'plate' ? card.subject : undefined;
  const found = await renderer().thing(recipe, Math.min(1, Math.min(900, workingSide()) / Math.max(width, height)), points, subject);
  // A loop in which nothing stands apart is meant as it is drawn.
  if (found.length === 0 && points.length > 2) return [{ radius: 1, points, filled: true }];
  if (found.length === 0) toast(say('Nothing stands apart from its surroundings there: draw a loop around the thing.'));
  return found;
}
