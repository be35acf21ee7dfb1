import { judged, newRecipe, defaultCard, defaultLamps, type Recipe } from '@ritaglio/core';
import type { Figures } from '../worker/protocol';
import { nextThing } from './NextThing';

jest.mock('react-router', () => ({ Link: () => null }));
jest.mock('../worker/renderer', () => ({ renderer: () => ({}), onForgotten: () => undefined }));

const recipe = newRecipe('Trial', 'shot', 300, 200);
const matte = (subject: number): Figures => ({ matte: { subject } }) as Figures;

test('without a cut the matte says how to make one, with one it goes on to what the job is about', () => {
  expect(nextThing('matte', recipe, matte(0), undefined)?.says).toMatch(/Draw one stroke/);
  expect(nextThing('matte', recipe, matte(0), undefined)?.to).toBeUndefined();
  expect(nextThing('matte', recipe, matte(0.2), 'blur')?.to).toBe('lens');
  expect(nextThing('matte', recipe, matte(0.2), 'background')?.to).toBe('stage');
  expect(nextThing('matte', recipe, matte(0.2), undefined)?.to).toBe('plate');
  const keyed: Recipe = { ...recipe, subjects: [{ ...recipe.subjects[0], cut: 'screen' }] };
  expect(nextThing('matte', keyed, matte(0), 'screen')?.says).toMatch(/No screen/);
});

test('a new background is asked for until there is one', () => {
  expect(nextThing('stage', recipe, {}, 'background')?.to).toBe('pictures');
  const behind = { ...defaultCard, kind: 'picture' as const, picture: 'p', matte: null, lamps: defaultLamps, id: 'b', distance: 9 };
  expect(nextThing('stage', { ...recipe, cards: [behind, recipe.cards[1]] }, {}, 'background')?.to).toBe('match');
});

test('the proof is walked while something is open', () => {
  expect(nextThing('proof', recipe, {}, undefined)).toBeUndefined();
  expect(nextThing('proof', recipe, { checks: [judged('banding', 1)] }, undefined)?.says).toMatch(/Walk/);
  expect(nextThing('proof', recipe, { checks: [judged('banding', 0)] }, undefined)?.says).toMatch(/could be measured/);
  expect(nextThing('export', recipe, {}, undefined)).toBeUndefined();
});
