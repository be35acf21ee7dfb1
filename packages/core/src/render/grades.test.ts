import { defaultContext } from '../runtime/context';
import { defaultLamps } from '../lens/lamps';
import { pictureOfMatte } from '../matte/edit/kept';
import { addGrain } from '../match/grain';
import { gapsOf } from '../match/sides';
import type { Picture } from '../raster/plane';
import { resizePicture, scaledSize } from '../raster/resize';
import { defaultCard } from '../recipe/defaults';
import { newRecipe, type Card, type Recipe } from '../recipe/recipe';
import { largestDifference, pictureFrom, planeFrom, softDisc } from '../testing/scenes';
import { ProductMemory } from './memory';
import type { PictureSource } from './products';
import { render } from './render';

const [w, h] = [192, 128];
const context = defaultContext();
const disc = softDisc(w, h, 96, 64, 36, 2);
/** A ball before a flat wall, both grainy. */
const shot = grainy(
  pictureFrom(w, h, (x, y) => {
    const a = disc.data[y * w + x];
    return [a * 0.4 + (1 - a) * 0.2, a * 0.25 + (1 - a) * 0.22, a * 0.15 + (1 - a) * 0.3];
  }),
);
const wall = pictureFrom(w, h, () => [0.1, 0.12, 0.2]);
const pictures: Record<string, Picture | Promise<Picture>> = {
  shot,
  wall,
  matte: pictureOfMatte(disc),
  left: pictureOfMatte(planeFrom(w, h, (x) => (x < w / 2 ? 1 : 0))),
};

function grainy(p: Picture): Promise<Picture> {
  return addGrain(p, new Array<number>(9).fill(1), 0.5, context);
}

const source: PictureSource = {
  key: (id) => id,
  load: async (id, scale) => {
    const p = await pictures[id];
    const { width, height } = scaledSize(p.width, p.height, scale);
    return resizePicture(p, width, height);
  },
};

const plain = newRecipe('A ball', 'shot', w, h);
const base: Recipe = {
  ...plain,
  subjects: [{ ...plain.subjects[0], with: [{ matte: 'm', how: 'instead' }] }],
  mattes: [
    { id: 'm', name: 'the ball', picture: 'matte' },
    { id: 'l', name: 'left', picture: 'left' },
  ],
  cards: [
    { ...defaultCard, id: 'wall', kind: 'picture', picture: 'wall', matte: null, lamps: defaultLamps, distance: 20 },
    { ...plain.cards[1], distance: 3 },
  ],
};
const at = (p: Picture, x: number, y: number): number => p.g[y * w + x];
/** What is only looked at is made once for all tests. */
const known = new ProductMemory();
const see = (r: Recipe): Promise<Picture> => render(r, source, 'composite', context, known);
const withCard = (change: (c: Card) => Card): Recipe => ({ ...base, cards: base.cards.map((c) => (c.id === 'wall' ? change(c) : c)) });

test('a card’s grade is limited by a kept matte, and by its outside', async () => {
  const graded = (outside: boolean): Recipe =>
    withCard((c) => ({ ...c, grade: { ...c.grade, exposure: 1 }, limit: { ...c.limit, matte: 'l', outside } }));
  const before = await see(base);
  const [inside, outside] = [await see(graded(false)), await see(graded(true))];
  expect(at(inside, 5, 5)).toBeCloseTo(2 * at(before, 5, 5), 2);
  expect(at(inside, w - 5, 5)).toBeCloseTo(at(before, w - 5, 5), 4);
  expect(at(outside, w - 5, 5)).toBeCloseTo(2 * at(before, w - 5, 5), 2);
  expect(at(outside, 5, 5)).toBeCloseTo(at(before, 5, 5), 4);
  // The subject is another card.
  expect(at(inside, 80, 64)).toBeCloseTo(at(before, 80, 64), 4);
});

