import { coverUnit } from '../../placement/place';
import type { Recipe } from '../../recipe/recipe';
import type { Check, CheckId } from './check';
import type { SizeOf } from './framing';

/** A change that is measured to mend a check, and what it does, for people. */
export interface Cure {
  says: string;
  edit: (recipe: Recipe) => Recipe;
}

const eachSubject =
  (change: (s: Recipe['subjects'][number]) => Recipe['subjects'][number]) =>
  (r: Recipe): Recipe => ({
    ...r,
    subjects: r.subjects.map(change),
  });

const matched =
  (property: keyof Recipe['match']['strengths']): ((recipe: Recipe) => Recipe) =>
  (r) => ({
    ...r,
    match: { ...r.match, strengths: { ...r.match.strengths, [property]: 1 } },
  });

/** Specks and pinholes are taken away by one number. */
const withoutSpecks: Cure = {
  says: 'Take specks and pinholes of up to 24 px² away',
  edit: eachSubject((s) => ({ ...s, trim: { ...s.trim, specks: Math.max(24, s.trim.specks) } })),
};

/** The one press that mends a check, where there is one. */
export function cureOf(check: Check, recipe: Recipe, sizeOf: SizeOf): Cure | undefined {
  if (check.verdict !== 'look' && check.verdict !== 'wrong') return undefined;
  return cures[check.id]?.(check, recipe, sizeOf);
}

const cures: Partial<Record<CheckId, (check: Check, recipe: Recipe, sizeOf: SizeOf) => Cure | undefined>> = {
  'matte-specks': () => withoutSpecks,
  'matte-holes': () => withoutSpecks,
  'edge-residue': () => ({
    says: 'Draw the edge in by one pixel',
    edit: eachSubject((s) => ({ ...s, trim: { ...s.trim, shift: Math.max(-20, s.trim.shift - 1) } })),
  }),
  'edge-halo': (_, recipe) => {
    const [s] = recipe.subjects;
    const grow = s.plate.grow === 'auto' ? 12 : s.plate.grow + 8;
    return { says: `Grow the hole behind the subject to ${grow} px`, edit: eachSubject((x) => ({ ...x, plate: { ...x.plate, grow } })) };
  },
  'plate-residue': ({ figure }, recipe) => {
    const [s] = recipe.subjects;
    const grow = Math.round((s.plate.grow === 'auto' ? 6 : s.plate.grow) + 2 * (figure ?? 2) + 2);
    return { says: `Grow the hole to ${grow} px`, edit: eachSubject((x) => ({ ...x, plate: { ...x.plate, grow } })) };
  },
  'plate-repeats': () => ({
    says: 'Fill the hole with another try',
    edit: eachSubject((s) => {
      const { fill } = s.plate;
      return 'tries' in fill ? { ...s, plate: { ...s.plate, fill: { ...fill, tries: fill.tries + 1, taken: fill.tries + 1 } } } : s;
    }),
  }),
  'cast-gap': () => ({ says: 'Match the warmth', edit: matched('cast') }),
  'black-gap': () => ({ says: 'Match the darkest tones', edit: matched('black') }),
  'grain-gap': () => ({
    says: 'Put the shot’s grain back where it is missing',
    edit: (r) => ({ ...r, finish: { ...r.finish, grain: { ...r.finish.grain, back: 1 } } }),
  }),
  contact: () => ({
    says: 'Lay a soft shadow under the subject',
    edit: (r) => ({ ...r, match: { ...r.match, contact: { ...r.match.contact, strength: Math.max(0.45, r.match.contact.strength) } } }),
  }),
  banding: () => ({ says: 'Dissolve the steps', edit: (r) => ({ ...r, finish: { ...r.finish, dither: true } }) }),
  'frame-open': (_, recipe, sizeOf) => {
    const behind = recipe.cards.filter((c) => c.kind === 'plate' || c.kind === 'picture').sort((a, b) => b.distance - a.distance)[0];
    const size = behind && sizeOf(behind);
    if (!behind || !size) return undefined;
    const scene = recipe.subjects[0]?.size ?? recipe.frame;
    const unit = behind.kind === 'picture' ? coverUnit(size, scene.width, scene.height) : 1;
    const { frame } = recipe;
    // Turned, it must be larger still.
    const turned = ((Math.abs(behind.placement.turn) + Math.abs(frame.turn)) * Math.PI) / 180;
    const [c, s] = [Math.cos(turned), Math.sin(turned)];
    const wide = (frame.width * c + frame.height * s) / (size.width * unit);
    const high = (frame.height * c + frame.width * s) / (size.height * unit);
    const scale = Math.ceil(100 * 1.01 * Math.max(wide, high)) / 100;
    return {
      says: `Show what stands behind ${scale} times as large, in the middle of the frame`,
      edit: (r) => ({
        ...r,
        cards: r.cards.map((card) =>
          card.id === behind.id
            ? { ...card, placement: { ...card.placement, x: frame.x, y: frame.y, scale: Math.max(scale, card.placement.scale) } }
            : card,
        ),
      }),
    };
  },
};
