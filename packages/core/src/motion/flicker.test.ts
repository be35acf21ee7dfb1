import { defaultContext } from '../runtime/context';
import { checkFlicker } from '../proof/checks/pictures';
import { ballScene } from '../testing/scenes';
import type { Plane } from '../raster/plane';
import { flickerOf, type SeenMatte } from './flicker';
import { flickerTrial } from './flickerTrials';
import type { Flow } from './flow';

const context = defaultContext();
const still = (width: number, height: number): Flow => ({ width, height, u: new Float32Array(width * height), v: new Float32Array(width * height) }); // prettier-ignore

/** A matte of a picture that is as bright everywhere. */
const seen = (matte: Plane, brightness = 0.4): SeenMatte => ({ matte, brightness: { ...matte, data: new Float32Array(matte.data.length).fill(brightness) } }); // prettier-ignore

test('a matte that stays changes by nothing, one that grows everywhere by what it grew', () => {
  const { matte: alpha } = ballScene(80, 60, 4);
  const flow = still(80, 60);
  expect(flickerOf(seen(alpha), seen(alpha), flow, flow)!.change).toBe(0);
  const pale = { ...alpha, data: alpha.data.map((a) => 0.8 * a) };
  const found = flickerOf(seen(alpha), seen(pale), flow, flow)!;
  expect(found.change).toBeGreaterThan(0.05);
  expect(found.change).toBeLessThan(0.2);
});

test('where nothing has an edge, or flow comes back elsewhere, it is not known', () => {
  const { matte: alpha } = ballScene(80, 60, 4);
  const flow = still(80, 60);
  expect(flickerOf(seen(alpha), seen({ ...alpha, data: new Float32Array(alpha.data.length) }), flow, flow)).toBeUndefined();
  const lost = { ...flow, u: new Float32Array(flow.u.length).fill(3) };
  expect(flickerOf(seen(alpha), seen(alpha), lost, flow)).toBeUndefined();
  // Flow that comes back, but brings another brightness.
  expect(flickerOf(seen(alpha), seen(alpha, 0.6), flow, flow)).toBeUndefined();
  expect(checkFlicker([], 1).verdict).toBe('unknown');
  expect(checkFlicker(undefined, 1).why).toBe('It is a still.');
});

test('its places are where it is worst, on the frame that it is on', () => {
  const check = checkFlicker([{ change: 0.1, at: { x: 1, y: 1 }, frame: 2 }, { change: 0.3, at: { x: 30, y: 20 }, frame: 5 }], 0.5); // prettier-ignore
  expect(check).toMatchObject({ verdict: 'look', figure: 30 });
  expect(check.places).toHaveLength(1);
  expect(check.places[0]).toMatchObject({ frame: 5, on: 'shot' });
  expect(check.places[0].x + check.places[0].width / 2).toBeCloseTo(60, 6);
});

test('a change at one side of a long edge is told as much as one all along, and at its place', () => {
  const { matte: alpha } = ballScene(240, 180, 4);
  const flow = still(240, 180);
  const pale = (isHere: (x: number) => boolean): Plane => ({ ...alpha, data: alpha.data.map((a, p) => (isHere(p % 240) ? 0.6 * a : a)) });
  const [all, side] = [() => true, (x: number) => x < 80].map((isHere) => flickerOf(seen(alpha), seen(pale(isHere)), flow, flow)!);
  expect(side.change).toBeGreaterThan(0.8 * all.change);
  expect(side.at.x).toBeLessThan(80);
});

test('of made-up frames most that flicker are found, all along or in a part, and hardly one that only moves', async () => {
  const seeds = [100, 101, 102, 103, 104];
  let [found, known, parts, placed, alarms] = [0, 0, 0, 0, 0];
  for (const seed of seeds) {
    for (const fault of ['whole', 'part'] as const) {
      const { check, placed: isThere } = await flickerTrial(seed, fault, context);
      if (check.verdict === 'unknown') continue;
      known++;
      if (check.verdict === 'look') found++;
      if (fault === 'part') [parts, placed] = [parts + 1, placed + Number(isThere)];
    }
    if ((await flickerTrial(seed, 'none', context)).check.verdict === 'look') alarms++;
  }
  // An edge before ground without a contour is not known.
  expect(known).toBeGreaterThanOrEqual(2 * (seeds.length - 1));
  expect(found / known).toBeGreaterThanOrEqual(0.9);
  expect(placed / parts).toBeGreaterThanOrEqual(0.9);
  expect(alarms / seeds.length).toBeLessThanOrEqual(0.1);
});
