import {
  blurDiscAt,
  centred,
  coverUnit,
  defaultCard,
  lampsFor,
  placedPoint,
  throughCamera,
  unplacedPoint,
  wayTo,
  type Card,
  type Recipe,
  type SubjectRecipe,
  type Way,
} from '@ritaglio/core';
import { say } from '../../words/say';

/** A size in pixels. */
export interface Size {
  width: number;
  height: number;
}

export type Sizes = ReadonlyMap<string, Size>;

/** What a card is called on the bench. */
export function nameOf(card: Card): string {
  if (card.name) return card.name;
  if (card.kind === 'lettering') return card.text.trim() ? card.text.trim().slice(0, 16) : say('Lettering');
  if (card.kind === 'picture') return card.blend === 'normal' ? say('Background') : say('Element');
  return { subject: say('Subject'), plate: say('Plate'), glow: say('Glow') }[card.kind];
}

/** Diameter of a card's own blur disc, px of the full picture. */
export function discOf(recipe: Recipe, card: Card): number {
  return card.blur ?? blurDiscAt(recipe.lens, card.distance, recipe.lens.across);
}

/** The card that is picked out, or the one that a step is about otherwise. */
export function cardIn(recipe: Recipe, id: string | undefined): Card | undefined {
  return recipe.cards.find((c) => c.id === id) ?? recipe.cards.find((c) => c.kind === 'plate' || c.kind === 'picture') ?? recipe.cards[0];
}

/** Full size of what a card shows, px. Lettering and glows have the size they are given. */
export function sizeOf(recipe: Recipe, card: Card, sizes: Sizes): Size {
  if (card.kind === 'picture') return sizes.get(card.picture) ?? recipe.subjects[0].size;
  if (card.kind === 'lettering') return { width: card.size * Math.max(1, 0.55 * card.text.length), height: card.size };
  if (card.kind === 'glow') return { width: card.size, height: card.size };
  return recipe.subjects.find((s) => s.id === card.subject)?.size ?? recipe.frame;
}

/** How points of a card's full-size picture and of the full-size frame lead to each other; a card is taken as flat. */
export function wayOf(recipe: Recipe, card: Card, sizes: Sizes): Ways {
  const size = sizeOf(recipe, card, sizes);
  const scene = recipe.subjects[0].size;
  const { camera, lens, frame } = recipe;
  const resting = wayTo(size, card.kind === 'picture' ? coverUnit(size, scene.width, scene.height) : 1, card.placement, frame, 1);
  return ways(size, throughCamera(resting, card.distance, camera, lens, frame, 1) ?? resting);
}

/** The way between the frame and what a grade's limit is drawn on: a card's own picture, or the frame, in which letters and glows are made. */
export function wayOfLimit(recipe: Recipe, card: Card | undefined, sizes: Sizes): Pick<Ways, 'on' | 'in'> {
  const same = (x: number, y: number): Point => ({ x, y });
  return !card || card.kind === 'lettering' || card.kind === 'glow' ? { on: same, in: same } : wayOf(recipe, card, sizes);
}

/** The same for the shot itself, which lies about the scene's middle wherever its subject's card was put. */
export function wayOfShot({ subjects, frame }: Recipe): Ways {
  return ways(subjects[0].size, wayTo(subjects[0].size, 1, centred, frame, 1));
}

/** A size, and the ways on to what has it and into the frame. */
interface Ways {
  size: Size;
  on: (x: number, y: number) => Point;
  in: (x: number, y: number) => Point;
}

function ways(size: Size, way: Way): Ways {
  return { size, in: (x, y) => placedPoint(way, size, x, y), on: (x, y) => unplacedPoint(way, size, x, y) };
}

interface Point {
  x: number;
  y: number;
}

function freshId(recipe: Recipe, kind: string): string {
  let n = 1;
  while (recipe.cards.some((c) => c.id === `${kind}-${n}`)) n++;
  return `${kind}-${n}`;
}

/** Something new on the bench. A second subject comes with a shot of its own. */
export type NewCard =
  | { kind: 'picture'; picture: string; size: Size; blend?: Card['blend']; name: string }
  | { kind: 'lettering' }
  | { kind: 'glow' }
  | { kind: 'subject'; shot: string; size: Size; name: string };

/** The recipe with a new card: elements and lettering before what is behind, a little nearer than the subject or farther. @returns also its identifier */
export function withCard(
  recipe: Recipe,
  what: NewCard,
  plain: (shot: string, size: Size) => SubjectRecipe,
): { recipe: Recipe; id: string } {
  const id = freshId(recipe, what.kind);
  const subject = recipe.cards.find((c) => c.kind === 'subject')?.distance ?? 3;
  const base = { ...defaultCard, id, placement: centred };
  if (what.kind === 'picture') {
    const { picture, size, blend = 'normal', name } = what;
    const card: Card = { ...base, kind: 'picture', picture, matte: null, lamps: lampsFor(size), blend, name, distance: subject * 0.75 };
    return { id, recipe: { ...recipe, cards: [...recipe.cards, card] } };
  }
  if (what.kind === 'lettering') {
    const size = Math.round(recipe.frame.height / 7);
    const words = { text: say('Lanterns'), font: 'schibsted-bold', size, spacing: 0, colour: '#fff4e0' };
    const card: Card = { ...base, kind: 'lettering', ...words, distance: subject * 1.6 };
    return { id, recipe: { ...recipe, cards: [...recipe.cards, card] } };
  }
  if (what.kind === 'glow') {
    const card: Card = {
      ...base,
      kind: 'glow',
      size: recipe.frame.width / 3,
      colour: '#ffd9a0',
      lift: 0,
      opacity: 0.5,
      blend: 'screen',
      distance: subject * 1.3,
    };
    return { id, recipe: { ...recipe, cards: [...recipe.cards, card] } };
  }
  let n = recipe.subjects.length + 1;
  while (recipe.subjects.some((s) => s.id === `subject-${n}`)) n++;
  const made = { ...plain(what.shot, what.size), id: `subject-${n}` };
  const card: Card = { ...base, kind: 'subject', subject: made.id, name: what.name, distance: subject * 1.2 };
  return { id, recipe: { ...recipe, subjects: [...recipe.subjects, made], cards: [...recipe.cards, card] } };
}

/** The recipe without a card, and without a further subject that stood nowhere else. The first subject stays. */
export function withoutCard(recipe: Recipe, id: string): Recipe {
  const cards = recipe.cards.filter((c) => c.id !== id);
  const used = (s: SubjectRecipe): boolean => cards.some((c) => (c.kind === 'subject' || c.kind === 'plate') && c.subject === s.id);
  return { ...recipe, cards, subjects: recipe.subjects.filter((s, i) => i === 0 || used(s)) };
}
