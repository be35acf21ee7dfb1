/** @jest-environment jsdom */
import { newRecipe, type Recipe } from '@ritaglio/core';
import { chooseWorkingSide, draftScale, workingScale, workingSide } from './workingSide';

const recipe = newRecipe('Trial', 'shot', 3600, 2400);
const framed = (width: number, height: number): Recipe => ({ ...recipe, frame: { ...recipe.frame, width, height } });
beforeEach(() => localStorage.clear());

test('a job is worked out at the chosen side of its shot, never larger than it is; a drag at a smaller one', () => {
  expect(workingSide()).toBe(1800);
  expect(workingScale(recipe)).toBe(0.5);
  expect(draftScale(recipe)).toBe(0.125);
  chooseWorkingSide(720);
  expect(workingScale(recipe)).toBe(0.2);
  expect(workingScale(newRecipe('Small', 'shot', 300, 200))).toBe(1);
});

test('cutting the frame makes nothing at another size; one much smaller or larger than the shot does', () => {
  for (const [w, h] of [[2400, 2400], [1800, 2400], [3600, 1500], [4800, 2400]]) expect(workingScale(framed(w, h))).toBe(0.5); // prettier-ignore
  expect(workingScale(framed(900, 900))).toBe(1);
  expect(workingScale(framed(10800, 2400))).toBe(0.25);
});

test('a followed subject is followed at one size, dragged or not', () => {
  const followed = { ...recipe, subjects: recipe.subjects.map((s) => ({ ...s, follows: {} as never })) };
  expect(workingScale(followed)).toBe(0.2);
  expect(draftScale(followed)).toBe(0.2);
});

test('what was kept of a size that shows nothing is not taken', () => {
  localStorage.setItem('ritaglio.workingSide', '12');
  expect(workingSide()).toBe(1800);
});
