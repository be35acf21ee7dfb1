import fc from 'fast-check';
import { defaultContext } from '../runtime/context';
import { ballFrame, groundBrightness } from '../testing/clips';
import { halfPool } from '../testing/pool';
import { makePlane } from '../raster/plane';
import { KnownFlows } from './sweep';
import { allBroughtBy, broughtBy, flowPair, opticalFlow, roundTrip, type Flow } from './flow';
import { brightnessOf } from '../colour/perceived';

const [width, height] = [160, 110];
const both = [
  [0, 1],
  [1, 0],
] as const;

test.each([
  [3, 0],
  [-2.5, 1.25],
  [14, -9],
])('ground that moves by %d, %d px is followed to a tenth of a pixel', async (dx, dy) => {
  const pictures = [groundBrightness(width, height, 0, 0), groundBrightness(width, height, dx, dy)];
  const [there, back] = await opticalFlow(pictures, [...both], defaultContext());
  const trip = roundTrip(there, back);
  let [sum, n, missed] = [0, 0, 0];
  for (let y = 16; y < height - 16; y++) {
    for (let x = 20; x < width - 20; x++) {
      const p = y * width + x;
      // What is seen at x here lies at x − dx there.
      sum += Math.hypot(there.u[p] + dx, there.v[p] + dy);
      n++;
      if (trip[p] > 0.5) missed++;
    }
  }
  expect(sum / n).toBeLessThan(0.1);
  expect(missed / n).toBeLessThan(0.02);
});

test('two motions are told apart, and what goes behind the ball does not come back', async () => {
  const frames = [50, 62].map((x) => ballFrame(width, height, { x, y: 55, radius: 24 }));
  const pictures = frames.map((f) => brightnessOf(f.picture, defaultContext()));
  const [there, back] = await opticalFlow(pictures, [...both], defaultContext());
  const at = (x: number, y: number): number => y * width + x;
  expect(there.u[at(50, 55)]).toBeCloseTo(12, 0);
  expect(Math.abs(there.u[at(120, 55)])).toBeLessThan(0.1);
  const trip = roundTrip(there, back);
  expect(trip[at(50, 55)]).toBeLessThan(0.5);
  // Six pixels before its front: ground that is hidden in the next frame.
  expect(trip[at(80, 55)]).toBeGreaterThan(1.5);
});

test('nothing moves between equal pictures, whatever they are; and a flow brings a picture where it lies', async () => {
  await fc.assert(
    fc.asyncProperty(fc.integer({ min: 16, max: 70 }), fc.integer({ min: 16, max: 70 }), fc.integer(), async (w, h, seed) => {
      const data = Float32Array.from({ length: w * h }, (_, i) => 0.5 + 0.5 * Math.sin(i * 12.9898 + seed));
      const [flow] = await opticalFlow([{ width: w, height: h, data }], [[0, 0]], defaultContext());
      expect(Math.max(...flow.u.map(Math.abs), ...flow.v.map(Math.abs))).toBeLessThan(1e-3);
    }),
    { numRuns: 20 },
  );
  const moved = broughtBy(
    { width: 4, height: 1, u: Float32Array.of(1, 1, 0.5, 9), v: new Float32Array(4) },
    { width: 4, height: 1, data: Float32Array.of(0, 10, 20, 30) },
  );
  expect([...moved.data]).toEqual([10, 20, 25, 30]);
});

test('helpers give the same bytes; a plain picture is no fault', async () => {
  const pictures = [groundBrightness(90, 60, 0, 0), groundBrightness(90, 60, 2, 1), makePlane(90, 60, 0.4)];
  const pairs = [...both, [0, 2] as const];
  const pool = halfPool([flowPair] as never);
  const [alone, helped] = [
    await opticalFlow(pictures, pairs, defaultContext()),
    await opticalFlow(pictures, pairs, defaultContext({ pool })),
  ];
  helped.forEach((flow, i) => expect([[...flow.u], [...flow.v]]).toEqual([[...alone[i].u], [...alone[i].v]]));
  expect(pool.done.flowPair).toBeGreaterThan(0);
  expect(alone[2].u.every(Number.isFinite)).toBe(true);
});

test('planes brought along a flow are what lies where it leads, between pixels too; borders are repeated', () => {
  const [w, h] = [7, 5];
  const ramp = Float32Array.from({ length: w * h }, (_, p) => (p % w) + 10 * Math.floor(p / w));
  const double = ramp.map((v) => 2 * v);
  const flow = { width: w, height: h, u: new Float32Array(w * h).fill(0.25), v: new Float32Array(w * h).fill(-0.5) };
  flow.u[0] = -9;
  const [one, two] = allBroughtBy(flow, [ramp, double]);
  for (let p = 1; p < w * h; p++) {
    const wanted = Math.min(w - 1, (p % w) + 0.25) + 10 * Math.max(0, Math.floor(p / w) - 0.5);
    expect(one[p]).toBeCloseTo(wanted, 5);
  }
  expect(one[0]).toBe(0);
  expect(two).toEqual(one.map((v) => 2 * v));
  expect(broughtBy(flow, { width: w, height: h, data: ramp }).data).toEqual(one);
});

test('flows that are known are given again from both sides: the first ones, as many as there is room for, and the last ones', async () => {
  const frames = [0, 2, 4, 6, 8, 10].map((dx, index) => ({ index, brightness: groundBrightness(64, 48, dx, 0) }));
  const flows = new KnownFlows(4 * 4 * 64 * 48);
  const of = (a: number, b: number): Promise<Flow[]> => flows.between(frames[a], frames[b], defaultContext());
  const [there, back] = await of(0, 1);
  expect(there.u[24 * 64 + 32]).toBeCloseTo(-2, 0);
  const second = await of(1, 2);
  expect((await of(1, 2))[0]).toBe(second[0]);
  for (const i of [2, 3, 4]) await of(i, i + 1);
  const again = await of(1, 0);
  expect(again[0]).toBe(back);
  expect(again[1]).toBe(there);
  const anew = await of(1, 2);
  expect(anew[0]).not.toBe(second[0]);
  expect(anew[0].u).toEqual(second[0].u);
});
