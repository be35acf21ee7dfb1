import { newRecipe, type Recipe } from '@ritaglio/core';
import type { Step } from '../steps';
import { layOf, roomOf } from './room';

const plain = newRecipe('Goat', 'shot', 600, 400);
/** A frame that is cut out of the scene beside its middle. */
const cut: Recipe = { ...plain, frame: { width: 300, height: 200, x: 40, y: -10, turn: 0 } };
const [subject] = cut.subjects;

/** Where a point of a product is drawn. */
function drawn(recipe: Recipe, step: Step, product: string, x: number, y: number): [number, number] {
  const lay = layOf(recipe, step, product, recipe.subjects[0]);
  const angle = (lay.rotation * Math.PI) / 180;
  const [dx, dy] = [x - lay.offsetX, y - lay.offsetY];
  return [lay.x + dx * Math.cos(angle) - dy * Math.sin(angle), lay.y + dx * Math.sin(angle) + dy * Math.cos(angle)];
}

test('first steps show the shot, the later ones the frame', () => {
  for (const step of ['pictures', 'matte', 'plate'] as const) expect(roomOf(cut, step, subject)).toEqual({ width: 600, height: 400 });
  for (const step of ['stage', 'lens', 'match', 'proof', 'export'] as const) expect(roomOf(cut, step, subject)).toMatchObject({ width: 300, height: 200 }); // prettier-ignore
});

test('what has the size of what is shown fills it', () => {
  for (const [step, product] of [
    ['matte', 'matte'],
    ['plate', 'plate'],
    ['lens', 'finished'],
    ['lens', 'background'],
    ['match', 'take'],
  ] as const) {
    // prettier-ignore
    const { width, height } = roomOf(cut, step, subject);
    expect(drawn(cut, step, product, 0, 0)).toEqual([0, 0]);
    expect(drawn(cut, step, product, width, height)).toEqual([width, height]);
  }
});

test('the finished picture lies in the shot where its frame was cut, and the shot around the frame', () => {
  // The frame's middle is 40 px right of the scene's and 10 above it.
  expect(drawn(cut, 'matte', 'finished', 150, 100)).toEqual([340, 190]);
  expect(drawn(cut, 'matte', 'finished', 0, 0)).toEqual([190, 90]);
  expect(drawn(cut, 'lens', 'shot', 340, 190)).toEqual([150, 100]);
});

test('both ways undo each other, of a turned frame too', () => {
  const turned = { ...cut, frame: { ...cut.frame, turn: 17 } };
  for (const [x, y] of [
    [0, 0],
    [300, 0],
    [211, 57],
  ]) {
    // prettier-ignore
    const [u, v] = drawn(turned, 'matte', 'finished', x, y);
    const [back, down] = drawn(turned, 'lens', 'shot', u, v);
    expect(back).toBeCloseTo(x, 6);
    expect(down).toBeCloseTo(y, 6);
  }
});
