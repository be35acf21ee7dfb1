/** @jest-environment jsdom */
import { newRecipe, type Mark } from '@ritaglio/core';
import { movedAnchor, traceTo } from './pointing';
import type { Drawing } from './tools';

type Point = [number, number];
/** A contour's way in one bend, its ends rounded to tens as to a contour nearby. */
const trace = jest.fn((_recipe: unknown, _scale: number, from: Point, to: Point): Promise<Point[]> => {
  const near = ([x, y]: Point): Point => [10 * Math.round(x / 10), 10 * Math.round(y / 10)];
  const [a, b] = [near(from), near(to)];
  return Promise.resolve(a[0] === b[0] && a[1] === b[1] ? [a] : [a, [b[0], a[1]], b]);
});
jest.mock('../../worker/renderer', () => ({ renderer: () => ({ trace }) }));
beforeEach(() => trace.mockClear());

const recipe = newRecipe('Goat', 'shot', 600, 400);
const pointsOf = ({ points }: { points: readonly (readonly number[])[] }): number[][] => points.map(([x, y]) => [x, y]);

describe('a trace', () => {
  const empty = { tool: 'trace', points: [] } as unknown as Drawing;

  test('begins at the contour nearest to the press, and goes on along contours to the next', async () => {
    const one = await traceTo(recipe, empty, [12, 19]);
    expect([pointsOf(one), one.anchors]).toEqual([[[10, 20]], [0]]);
    const two = await traceTo(recipe, one, [52, 61]);
    expect(pointsOf(two)).toEqual([[10, 20], [50, 20], [50, 60]]); // prettier-ignore
    expect(two.anchors).toEqual([0, 2]);
    const three = await traceTo(recipe, two, [90, 60]);
    expect(three.anchors).toEqual([0, 2, 4]);
    expect(pointsOf(three).at(-1)).toEqual([90, 60]);
  });
});

describe('a pressed point of a trace that is moved', () => {
  const open: Mark = { kind: 'trace', radius: 2, points: [[10, 20], [50, 20], [50, 60], [90, 60]], anchors: [0, 2, 3] }; // prettier-ignore

  test('takes both of its ways along; the others stay as they are and are not looked for', async () => {
    const long: Mark = { ...open, points: [...open.points, [90, 90], [120, 90]], anchors: [0, 2, 3, 5] };
    const moved = await movedAnchor(recipe, long, 1, [70, 41]);
    expect(pointsOf(moved)).toEqual([[10, 20], [70, 20], [70, 40], [90, 40], [90, 60], [90, 90], [120, 90]]); // prettier-ignore
    expect(moved.anchors!.map((k) => pointsOf(moved)[k])).toEqual([[10, 20], [70, 40], [90, 60], [120, 90]]); // prettier-ignore
    // One for where it begins, two for the ways that changed.
    expect(trace).toHaveBeenCalledTimes(3);
  });

  test('at an end it has one way only', async () => {
    const moved = await movedAnchor(recipe, open, 2, [90, 99]);
    expect(pointsOf(moved)).toEqual([[10, 20], [50, 20], [50, 60], [90, 60], [90, 100]]); // prettier-ignore
    expect(moved.anchors).toEqual([0, 2, 4]);
  });

  test('of a closed one the first point is the last as well, and stays so', async () => {
    const closed: Mark = {
      ...open,
      filled: true,
      points: [[10, 20], [50, 20], [50, 60], [10, 60], [10, 20]], // prettier-ignore
      anchors: [0, 2, 4],
    };
    for (const index of [0, 2]) {
      const moved = await movedAnchor(recipe, closed, index, [22, 31]);
      const points = pointsOf(moved);
      expect([points[0], points.at(-1)]).toEqual([[20, 30], [20, 30]]); // prettier-ignore
      expect(moved.anchors!.map((k) => points[k])[1]).toEqual([50, 60]);
      expect(moved.filled).toBe(true);
    }
  });
});
