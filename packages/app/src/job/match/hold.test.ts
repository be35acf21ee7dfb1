import { newRecipe, type Recipe } from '@ritaglio/core';
import type { JobStore } from '../jobStore';
import { useView } from '../viewStore';
import { holdWithout, letGo } from './hold';
import { without } from './parts';

const made: { recipe: Recipe; scale: number; done: (bitmap: ImageBitmap) => void; fail: (e: Error) => void }[] = [];
jest.mock('../../worker/renderer', () => ({
  renderer: () => ({
    finished: (recipe: Recipe, scale: number) => new Promise((done, fail) => made.push({ recipe, scale, done, fail })),
  }),
}));
jest.mock('../workingSide', () => ({ workingScale: () => 0.25 }));
const refused: unknown[] = [];
jest.mock('../../ui/refuse', () => ({ refuse: (e: unknown) => refused.push(e) }));

const recipe: Recipe = { ...newRecipe('Trial', 'shot', 3600, 2400) };
const busy: Recipe = { ...recipe, match: { ...recipe.match, palette: 0.5 } };
const store = { getState: () => ({ recipe: busy }) } as unknown as JobStore;
const bitmap = {} as ImageBitmap;
const held = () => useView.getState().held;

beforeEach(() => {
  made.length = refused.length = 0;
  letGo();
});

test('held, the picture without a group is worked out at the size that is known, and shown until it is let go', async () => {
  const holding = holdWithout(store, 'the match', without.match);
  expect(held()).toEqual({ name: 'the match' });
  expect(made).toHaveLength(1);
  expect(made[0].recipe.match.palette).toBe(0);
  expect(made[0].scale).toBe(0.25);
  made[0].done(bitmap);
  await holding;
  expect(held()).toEqual({ name: 'the match', bitmap, scale: 0.25 });
  letGo();
  expect(held()).toBeUndefined();
});

test('a key that repeats asks once; what comes after it was let go is not shown', async () => {
  const holding = holdWithout(store, 'all', without.all);
  await holdWithout(store, 'all', without.all);
  expect(made).toHaveLength(1);
  letGo();
  made[0].done(bitmap);
  await holding;
  expect(held()).toBeUndefined();
});

test('a fault is told, and what is shown stays as it is', async () => {
  const holding = holdWithout(store, 'grain', without.grain);
  made[0].fail(new Error('no room'));
  await holding;
  expect(refused).toHaveLength(1);
  expect(held()?.bitmap).toBeUndefined();
});
