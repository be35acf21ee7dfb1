import { after, inPixels, inverse, mapped, noChange } from '../align/projective';
import { defaultContext, isAbort } from '../runtime/context';
import { psnr } from '../proof/compare';
import { ballFrame } from '../testing/clips';
import { makePlane, type Picture, type Plane } from '../raster/plane';
import { cameraPath } from './camera';
import { clipGround, groundInFrame } from './clipPlate';
import { followClip, frameMatte } from './clipMatte';
import { dtSsd, messdDt } from './coherence';
import { spreadFrames, type Frames } from './frames';
import { maskOfRuns, runsOf } from './runs';
import type { FrameMark } from './sweep';

const [width, height, count] = [150, 100, 9];

/** A ball that rolls from the left to the right, seen by a camera that shakes and whose exposure drifts. */
function rolling(shaken: boolean): { frames: Frames; of: (i: number) => ReturnType<typeof ballFrame> } {
  const of = (i: number): ReturnType<typeof ballFrame> =>
    ballFrame(
      width,
      height,
      { x: 34 + 9 * i, y: 52, radius: 20 },
      shaken ? { x: 3 * Math.sin(2 * i), y: 2 * Math.cos(3 * i), gain: 2 ** (0.15 * Math.sin(i)) } : undefined,
    );
  return { frames: { count, load: async (i) => of(i).picture }, of };
}

/** 1 inside, else 0. */
const insideOf = (matte: Plane): Float32Array => matte.data.map((a) => (a > 0.5 ? 1 : 0));

test.each([false, true])('the ground is put together from the frames, shaken: %s', async (shaken) => {
  const { frames, of } = rolling(shaken);
  const path = await cameraPath(frames, defaultContext());
  const hides = async (i: number): Promise<Uint8Array> => Uint8Array.from(of(i).matte.data, (a) => (a > 0.02 ? 1 : 0));
  const ground = await clipGround(frames, path, hides, defaultContext());
  expect(ground.photographed).toBeGreaterThan(0.98);
  expect(ground.disagreement).toBeLessThan(2);
  for (const i of [0, 4, 8]) {
    const here = await groundInFrame(ground, path, i, defaultContext());
    const shown = insideOf(of(i).matte).map((v, p) => (v && here.looks.data[p] > 0 ? 1 : 0));
    expect(psnr(here.picture, of(i).ground, shown)).toBeGreaterThan(shaken ? 35 : 60);
  }
});

test('what no frame shows is invented once, and the share of it is told', async () => {
  const { frames, of } = rolling(false);
  // A post that never moves stands before a tenth of the ball's way.
  const hides = async (i: number): Promise<Uint8Array> =>
    Uint8Array.from(of(i).matte.data, (a, p) => (a > 0.02 || (p % width >= 60 && p % width < 70) ? 1 : 0));
  const path = await cameraPath(frames, defaultContext());
  const ground = await clipGround(frames, path, hides, defaultContext());
  let [hidden, never] = [0, 0];
  for (let i = 0; i < count; i++) {
    const mask = await hides(i);
    mask.forEach((v, p) => {
      hidden += v;
      if (v && p % width >= 60 && p % width < 70) never++;
    });
  }
  expect(1 - ground.photographed).toBeCloseTo(never / hidden, 2);
  expect(ground.picture.r.every((v) => Number.isFinite(v) && v > 0)).toBe(true);
});

test('the plate does not swim: seen from each frame it is the same ground', async () => {
  const { frames } = rolling(true);
  const path = await cameraPath(frames, defaultContext());
  const ground = await clipGround(frames, path, async () => new Uint8Array(width * height), defaultContext());
  const [a, b] = await Promise.all([3, 6].map(async (i) => (await groundInFrame(ground, path, i, defaultContext())).picture.g));
  const way = after(path.toReference[3], inverse(path.toReference[6]));
  let [sum, n] = [0, 0];
  for (let y = 10; y < height - 10; y++) {
    for (let x = 10; x < width - 10; x++) {
      const [u, v] = mapped(way, x, y);
      const [x0, y0] = [Math.floor(u), Math.floor(v)];
      const [s, t] = [u - x0, v - y0];
      const q = y0 * width + x0;
      const there = (1 - t) * ((1 - s) * b[q] + s * b[q + 1]) + t * ((1 - s) * b[q + width] + s * b[q + width + 1]);
      sum += Math.abs(a[y * width + x] * path.gain[3][1] - there * path.gain[6][1]);
      n++;
    }
  }
  // A code value of 255 at this brightness is about 0.004 of linear light.
  expect(sum / n).toBeLessThan(0.004);
});

const marks: FrameMark[] = [
  { kind: 'inside', radius: 8, points: [[66, 48], [74, 56]], frame: 4 }, // prettier-ignore
  { kind: 'outside', radius: 5, points: [[20, 15], [130, 15], [130, 90], [20, 90]], frame: 4 }, // prettier-ignore
];

