import { defaultContext } from '../runtime/context';
import { checkFlicker } from '../proof/checks/pictures';
import { ballScene } from '../testing/scenes';
import { flickerOf } from './flicker';
import { flickerTrial } from './flickerTrials';
import type { Flow } from './flow';

const context = defaultContext();
const still = (width: number, height: number): Flow => ({ width, height, u: new Float32Array(width * height), v: new Float32Array(width * height) }); // prettier-ignore

test('a matte that stays changes by nothing, one that grows everywhere by what it grew', () => {
  const { matte: alpha } = ballScene(80, 60, 4);
  const flow = still(80, 60);
  expect(flickerOf(alpha, alpha, flow, flow)!.change).toBe(0);
  const pale = { ...alpha, data: alpha.data.map((a) => 0.8 * a) };
  const found = flickerOf(alpha, pale, flow, flow)!;
  expect(found.change).toBeGreaterThan(0.05);
  expect(found.change).toBeLessThan(0.2);
});

test('where nothing has an edge, or flow comes back elsewhere, it is not known', () => {
  const { matte: alpha } = ballScene(80, 60, 4);
  const flow = still(80, 60);
  expect(flickerOf(alpha, { ...alpha, data: new Float32Array(alpha.data.length) }, flow, flow)).toBeUndefined();
  const lost = { ...flow, u: new Float32Array(flow.u.length).fill(3) };
  expect(flickerOf(alpha, alpha, lost, flow)).toBeUndefined();
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

test('of made-up frames most that flicker are found, and hardly one that only moves', async () => {
  const seeds = [0, 3, 1, 7, 2, 11];
  let [found, alarms] = [0, 0];
  for (const seed of seeds) {
    if ((await flickerTrial(seed, true, context)).verdict === 'look') found++;
    if ((await flickerTrial(seed, false, context)).verdict === 'look') alarms++;
  }
  expect(found / seeds.length).toBeGreaterThanOrEqual(0.9);
  expect(alarms / seeds.length).toBeLessThanOrEqual(0.1);
});
