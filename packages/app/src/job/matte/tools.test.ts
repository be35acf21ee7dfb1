/** @jest-environment node */
import { newRecipe, type Mark, type Shape } from '@ritaglio/core';
import { useView } from '../viewStore';
import {
  closesOn,
  handlesOf,
  handStrokeOf,
  kindOf,
  markOf,
  movedMark,
  movedShape,
  setsCorners,
  shapeOf,
  turned,
  withDrawing,
  type Drawing,
} from './tools';

const held = (shiftKey = false, altKey = false) => ({ shiftKey, altKey });
const drawing = (points: [number, number][], corners = false): Drawing => ({ points, kind: 'inside', corners });
const settings = (part: Partial<ReturnType<typeof useView.getState>> = {}) => ({ ...useView.getState(), ...part });

test('held keys say the kind of mark, else the chosen one', () => {
  expect(kindOf(settings({ mark: 'inside' }), held(true))).toBe('outside');
  expect(kindOf(settings({ mark: 'inside' }), held(false, true))).toBe('edge');
  expect(kindOf(settings({ mark: 'edge' }), held())).toBe('edge');
});

test('polygons are set by corners, everything else is drawn', () => {
  expect(setsCorners(settings({ tool: 'mark', way: 'polygon' }))).toBe(true);
  expect(setsCorners(settings({ tool: 'garbage', shape: 'polygon' }))).toBe(true);
  expect(setsCorners(settings({ tool: 'garbage', shape: 'ellipse' }))).toBe(false);
  expect(setsCorners(settings({ tool: 'hand', way: 'polygon' }))).toBe(false);
});

test('a stroke is a mark of the tip’s width, a way around fills', () => {
  const points: [number, number][] = [[0, 0], [10, 0], [10, 10]]; // prettier-ignore
  expect(markOf(settings({ way: 'stroke', tip: 30 }), drawing(points))).toEqual({ kind: 'inside', radius: 15, points });
  expect(markOf(settings({ way: 'outline' }), drawing(points)).filled).toBe(true);
  // A press without a way around is still a spot.
  expect(markOf(settings({ way: 'outline' }), drawing([[3, 3]])).filled).toBeUndefined();
  expect(handStrokeOf(settings({ hand: 'soften', tip: 8, hardness: 0.2, strength: 0.7 }), drawing(points))).toEqual({
    tip: 'soften',
    radius: 4,
    hardness: 0.2,
    opacity: 0.7,
    points,
  });
});

test('a box goes from where it was begun to where it ends, whichever way; a slip of the pointer is none', () => {
  const s = settings({ tool: 'garbage', shape: 'rectangle' });
  expect(shapeOf(s, drawing([[50, 60], [70, 20], [10, 20]]))).toEqual({ kind: 'rectangle', x: 10, y: 20, width: 40, height: 40 }); // prettier-ignore
  expect(shapeOf(s, drawing([[50, 60], [52, 61]]))).toBeUndefined(); // prettier-ignore
  expect(shapeOf(settings({ tool: 'garbage', shape: 'polygon' }), drawing([[0, 0], [9, 9]], true))).toBeUndefined(); // prettier-ignore
});

test('a finished drawing goes where its tool says', () => {
  const recipe = newRecipe('A', 'shot', 100, 80);
  const points: [number, number][] = [[0, 0], [40, 0], [40, 30]]; // prettier-ignore
  const counts = (tool: 'mark' | 'hand' | 'garbage') => {
    const [s] = withDrawing(recipe, settings({ tool, shape: 'rectangle', way: 'stroke' }), drawing(points)).subjects;
    return [s.marks.length, s.hand.length, s.garbage.length];
  };
  expect(counts('mark')).toEqual([1, 0, 0]);
  expect(counts('hand')).toEqual([0, 1, 0]);
  expect(counts('garbage')).toEqual([0, 0, 1]);
  expect(withDrawing(recipe, settings({ tool: 'garbage' }), drawing([[1, 1]])).subjects[0].garbage).toHaveLength(0);
});

test('marks move with their pressure and turn through the kinds', () => {
  const mark: Mark = { kind: 'inside', radius: 3, points: [[1, 2, 0.5], [3, 4]] }; // prettier-ignore
  expect(movedMark(mark, 1.04, -2).points).toEqual([[2, 0, 0.5], [4, 2]]); // prettier-ignore
  expect([turned('inside'), turned('outside'), turned('edge')]).toEqual(['outside', 'edge', 'inside']);
});

test('shapes move by a corner, by the whole, and never turn inside out', () => {
  const box: Shape = { kind: 'ellipse', x: 10, y: 10, width: 30, height: 20 };
  expect(handlesOf(box)).toHaveLength(4);
  expect(movedShape(box, 2, 5, 6)).toEqual({ ...box, width: 35, height: 26 });
  expect(movedShape(box, 0, 5, 6)).toEqual({ ...box, x: 15, y: 16, width: 25, height: 14 });
  expect(movedShape(box, 0, 500, 500)).toEqual({ ...box, x: 36, y: 26, width: 4, height: 4 });
  expect(movedShape(box, 'whole', 1, 2)).toEqual({ ...box, x: 11, y: 12 });
  const polygon: Shape = { kind: 'polygon', points: [[0, 0], [10, 0], [5, 8]] }; // prettier-ignore
  expect(movedShape(polygon, 1, 2, 3)).toEqual({ kind: 'polygon', points: [[0, 0], [12, 3], [5, 8]] }); // prettier-ignore
  expect(handlesOf(movedShape(polygon, 'whole', 1, 1))[2]).toEqual([6, 9]);
});

test('a stroke that comes around marks what it closes; a scribble, a line and an edge mark do not', () => {
  const round = Array.from({ length: 40 }, (_, k): [number, number] => [300 + 100 * Math.cos(k / 6.2), 300 + 80 * Math.sin(k / 6.2)]);
  const scribble = Array.from({ length: 40 }, (_, k): [number, number] => [200 + 100 * (k % 2), 200 + k]);
  expect([closesOn(round, 20), closesOn(round.slice(0, 30), 20), closesOn(scribble, 20), closesOn(round, 90)]).toEqual([
    true,
    false,
    false,
    false,
  ]);
  const s = settings({ way: 'stroke', tip: 20 });
  expect(markOf(s, { ...drawing(round), kind: 'outside' })).toMatchObject({ filled: true, radius: 10 });
  expect(markOf(s, { ...drawing(round), kind: 'edge' }).filled).toBeUndefined();
});

test('a loop is what it is however it is drawn; a border is closed when it ends where it began', () => {
  const points: [number, number][] = [[0, 0], [90, 0], [90, 90], [0, 0]]; // prettier-ignore
  expect(markOf(settings({ way: 'polygon' }), { ...drawing(points), kind: 'loop' })).toEqual({ kind: 'loop', radius: 2, points });
  const border = { ...drawing(points, true), kind: 'trace' as const, anchors: [0, 2, 3] };
  expect(markOf(settings(), border)).toEqual({ kind: 'trace', radius: 1, points, anchors: [0, 2, 3], filled: true });
  expect(markOf(settings(), { ...border, points: points.slice(0, 3), anchors: [0, 2] }).filled).toBeUndefined();
  expect([turned('loop'), turned('trace')]).toEqual(['loop', 'trace']);
});