test('a subject marked on one frame is followed to all, better than each frame’s neighbour; any frame alone is the same', async () => {
  const { frames, of } = rolling(true);
  const followed = (await followClip(frames, marks, defaultContext()))!;
  const mattes = await Promise.all(Array.from({ length: count }, async (_, i) => (await frameMatte(followed, i, defaultContext())).matte));
  for (let i = 0; i < count; i++) {
    const truth = of(i).matte.data;
    const off = mattes[i].data.reduce((sum, a, p) => sum + Math.abs(a - truth[p]), 0);
    // Of about 1250 px.
    expect(off).toBeLessThan(60);
    expect(followed.cut.certainty[i]).toBeGreaterThan(0.5);
  }
  const again = (await followClip(frames, marks, defaultContext()))!;
  expect((await frameMatte(again, 7, defaultContext())).matte.data).toEqual(mattes[7].data);
});

describe('a frame that is asked for more than once', () => {
  const { frames } = rolling(false);
  const followed = followClip(frames, marks, defaultContext());

  test('is there for whoever still wants it when the first has given it up', async () => {
    const clip = { ...(await followed)!, solved: new Map() };
    const controller = new AbortController();
    const first = frameMatte(clip, 4, defaultContext({ signal: controller.signal })).catch((e: unknown) => e);
    const second = frameMatte(clip, 4, defaultContext());
    controller.abort();
    expect(isAbort(await first)).toBe(true);
    const alone = await frameMatte({ ...clip, solved: new Map() }, 4, defaultContext());
    expect((await second).matte.data).toEqual(alone.matte.data);
  });

  test('and cannot be read says so to all, and is read again the next time', async () => {
    const lost = new Error('frame 6 cannot be read');
    let isLost = true;
    const load = (i: number): Promise<Picture> => (isLost && i === 6 ? Promise.reject(lost) : frames.load(i));
    const clip = { ...(await followed)!, frames: { count, load }, solved: new Map() };
    await frameMatte(clip, 4, defaultContext());
    const told = await Promise.allSettled([5, 6, 7].map((i) => frameMatte(clip, i, defaultContext())));
    expect(told.map((t) => t.status === 'rejected' && t.reason === lost)).toEqual([true, true, true]);
    isLost = false;
    expect((await frameMatte(clip, 6, defaultContext())).matte.data[52 * width + 88]).toBeGreaterThan(0.9);
  });
});

test('a mark on another frame corrects it; without an inside mark nothing is said', async () => {
  const { frames, of } = rolling(false);
  const [inside] = marks;
  expect(await followClip(frames, [{ ...inside, kind: 'outside' }], defaultContext())).toBeUndefined();
  // The ball's right half is said not to be subject, in the last frame.
  const half: FrameMark = { kind: 'outside', radius: 9, points: [[120, 36], [120, 70]], frame: 8 }; // prettier-ignore
  const followed = (await followClip(frames, [...marks, half], defaultContext()))!;
  const { matte } = await frameMatte(followed, 8, defaultContext());
  expect(matte.data[52 * width + 120]).toBe(0);
  expect(matte.data[52 * width + 98]).toBeGreaterThan(0.9);
  expect(of(8).matte.data[52 * width + 120]).toBe(1);
  expect(followed.cut.certainty[8]).toBe(1);
});

test('steadiness is 0 for the truth, and for an error that stays; flicker and an error that is left behind count', () => {
  const matte = (x: number, more: number): Plane => {
    const { matte: m } = ballFrame(60, 40, { x, y: 20, radius: 8 });
    return { ...m, data: m.data.map((a) => Math.min(1, a + more)) };
  };
  const [trueBefore, trueNow] = [matte(20, 0), matte(25, 0)];
  const there = { width: 60, height: 40, u: new Float32Array(2400).fill(-5), v: new Float32Array(2400) };
  const truth = { before: trueBefore, now: trueNow, trueBefore, trueNow };
  expect(dtSsd(truth)).toBe(0);
  expect(messdDt(truth, there)).toBe(0);
  const empty = makePlane(60, 40);
  const steady = { before: matte(20, 0.1), now: matte(25, 0.1), trueBefore, trueNow };
  const flicker = { before: matte(20, 0.1), now: trueNow, trueBefore, trueNow };
  expect(dtSsd(flicker)).toBeGreaterThan(2 * dtSsd(steady));
  expect(messdDt(flicker, there)).toBeGreaterThan(2 * messdDt(steady, there));
  // All of the ball is missed in one frame: 2 · 201 px of 2400 change otherwise than they should.
  expect(dtSsd({ before: trueBefore, now: empty, trueBefore, trueNow }) ** 2 * 2400).toBeGreaterThan(170);
});

test('maps, masks as runs and spread frames come back as they were', () => {
  const map = inPixels([1.02, 0.03, 0.01, -0.02, 0.98, 0.02, 0.004, -0.003], 64, 48);
  const round = after(map, inverse(map)).map((v, _, all) => v / all[8]);
  round.forEach((v, i) => expect(v).toBeCloseTo(noChange[i], 9));
  expect(mapped(inPixels([1, 0, 0.5, 0, 1, 0, 0, 0], 64, 48), 10, 10)).toEqual([26, 10]);
  expect(() => inverse([1, 0, 0, 1, 0, 0, 0, 0, 1])).toThrow('no way back');
  for (const bits of [[0, 0, 1, 1, 0], [1, 1], [0], [1, 0, 1]]) expect([...maskOfRuns(runsOf(Uint8Array.from(bits)))]).toEqual(bits); // prettier-ignore
  expect(spreadFrames(100, 5)).toEqual([0, 25, 50, 74, 99]);
  expect(spreadFrames(3, 40)).toEqual([0, 1, 2]);
});