test('the finish’s limit is drawn on the frame', async () => {
  const graduated = { from: [0, 0] as [number, number], to: [0, h] as [number, number] };
  const finish = { ...base.finish, grade: { ...base.finish.grade, exposure: -1 }, limit: { ...base.finish.limit, graduated } };
  const [before, after] = [await see(base), await see({ ...base, finish })];
  expect(at(after, 5, 1)).toBeCloseTo(at(before, 5, 1) / 2, 2);
  expect(at(after, 5, h - 2)).toBeCloseTo(at(before, 5, h - 2), 3);
});

test('grain goes where it is missing, and the subject keeps its own', async () => {
  const back: Recipe = { ...base, finish: { ...base.finish, grain: { ...base.finish.grain, back: 1 } } };
  const [before, after] = [await see(base), await see(back)];
  const changed = (x0: number, x1: number, y: number): number => {
    let most = 0;
    for (let x = x0; x < x1; x++) most = Math.max(most, Math.abs(at(after, x, y) - at(before, x, y)));
    return most;
  };
  expect(changed(2, 50, 10)).toBeGreaterThan(0.002);
  expect(changed(80, 112, 64)).toBeLessThan(1e-6);
  const sides = await render(back, source, 'sides', context, known);
  const gap = gapsOf(sides.subject, sides.background).find((g) => g.name === 'grain')!;
  expect(Math.abs(gap.gap!)).toBeLessThan(gap.tolerance);
  const bare = await render(base, source, 'sides', context, known);
  expect(Math.abs(gapsOf(bare.subject, bare.background).find((g) => g.name === 'grain')!.gap!)).toBeGreaterThan(0.5);
});

test('air takes its colour from what is farthest, and thickens with distance', async () => {
  const hazy = (distance: number, colour = 'auto'): Recipe => {
    const r = withCard((c) => ({ ...c, distance, grade: { ...c.grade, exposure: -2 } }));
    return { ...r, match: { ...r.match, air: { haze: 0.5, colour } } };
  };
  const [near, far, white] = [await see(hazy(10)), await see(hazy(200)), await see(hazy(200, '#ffffff'))];
  expect(at(far, 5, 5)).toBeGreaterThan(at(near, 5, 5));
  expect(at(far, 5, 5)).toBeLessThan(0.12);
  expect(at(white, 5, 5)).toBeGreaterThan(0.7);
});

test('nothing is matched until it is asked for, and protected hues stay', async () => {
  const before = await see(base);
  const moved: Recipe = { ...base, match: { ...base.match, strengths: { ...base.match.strengths, middle: 1, cast: 1 } } };
  const after = await see(moved);
  expect(Math.abs(at(after, 96, 64) - at(before, 96, 64))).toBeGreaterThan(0.03);
  expect(at(after, 5, 5)).toBe(at(before, 5, 5));
  // The ball is orange, hue about 60.
  const spared = await see({ ...moved, match: { ...moved.match, protect: [{ hue: 60, width: 60 }] } });
  expect(Math.abs(at(spared, 96, 64) - at(before, 96, 64))).toBeLessThan(0.3 * Math.abs(at(after, 96, 64) - at(before, 96, 64)));
});

test('both sides say what they are, and of one’s own plate that they are of one photograph', async () => {
  const over = await render(base, source, 'sides', context, known);
  expect(over.ownPlate).toBe(false);
  expect(over.subject.tone.weight).toBeLessThan(over.background.tone.weight);
  expect(over.subject.light).toBeDefined();
  const own = await render({ ...base, cards: plain.cards }, source, 'sides', defaultContext({ scale: 0.5 }));
  expect(own.ownPlate).toBe(true);
  const none = await render({ ...base, cards: [base.cards[0]] }, source, 'sides', context, known);
  expect([none.subject.tone.weight, none.ownPlate]).toEqual([0, false]);
});

test('dither and grain over all are the same for the same seed', async () => {
  const finish = { ...base.finish, dither: true, grain: { back: 0, over: 0.5, size: 0.4 } };
  const [a, b] = [await see({ ...base, finish }), await see({ ...base, finish })];
  expect(largestDifference(a.r, b.r)).toBe(0);
  const other = await render({ ...base, finish }, source, 'composite', defaultContext({ seed: 5 }));
  expect(largestDifference(a.r, other.r)).toBeGreaterThan(0);
});
