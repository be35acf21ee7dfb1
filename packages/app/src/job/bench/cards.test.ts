import { newRecipe, readRecipe, type Card, type Recipe } from '@ritaglio/core';
import { cutTo } from '../stage/FramePart';
import { groundWith } from '../lens/DistancesPart';
import { lampCard } from '../lens/LampsPart';
import { across, distanceAt, lanesOf } from './Bench';
import { cardIn, discOf, nameOf, sizeOf, wayOf, wayOfLimit, wayOfShot, withCard, withoutCard, type NewCard } from './cards';

jest.mock('../../worker/renderer', () => ({ renderer: () => ({}) }));

const recipe = newRecipe('A goat', 'shot', 1800, 1200);
const sizes = new Map([['sky', { width: 900, height: 400 }]]);
const plain = (shot: string, size: { width: number; height: number }): Recipe['subjects'][number] =>
  newRecipe('', shot, size.width, size.height).subjects[0];
const added = (what: NewCard): { recipe: Recipe; card: Card } => {
  const made = withCard(recipe, what, plain);
  return { recipe: made.recipe, card: made.recipe.cards.find((c) => c.id === made.id)! };
};

describe('cards on the bench', () => {
  test.each<[NewCard, string]>([
    [{ kind: 'lettering' }, 'Lanterns'],
    [{ kind: 'glow' }, 'Glow'],
    [{ kind: 'picture', picture: 'sky', size: { width: 90, height: 40 }, name: '', blend: 'screen' }, 'Element'],
    [{ kind: 'picture', picture: 'sky', size: { width: 90, height: 40 }, name: 'Clouds' }, 'Clouds'],
    [{ kind: 'subject', shot: 'sky', size: { width: 900, height: 400 }, name: '' }, 'Subject'],
  ])('%j is a valid one, called by what it is', (what, name) => {
    const made = added(what);
    expect(readRecipe(JSON.parse(JSON.stringify(made.recipe)))).toEqual(made.recipe);
    expect(nameOf(made.card)).toBe(name);
  });

  test('a second of a kind has a name of its own, and can be taken off again', () => {
    const once = withCard(recipe, { kind: 'glow' }, plain);
    const twice = withCard(once.recipe, { kind: 'glow' }, plain);
    expect(twice.id).not.toBe(once.id);
    expect(withoutCard(withoutCard(twice.recipe, twice.id), once.id)).toEqual(recipe);
  });

  test('a further subject goes with its last card, the first stays', () => {
    const made = withCard(recipe, { kind: 'subject', shot: 'sky', size: { width: 9, height: 4 }, name: '' }, plain);
    expect(made.recipe.subjects).toHaveLength(2);
    expect(withoutCard(made.recipe, made.id).subjects).toHaveLength(1);
    expect(withoutCard(recipe, 'card-subject').subjects).toHaveLength(1);
  });

  test('points go from the frame to the card and back, pictures cover the shot', () => {
    const { recipe: r, card } = added({ kind: 'picture', picture: 'sky', size: { width: 90, height: 40 }, name: '' });
    expect(sizeOf(r, card, sizes)).toEqual({ width: 900, height: 400 });
    const way = wayOf(r, { ...card, placement: { ...card.placement, x: 40, turn: 20, scale: 0.5 } }, sizes);
    const back = way.on(way.in(100, 50).x, way.in(100, 50).y);
    expect(back.x).toBeCloseTo(100, 6);
    expect(back.y).toBeCloseTo(50, 6);
    const plainWay = wayOf(r, card, sizes);
    expect(plainWay.in(0, 0).y).toBeCloseTo(0, 6);
    expect(plainWay.in(0, 0).x).toBeLessThan(0);
  });

  test('the shot lies about the middle wherever its card was put, and moves with the frame', () => {
    const moved = recipe.cards.map((c) => ({ ...c, placement: { ...c.placement, x: 300, turn: 40 } }));
    const framed = { ...recipe, cards: moved, frame: { ...recipe.frame, x: 50 } };
    expect(wayOfShot(framed).in(900, 600)).toMatchObject({ x: 850, y: 600 });
    expect(wayOfShot(framed).on(850, 600)).toEqual({ x: 900, y: 600 });
  });

  test('a blur of its own is said instead of the lens’s', () => {
    const [plate] = recipe.cards;
    expect(discOf(recipe, plate)).toBeGreaterThan(20);
    expect(discOf(recipe, { ...plate, blur: 4 })).toBe(4);
  });

  test('what is picked out is found, or else what is behind', () => {
    expect(cardIn(recipe, 'card-subject')?.kind).toBe('subject');
    expect(cardIn(recipe, undefined)?.kind).toBe('plate');
    expect(lampCard(recipe.cards)?.id).toBe('card-background');
    expect(lampCard(recipe.cards.map((c) => ({ ...c, hidden: true })))).toBeUndefined();
  });
});

describe('the rail', () => {
  test('is logarithmic, and its places lead back', () => {
    expect(across(2) - across(1)).toBeCloseTo(across(20) - across(10), 6);
    for (const d of [0.7, 3, 12.5, 150]) expect(Math.abs(distanceAt(across(d)) - d)).toBeLessThan(0.006);
    expect(distanceAt(-500)).toBe(0.6);
    expect(across(1e6)).toBe(across(200));
  });

  test('names of cards that stand close together are not over each other', () => {
    const near = recipe.cards.map((c, i) => ({ ...c, distance: 3 + i / 10 }));
    expect(new Set(lanesOf(near).values()).size).toBe(2);
    expect([...lanesOf(recipe.cards).values()]).toEqual([0, 0]);
  });
});

test('a frame cut to a ratio is the largest that fits', () => {
  const frame = { width: 1800, height: 1200, x: 4, y: 5, turn: 1 };
  expect(cutTo(frame, 1)).toEqual({ ...frame, width: 1200, height: 1200 });
  expect(cutTo(frame, 2)).toEqual({ ...frame, width: 1800, height: 900 });
});

test('a ground line stays below its horizon', () => {
  const ground = { line: 900, horizon: 400, distance: 3 };
  expect(groundWith(ground, 'line', 100).line).toBeGreaterThan(400);
  expect(groundWith(ground, 'horizon', 1000).horizon).toBeLessThan(900);
});

test('a limit is drawn on the card’s own picture, of letters and of the whole on the frame', () => {
  const made = added({ kind: 'lettering' });
  expect(wayOfLimit(made.recipe, made.card, sizes).on(40, 50)).toEqual({ x: 40, y: 50 });
  expect(wayOfLimit(recipe, undefined, sizes).in(40, 50)).toEqual({ x: 40, y: 50 });
  const sky = added({ kind: 'picture', picture: 'sky', size: { width: 90, height: 40 }, name: '' });
  const at = wayOfLimit(sky.recipe, sky.card, sizes);
  expect(at.on(900, 600)).toEqual(wayOf(sky.recipe, sky.card, sizes).on(900, 600));
  expect(at.in(450, 200)).toMatchObject({ x: 900, y: 600 });
});
