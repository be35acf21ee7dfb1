import { newPlate } from './defaults';
import type { Recipe, SubjectRecipe } from './recipe';

/**
 * A job's recipe for another shot of the same set: background, lens, match and finish stay, what was drawn on the old shot goes. Cards and
 * frame keep their place in shares of the shot.
 *
 * @param shot identifier of the picture, and its full size, px
 * @param marks what the subject is; nothing where it is cut by a screen or a plate
 */
export function forShot(recipe: Recipe, shot: string, size: { width: number; height: number }, marks: SubjectRecipe['marks'] = []): Recipe {
  const [first] = recipe.subjects;
  const { clear, opaque, spill, colour } = first.screen;
  const ratio = size.width / first.size.width;
  const down = size.height / first.size.height;
  const { frame } = recipe;
  const { fill, feather } = first.plate;
  // A fill that was drawn on the old shot is made up anew.
  const plainFill = fill.kind === 'borrowed' ? newPlate().fill : 'tries' in fill ? { ...fill, tries: 1, taken: 1 } : fill;
  return {
    ...recipe,
    ...{ accepted: [], time: null, clips: [], keys: [] },
    frame: {
      ...frame,
      width: Math.max(1, Math.round(frame.width * ratio)),
      height: Math.max(1, Math.round(frame.height * down)),
      x: frame.x * ratio,
      y: frame.y * down,
    },
    lens: { ...recipe.lens, across: recipe.lens.across * ratio },
    match: { ...recipe.match, references: { subject: null, background: null } },
    subjects: [
      {
        ...first,
        ...{ shot, size, marks, hand: [], garbage: [], with: [] },
        screen: { clear, opaque, spill, colour },
        plate: { ...newPlate(), fill: plainFill, feather },
      },
    ],
    cards: recipe.cards
      .filter((c) => (c.kind !== 'subject' && c.kind !== 'plate') || c.subject === first.id)
      .map((c) => ({ ...c, placement: { ...c.placement, x: c.placement.x * ratio, y: c.placement.y * down } })),
  };
}
