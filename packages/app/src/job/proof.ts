import { inOrderOfConcern, isAccepted, type Check, type CheckPlace, type Recipe } from '@ritaglio/core';
import { wayOf, type Sizes } from './bench/cards';

/** A place of a check, where it lies in the frame. */
export interface ProofPlace {
  check: Check;
  /** Its middle, px of the full-size frame. */
  x: number;
  y: number;
  /** The frame of the clip that it is on, where that is another. */
  frame?: number;
}

/** All places of checks that are not good and not accepted, check by check, the worst first. */
export function placesToWalk(checks: readonly Check[], recipe: Recipe, sizes: Sizes): ProofPlace[] {
  return inOrderOfConcern(checks, recipe.accepted)
    .filter((c) => (c.verdict === 'wrong' || c.verdict === 'look') && !isAccepted(c, recipe.accepted))
    .flatMap((check) => check.places.map((place) => ({ check, ...inFrame(place, recipe, sizes) })));
}

/** Where a place lies in the frame: what is of the shot lies where its subject's card is. */
function inFrame(place: CheckPlace, recipe: Recipe, sizes: Sizes): Omit<ProofPlace, 'check'> {
  const [x, y] = [place.x + place.width / 2, place.y + place.height / 2];
  const card = place.on === 'shot' ? recipe.cards.find((c) => c.kind === 'subject') : undefined;
  const at = card ? wayOf(recipe, card, sizes).in(x, y) : { x, y };
  return { ...at, ...(place.frame !== undefined && { frame: place.frame }) };
}

/** The recipe with a check accepted with a word, or no longer. */
export function withAccepted(recipe: Recipe, { id, figure = 0 }: Check, word: string | undefined): Recipe {
  const others = recipe.accepted.filter((a) => a.check !== id);
  return { ...recipe, accepted: word === undefined ? others : [...others, { check: id, word, figure }] };
}
