import { defaultContext, type Context } from '../runtime/context';
import { defocus } from '../lens/defocus';
import { opticsOf } from '../lens/thinLens';
import { edgeColour } from '../matte/foreground/edgeColour';
import { noTrim } from '../matte/edit/trim';
import type { Mark } from '../matte/cut/marks';
import { matte, matteGround, matteOn } from '../matte/matte';
import { followClip, frameMatte } from '../motion/clipMatte';
import { opticalFlow } from '../motion/flow';
import { brightnessOf } from '../colour/perceived';
import type { FrameMark } from '../motion/sweep';
import { patchFill } from '../plate/patchFill';
import { withOpacity } from '../raster/plane';
import { resizePicture } from '../raster/resize';
import { ballFrame } from '../testing/clips';
import { halfPool } from '../testing/pool';
import { ballScene, largestDifference, pictureFrom, planeFrom, softDisc } from '../testing/scenes';
import { runTask, kernels } from './kernels';

const [w, h] = [300, 220];
const card = pictureFrom(w, h, (x, y) => [(x * 7 + y * 3) % 13 > 6 ? 1 : 0.1, x / w, y / h]);
const shape = softDisc(w, h, 140, 110, 80, 6);
const cut = withOpacity(card, shape);
// Far, sharp and near, so that some of it is laid halved, some apart.
const away = planeFrom(w, h, (x, y) => (y > 150 ? 0.9 + x / 400 : 1.5 + ((h - y) / h) * 40));
const optics = opticsOf({ focalLength: 85, sensorWidth: 36, focus: 3, fNumber: 1.4 }, 1200);
const lamp = { x: 90, y: 20, radius: 3, light: [9, 7, 5] as [number, number, number], softness: 0 };

/** Each stage that a pool helps with; what it makes as one list of numbers. */
const stages: Record<string, (context: Context) => Promise<Float32Array>> = {
  'blur of varying distance': async (context) => (await defocus(card, away, optics, context, [lamp])).g,
  'blur of a leaning cut-out': async (context) => (await defocus(cut, away, optics, context)).a!,
  'one blur for all': async (context) => (await defocus(cut, 30, optics, context)).r,
  'cut towards the corners': async (context) =>
    (await defocus(card, 30, { ...optics, aperture: { ...optics.aperture, cornerCut: 0.5 } }, context)).b,
  // Larger than the size at which opacity is solved: it is reduced, cut twice, and carried up.
  'matte by marks': async (context) => {
    const large = resizePicture(ball.shot, 1100, 846);
    return (await matte(large, { marks: scaled(marks, 1100 / 260), trim: noTrim }, context)).matte.data;
  },
  'matte by difference': async (context) => {
    const plate = { ...ball.back, g: ball.back.g.map((v) => 1.1 * v) };
    const inputs = { ground: await matteGround(ball.shot, context), plate };
    return (await matteOn(inputs, { cut: 'difference', marks: [], trim: noTrim }, context)).matte.data;
  },
  'colours of an edge': async (context) => {
    const { subject, behind } = await edgeColour(card, shape, context);
    return Float32Array.from([...subject.r, ...behind.b]);
  },
  'a hole filled with patches': async (context) => {
    const hole = softDisc(w, h, 140, 110, 40, 3);
    const allowed = planeFrom(w, h, (x, y) => (hole.data[y * w + x] > 0 ? 0 : 1));
    return (await patchFill(card, hole, allowed, 1, context)).picture.g;
  },
  'flow between two frames': async (context) => {
    const frames = [40, 47].map((x) => brightnessOf(ballFrame(120, 80, { x, y: 40, radius: 18 }).picture, context));
    const [there, back] = await opticalFlow(frames, [[0, 1], [1, 0]], context); // prettier-ignore
    return Float32Array.from([...there.u, ...back.v]);
  },
  'a subject followed through a clip': async (context) => {
    const frames = { count: 4, load: async (i: number) => ballFrame(120, 80, { x: 36 + 12 * i, y: 40, radius: 18 }).picture };
    const seen: FrameMark[] = [
      { kind: 'inside', radius: 8, points: [[36, 40]], frame: 0 },
      { kind: 'outside', radius: 6, points: [[100, 12]], frame: 0 },
    ];
    const followed = (await followClip(frames, seen, context))!;
    const mattes = [await frameMatte(followed, 1, context), await frameMatte(followed, 2, context)];
    return Float32Array.from(
      mattes.flatMap(({ matte: { data }, behind, band, solved }) => [...data, ...(behind?.g ?? []), ...band!.data, solved]),
    );
  },
};
const ball = ballScene(260, 200, 5);
const marks: Mark[] = [
  { kind: 'inside', radius: 8, points: [[130, 100]] },
  { kind: 'outside', radius: 6, points: [[15, 15]] },
];
function scaled(list: Mark[], k: number): Mark[] {
  return list.map((m) => ({ ...m, radius: m.radius * k, points: m.points.map(([x, y]) => [x * k, y * k]) }));
}
const helped = new Set<string>();

test.each(Object.keys(stages))('%s: the same bytes with a pool', async (name) => {
  const pool = halfPool(kernels);
  const [alone, together] = [await stages[name](defaultContext()), await stages[name](defaultContext({ pool }))];
  expect(largestDifference(alone, together)).toBe(0);
  expect(Object.keys(pool.done).length).toBeGreaterThan(0);
  for (const kernel of Object.keys(pool.done)) helped.add(kernel);
});

test('every kernel was asked of the pool', () => {
  expect([...helped].sort()).toEqual(kernels.map((k) => k.name).sort());
});

test('a thread knows them all by name', async () => {
  expect(new Set(kernels.map((k) => k.name)).size).toBe(kernels.length);
  for (const { name } of kernels) await runTask({ kernel: name, job: {}, parts: 0, count: new Int32Array(3) });
});
