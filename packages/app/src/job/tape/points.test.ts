import { newRecipe, withPoint, type Recipe } from '@ritaglio/core';
import { gripAt, gripMoved, pointToggled, yOf } from './points';
import { xOf } from './scale';

const still = newRecipe('Trial', 'shot', 300, 200);
const time = { rate: { frames: 24, seconds: 1 }, first: 4, last: 19, shutter: 0 };
const size = { length: 24, width: 500 };
const keyed: Recipe = withPoint(withPoint({ ...still, time }, 'lens.focus', 6, { value: 2, ease: 'smooth' }), 'lens.focus', 12, { value: 8, ease: 'hold' }); // prettier-ignore

test('a corner, a point or a frame is taken hold of, whichever lies there', () => {
  expect(gripAt(keyed, size, xOf(3.5, size), 5)).toEqual({ kind: 'first' });
  expect(gripAt(keyed, size, xOf(19.5, size), 5)).toEqual({ kind: 'last' });
  expect(gripAt(keyed, size, xOf(6, size), yOf(0))).toEqual({ kind: 'point', of: 'lens.focus', frame: 6 });
  expect(gripAt(keyed, size, xOf(12, size) + 3, yOf(1) - 3)).toEqual({ kind: 'point', of: 'lens.focus', frame: 12 });
  // At the frame of a point, but not at its height.
  expect(gripAt(keyed, size, xOf(6, size), yOf(1))).toEqual({ kind: 'now' });
  expect(gripAt(keyed, size, xOf(9, size), 40)).toEqual({ kind: 'now' });
});

test('the range never turns round', () => {
  expect(gripMoved(keyed, { kind: 'first' }, 10).time).toMatchObject({ first: 10, last: 19 });
  expect(gripMoved(keyed, { kind: 'first' }, 23).time).toMatchObject({ first: 19, last: 19 });
  expect(gripMoved(keyed, { kind: 'last' }, 1).time).toMatchObject({ first: 4, last: 4 });
});

test('a point is moved with its value and ease; one that is gone moves nothing', () => {
  const moved = gripMoved(keyed, { kind: 'point', of: 'lens.focus', frame: 6 }, 9);
  expect(moved.keys[0].points).toEqual([{ frame: 9, value: 2, ease: 'smooth' }, { frame: 12, value: 8, ease: 'hold' }]); // prettier-ignore
  expect(gripMoved(keyed, { kind: 'point', of: 'lens.focus', frame: 6 }, 12).keys[0].points).toEqual([{ frame: 12, value: 2, ease: 'smooth' }]); // prettier-ignore
  expect(gripMoved(keyed, { kind: 'point', of: 'lens.focus', frame: 7 }, 9)).toBe(keyed);
  expect(gripMoved(keyed, { kind: 'now' }, 9)).toBe(keyed);
});

test('a point is put where the value is on its way, and taken again', () => {
  const put = pointToggled(keyed, 'lens.focus', 9);
  expect(put.keys[0].points[1]).toEqual({ frame: 9, value: 5, ease: 'smooth' });
  expect(pointToggled(put, 'lens.focus', 9)).toEqual(keyed);
  expect(pointToggled(keyed, 'name', 9)).toBe(keyed);
});
