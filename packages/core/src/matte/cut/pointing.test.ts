import { defaultContext } from '../../runtime/context';
import { ballScene, pictureFrom } from '../../testing/scenes';
import { contoursOf } from './contours';
import { pointedSubject } from './findSubject';
import { gapsLike } from './gaps';
import { rasterRegions, type Region } from '../../raster/strokeCover';
import { rasterMarks } from './marks';
import { matteGround } from '../matte';
import { loopedThing, pointedThing } from './thing';
import { pathTo, snapped, waysAlong } from './snap';

const context = defaultContext();

describe('a line that follows contours', () => {
  /** A light square on a dark ground, its border between 29 and 30 and between 69 and 70. */
  const [w, h] = [100, 100];
  const light = Float32Array.from({ length: w * h }, (_, p) => {
    const [x, y] = [p % w, Math.floor(p / w)];
    return x >= 30 && x < 70 && y >= 30 && y < 70 ? 0.8 : 0.3;
  });
  const lab = { width: w, height: h, l: light, a: new Float32Array(w * h), b: new Float32Array(w * h) };

  test('keeps to the border around a corner, though straight across would be shorter', async () => {
    const contours = await contoursOf(lab, context);
    const ways = waysAlong(contours, snapped(contours, [31, 45]));
    const path = pathTo(ways, snapped(contours, [55, 32]));
    for (const [x, y] of path.slice(1, -1)) {
      const away = Math.min(Math.abs(x - 30), Math.abs(y - 30));
      expect(away).toBeLessThan(2.6);
    }
    // Straight it would be 28 px long, around the corner 40.
    const length = path.slice(1).reduce((sum, [x, y], i) => sum + Math.hypot(x - path[i][0], y - path[i][1]), 0);
    expect(length).toBeGreaterThan(33);
  });

  test('begins and ends where it is asked to, and steps to neighbours only', async () => {
    const ways = waysAlong(await contoursOf(lab, context), [5, 90]);
    const path = pathTo(ways, [80, 12]);
    expect(path[0]).toEqual([5.5, 90.5]);
    expect(path[path.length - 1]).toEqual([80.5, 12.5]);
    path.slice(1).forEach(([x, y], i) => expect(Math.max(Math.abs(x - path[i][0]), Math.abs(y - path[i][1]))).toBeLessThanOrEqual(2));
  });

  test('a press beside a border is moved onto it, one in the open stays about where it is', async () => {
    const contours = await contoursOf(lab, context);
    const [x] = snapped(contours, [33, 50]);
    expect([29, 30]).toContain(x);
    const [u, v] = snapped(contours, [10.5, 10.5]);
    expect(Math.hypot(u - 10, v - 10)).toBeLessThan(6);
  });
});

describe('a thing that is pressed', () => {
  const [w, h] = [240, 160];
  const noise = (x: number, y: number): number => 0.03 * Math.sin(12.9898 * x + 78.233 * y);
  const pot = (x: number, y: number): boolean => Math.hypot(x - 60, y - 100) < 16;
  const scene = pictureFrom(w, h, (x, y) => {
    const n = noise(x, y);
    if (pot(x, y)) return [0.5 + n, 0.12 + n, 0.1 + n];
    return y > 90 ? [0.3 + n, 0.26 + n, 0.2 + n] : [0.2 + n, 0.3 + n, 0.5 + n];
  });
  const covered = (regions: Region[]): { iou: number } => {
    const { data } = rasterRegions(regions, w, h, 1);
    let [both, any] = [0, 0];
    for (let p = 0; p < data.length; p++) {
      const [a, b] = [data[p] > 0.5, pot((p % w) + 0.5, Math.floor(p / w) + 0.5)];
      if (a && b) both++;
      if (a || b) any++;
    }
    return { iou: both / any };
  };

  test('is found by a press, and by a loop around it, and nothing beside it', async () => {
    const ground = await matteGround(scene, context);
    expect(covered(await pointedThing(ground, [64, 96], context)).iou).toBeGreaterThan(0.85);
    const loop = [[36, 76], [84, 78], [86, 124], [38, 122]] as [number, number][]; // prettier-ignore
    expect(covered(await loopedThing(ground, loop, context)).iou).toBeGreaterThan(0.85);
  });

  test('is nothing where all is alike, or beside the picture', async () => {
    expect(await pointedThing(await matteGround(scene, context), [w + 40, 100], context)).toEqual([]);
    const even = await matteGround(
      pictureFrom(w, h, (x, y) => [0.3 + noise(x, y), 0.3, 0.3]),
      context,
    );
    expect(await pointedThing(even, [120, 80], context)).toEqual([]);
  });
});

describe('gaps', () => {
  /** A rack: a red plate with six blue windows, before blue. */
  const windows = [0, 1, 2, 3, 4, 5].map((k) => [40 + 40 * (k % 3), 40 + 40 * Math.floor(k / 3)]);
  const isGap = (x: number, y: number): boolean => windows.some(([u, v]) => Math.abs(x - u) < 9 && Math.abs(y - v) < 9);
  const plate = (x: number, y: number): boolean => x > 20 && x < 140 && y > 20 && y < 100;
  const shot = pictureFrom(160, 120, (x, y) => (plate(x, y) && !isGap(x, y) ? [0.5, 0.1, 0.08] : [0.08, 0.15, 0.5]));
  const filled = {
    width: 160,
    height: 120,
    data: Float32Array.from({ length: 160 * 120 }, (_, p) => (plate(p % 160, Math.floor(p / 160)) ? 1 : 0)),
  };

  test('like the pressed one are all found, that one first, and nothing else', async () => {
    const marks = gapsLike(await matteGround(shot, context), filled, [80, 80], 1);
    expect(marks).toHaveLength(6);
    const xs = marks[0].points.map(([x]) => x);
    expect((Math.min(...xs) + Math.max(...xs)) / 2).toBeCloseTo(80, -0.5);
    const codes = rasterMarks(marks, 160, 120, 1);
    let [gap, other] = [0, 0];
    codes.forEach((c, p) => {
      if (c === 0) return;
      if (isGap(p % 160, Math.floor(p / 160))) gap++;
      else other++;
    });
    expect(gap).toBeGreaterThan(0.8 * 6 * 17 * 17);
    expect(other).toBeLessThan(0.15 * gap);
  });

  test('a press on what goes on without end is none', async () => {
    expect(gapsLike(await matteGround(shot, context), filled, [5, 5], 1)).toEqual([]);
  });
});

test('a press on a thing proposes it', async () => {
  const { shot, matte: truth } = ballScene(160, 120, 2);
  const [best] = await pointedSubject(await matteGround(shot, context), [85, 62], context);
  const scale = best.width / 160;
  let [both, any] = [0, 0];
  best.label.forEach((v, p) => {
    const t = truth.data[Math.floor(Math.floor(p / best.width) / scale) * 160 + Math.floor((p % best.width) / scale)] > 0.5;
    both += v && t ? 1 : 0;
    any += v || t ? 1 : 0;
  });
  expect(both / any).toBeGreaterThan(0.85);
  expect(best.marks.some((m) => m.kind === 'inside')).toBe(true);
});
