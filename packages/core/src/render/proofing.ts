import type { Context } from '../runtime/context';
import { signedDisc } from '../lens/thinLens';
import type { Banding } from '../match/banding';
import type { Side } from '../match/sides';
import type { PlateProduct } from '../plate/plate';
import type { Residue } from '../plate/residue';
import type { Showing } from '../plate/showing';
import {
  checkBanding,
  checkClipping,
  checkContact,
  checkEnlarged,
  checkFlicker,
  checkFollowed,
  checkFrameOpen,
  checkHalo,
  checkPlateResidue,
  checkRepeats,
  checkResidueInEdge,
  checkShowing,
  checkSides,
  checkSpecks,
  checkTorn,
  unknown,
  type Check,
  type FlickerAt,
  type SizeOf,
} from '../proof/checks/index';
import type { EdgePlace } from '../proof/edgeWalk';
import { pause } from '../runtime/context';
import type { Picture, Plane } from '../raster/plane';
import { defaultAdjustments, defaultFinish, defaultMatch } from '../recipe/grades';
import type { Card, Recipe } from '../recipe/recipe';

/** All that checks are made from. */
export interface ProofInputs {
  recipe: Recipe;
  matte: Plane;
  edge: readonly EdgePlace[];
  plate: PlateProduct;
  residue: Residue;
  showing: Showing;
  sides: { subject: Side; background: Side; banding: Banding; ownPlate: boolean };
  finished: Picture;
  /** The subject's opacity in the frame. */
  cover: Plane;
  /** The finished picture without any grade; nothing when there is none. */
  ungraded: Picture | undefined;
  certainty: readonly number[] | undefined;
  flickering: readonly FlickerAt[] | undefined;
  sizeOf: SizeOf;
}

/** Every check of a picture, in the order in which they are told. @throws AbortError */
export async function proofOf(inputs: ProofInputs, context: Context): Promise<Check[]> {
  const { recipe, matte, edge, plate, residue, showing, sides, finished, cover, ungraded, sizeOf } = inputs;
  const { scale } = context;
  const subject = matte.data.some((a) => a > 0.5);
  const { lens } = recipe;
  const discOf = (card: Card): number => card.blur ?? Math.abs(signedDisc(lens, card.distance, lens.across));
  const made: (() => Check | Check[])[] = [
    () => checkResidueInEdge(edge),
    () => checkHalo(finished, cover, scale),
    () => checkTorn(matte, scale),
    () => (subject ? checkSpecks(matte, scale, 'specks') : unknown('matte-specks', nothing)),
    () => (subject ? checkSpecks(matte, scale, 'holes') : unknown('matte-holes', nothing)),
    () => (subject ? checkPlateResidue(plate.left, residue) : unknown('plate-residue', nothing)),
    () => (subject ? checkShowing(showing) : unknown('plate-shows', nothing)),
    () => (subject ? checkRepeats(plate.repeats, showing, scale) : unknown('plate-repeats', nothing)),
    () => checkSides(sides.subject, sides.background, sides.ownPlate),
    () => checkContact(finished, cover, scale),
    () => checkBanding(sides.banding),
    () => checkClipping(finished, ungraded, scale),
    () => checkEnlarged(recipe, sizeOf, discOf),
    () => checkFrameOpen(recipe, sizeOf),
    () => checkFollowed(inputs.certainty),
    () => checkFlicker(inputs.flickering, scale),
  ];
  const out: Check[] = [];
  for (const [i, make] of made.entries()) {
    await pause(context, 'Checking', i / made.length);
    out.push(...[make()].flat());
  }
  return out;
}

const nothing = 'There is no subject yet.';

/** The recipe without match, grades and finish; nothing when it has none. */
export function withoutGrades(recipe: Recipe): Recipe | undefined {
  const { references, glow } = recipe.match;
  const plain: Recipe = {
    ...recipe,
    match: { ...defaultMatch, references, glow },
    finish: defaultFinish,
    cards: recipe.cards.map((c): Card => ({ ...c, ...defaultAdjustments })),
  };
  const graded = (r: Recipe): unknown => [r.match, r.finish, r.cards.map((c) => [c.grade, c.detail])];
  return JSON.stringify(graded(plain)) === JSON.stringify(graded(recipe)) ? undefined : plain;
}
