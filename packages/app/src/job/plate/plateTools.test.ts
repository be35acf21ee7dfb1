/** @jest-environment node */
import { newRecipe, readRecipe } from '@ritaglio/core';
import type { Drawing } from '../matte/tools';
import { useView, type ViewState } from '../viewStore';
import { newFill, plateSetsCorners, regionOf, retouchOf, sourceOf, withPlateDrawing, withReseed } from './plateTools';

const settings = (part: Partial<ViewState>): ViewState => ({ ...useView.getState(), ...part });
const drawing = (points: [number, number][], corners = false): Drawing => ({ points, kind: 'inside', corners });
const around: [number, number][] = [[0, 0], [40, 0], [40, 30]]; // prettier-ignore
const recipe = newRecipe('A', 'shot', 100, 80);

test('regions are strokes of the tip’s width or filled; retouching is always a stroke', () => {
  expect(regionOf(settings({ way: 'stroke', tip: 20 }), drawing(around))).toEqual({ radius: 10, points: around });
  expect(regionOf(settings({ way: 'outline' }), drawing(around)).filled).toBe(true);
  expect(plateSetsCorners(settings({ plateTool: 'add', way: 'polygon' }))).toBe(true);
  expect(plateSetsCorners(settings({ plateTool: 'retouch', way: 'polygon' }))).toBe(false);
});

test('an aligned source moves along from stroke to stroke, a fixed one begins anew', () => {
  const first = sourceOf(settings({ source: [10, 10] }), [50, 50])!;
  expect(first).toEqual({ source: [10, 10], sourceFor: [50, 50] });
  expect(sourceOf(settings({ source: [10, 10], sourceFor: first.sourceFor }), [60, 45])!.source).toEqual([20, 5]);
  expect(sourceOf(settings({ source: [10, 10], sourceFor: first.sourceFor, fixedSource: true }), [60, 45])!.source).toEqual([10, 10]);
  expect(sourceOf(settings({ source: undefined }), [60, 45])).toBeUndefined();
});

test('strokes take the tip’s settings; without a source only paint is drawn', () => {
  const s = { tip: 12, hardness: 0.3, strength: 0.6, source: undefined };
  expect(retouchOf(settings({ ...s, retouch: 'clone' }), drawing(around))).toBeUndefined();
  expect(retouchOf(settings({ ...s, retouch: 'paint', paint: '#123456' }), drawing(around))).toMatchObject({ tip: 'paint', radius: 6, opacity: 0.6, colour: '#123456' }); // prettier-ignore
  expect(retouchOf(settings({ ...s, retouch: 'heal', source: [1, 2], flipSource: true, sourceSize: 2 }), drawing(around))).toMatchObject({ source: [1, 2], flip: true, size: 2 }); // prettier-ignore
});

test('a finished drawing goes where its tool says, and what comes of it is a recipe', () => {
  const of = (part: Partial<ViewState>) => withPlateDrawing(recipe, settings({ way: 'outline', ...part }), drawing(around));
  const plateOf = (part: Partial<ViewState>) => readRecipe(JSON.parse(JSON.stringify(of(part)))).subjects[0].plate;
  expect(plateOf({ plateTool: 'take' }).regions[0].how).toBe('take');
  expect(plateOf({ plateTool: 'part' }).parts[0].fill.kind).toBe('smooth');
  expect(plateOf({ plateTool: 'borrow' }).fill).toMatchObject({ kind: 'borrowed', x: 0, from: [{ filled: true }] });
  expect(plateOf({ plateTool: 'move' }).moves[0]).toMatchObject({ x: 0, size: 1 });
  expect(plateOf({ plateTool: 'retouch', retouch: 'paint' }).retouch).toHaveLength(1);
  expect(of({ plateTool: 'look' })).toEqual(recipe);
});

test('another kind of fill keeps how many tries there were; a repeat is filled anew with another seed', () => {
  const tried = { kind: 'patch' as const, tries: 4, taken: 3 };
  expect(newFill('borrowed', tried)).toMatchObject({ tries: 4, taken: 3 });
  expect(newFill('smooth', tried)).toEqual({ kind: 'smooth' });
  expect(newFill('patch', tried)).toBe(tried);
  const { plate } = recipe.subjects[0];
  const once = withReseed(plate, { x: 10, y: 10, width: 20, height: 10 });
  const twice = withReseed(once, { x: 10, y: 10, width: 20, height: 10 });
  const seeds = twice.parts.map((p) => (p.fill.kind === 'patch' ? p.fill.taken : 0));
  expect(new Set([1, ...seeds]).size).toBe(3);
});
