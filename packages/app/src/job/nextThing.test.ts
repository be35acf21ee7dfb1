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

test('ground is offered under a subject that stands in its own blurred photograph, once, by one press', () => {
  const wide: Recipe = { ...recipe, lens: { ...recipe.lens, fNumber: 0.9 } };
  const standing = (foot?: number): Figures => ({ matte: { subject: 0.2, foot } }) as Figures;
  const { act, to } = nextThing('lens', wide, standing(0.8), 'blur')!;
  expect([act?.label, to]).toEqual(['Ground under it', 'proof']);
  const done = act!.edit(wide);
  const plate = done.cards.find((c) => c.kind === 'plate')!;
  const subject = done.cards.find((c) => c.kind === 'subject')!;
  expect(plate.distances.ground).toEqual({ line: 160, horizon: 70, distance: subject.distance });
  expect(nextThing('lens', done, standing(0.8), 'blur')?.act).toBeUndefined();
  // What hangs or flies, is cut off by the picture's border, or has nothing blurred behind it.
  expect(nextThing('lens', wide, standing(0.4), 'blur')?.act).toBeUndefined();
  expect(nextThing('lens', wide, standing(), 'blur')?.act).toBeUndefined();
  expect(nextThing('lens', { ...recipe, lens: { ...recipe.lens, fNumber: 64 } }, standing(0.8), 'blur')?.act).toBeUndefined();
});

test('the proof is walked while something is open', () => {
  expect(nextThing('proof', recipe, {}, undefined)).toBeUndefined();
  expect(nextThing('proof', recipe, { checks: [judged('banding', 1)] }, undefined)?.says).toMatch(/Walk/);
  expect(nextThing('proof', recipe, { checks: [judged('banding', 0)] }, undefined)?.says).toMatch(/could be measured/);
  expect(nextThing('export', recipe, {}, undefined)).toBeUndefined();
});
