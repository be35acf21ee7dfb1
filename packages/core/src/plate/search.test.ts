import { defaultContext } from '../runtime/context';
import type { Picture, Plane } from '../raster/plane';
import { seeded } from '../raster/random';
import { pictureFrom, planeFrom } from '../testing/scenes';
import { continueLines } from './continueLines';
import { betterPatches, carriedOver, carriedSource, indicesOf, vote } from './nearestPatches';
import { brightnessOf, makeLevel, reach, type PatchLevel } from './patchLevel';

const context = defaultContext();
const width = 90;
const height = 60;
const random = seeded(2);
/** Squares of three greys, as a mosaic. */
const tones = Array.from({ length: 400 }, () => 0.1 + 0.25 * Math.floor(3 * random()));
const mosaic = pictureFrom(width, height, (x, y) => {
  const v = tones[20 * Math.floor(y / 5) + Math.floor(x / 5)];
  return [v, v, v];
});
const hole = planeFrom(width, height, (x, y) => (x >= 38 && x < 52 && y >= 24 && y < 36 ? 1 : 0));
const everywhere = planeFrom(width, height, () => 1);

function levelOf(picture: Picture, open: Plane, allowed = everywhere): PatchLevel {
  return makeLevel(picture, { picture, hole: open }, allowed);
}

describe('a level of the search', () => {
  const level = levelOf(mosaic, hole);

  test('sources touch neither hole nor border, targets hold something open', () => {
    const corners = [-reach * (width + 1), reach * (width + 1), -reach * (width - 1), reach * (width - 1)];
    const wrong = indicesOf(level.source).filter((q) => {
      const [x, y] = [q % width, Math.floor(q / width)];
      return x < reach || y < reach || x >= width - reach || y >= height - reach || corners.some((o) => hole.data[q + o] !== 0);
    });
    expect([...wrong]).toEqual([]);
    expect(indicesOf(level.target)).toHaveLength((14 + 2 * reach) * (12 + 2 * reach));
    expect(level.box).toEqual({ x: 38 - reach, y: 24 - reach, width: 14 + 2 * reach, height: 12 + 2 * reach });
  });

  test('what may not be copied is no source', () => {
    const left = planeFrom(width, height, (x) => (x < 30 ? 1 : 0));
    const few = levelOf(mosaic, hole, left);
    expect(indicesOf(few.source).every((q) => q % width < 30 - reach)).toBe(true);
  });

  test('colours are packed so that their differences can be told', () => {
    const two = levelOf(
      pictureFrom(20, 20, (x) => (x < 10 ? [1, 0, 0] : [0, 1, 0])),
      planeFrom(20, 20, () => 0),
    );
    expect([two.codes[0], two.codes[15]].map((code) => code & 0xffffff)).toEqual([0xff, 0xff00]);
    expect(brightnessOf(two.codes[15])).toBeGreaterThan(brightnessOf(two.codes[0]));
  });
});

describe('what a source costs', () => {
  /** Of one source for one target. */
  async function costOf(level: PatchLevel, p: number, q: number): Promise<number> {
    const near = { at: new Int32Array(width * height).fill(q), cost: new Int32Array(width * height) };
    await betterPatches(level, near, { rounds: 0, far: 1, seed: 1 }, context);
    return near.cost[p];
  }

  test('upwards more than sideways, nothing in place', async () => {
    const flat = levelOf(
      pictureFrom(width, height, () => [0.3, 0.3, 0.3]),
      hole,
    );
    const at = (x: number, y: number): Promise<number> => costOf(flat, 30 * width + 45, y * width + x);
    expect(await at(45, 30)).toBe(0);
    expect(await at(45, 40)).toBe(Math.floor((441_000 * 100) / 90 ** 2));
    expect(await at(45, 40)).toBeGreaterThan(5 * (await at(55, 30)));
  });

  test('squared differences of colours and slopes, pixel by pixel', async () => {
    const noise = pictureFrom(width, height, () => [random(), random(), random()]);
    const level = { ...levelOf(noise, hole), guide: new Int32Array(width * height) };
    const [p, q] = [30 * width + 45, 30 * width + 12];
    let sum = Math.floor((44_100 * 33 ** 2) / 90 ** 2);
    for (let dy = -reach; dy <= reach; dy++) {
      for (let dx = -reach; dx <= reach; dx++) {
        const [u, v] = [p, q].map((c) => level.codes[c + dy * width + dx]);
        for (const [shift, bits, weight] of [[0, 255, 1], [8, 255, 1], [16, 255, 1], [24, 15, 36], [28, 15, 36]]) sum += weight * (((u >>> shift) & bits) - ((v >>> shift) & bits)) ** 2; // prettier-ignore
      }
    }
    expect(await costOf(level, p, q)).toBe(sum);
  });
});

describe('the search', () => {
  test('finds the patch that is the same, where there is one', async () => {
    // The left half stands again 45 px to the right; the hole is in the right half.
    const twice = pictureFrom(width, height, (x, y) => {
      const v = tones[20 * Math.floor(y / 4) + Math.floor((x % 45) / 4)];
      return [v, v, v];
    });
    const open = planeFrom(width, height, (x, y) => (x >= 62 && x < 70 && y >= 26 && y < 34 ? 1 : 0));
    const level = levelOf(twice, open);
    const near = carriedOver(level, level, new Int32Array(width * height).fill(-1), 1);
    await betterPatches(level, near, { rounds: 8, far: width, seed: 1 }, context);
    const right = indicesOf(level.target).filter((p) => near.at[p] === p - 45).length;
    expect(right).toBeGreaterThan(0.7 * indicesOf(level.target).length);
    vote(level, near);
    const worst = indicesOf(Uint8Array.from(open.data)).map((p) => Math.abs(level.colour.r[p] - twice.r[p]));
    expect([...worst].sort((a, b) => a - b)[Math.floor(worst.length / 2)]).toBeLessThan(0.02);
  });

  test('a search never makes a patch worse, and the same seed gives the same', async () => {
    const run = async () => {
      const level = levelOf(mosaic, hole);
      const near = carriedOver(level, level, new Int32Array(width * height).fill(-1), 7);
      await betterPatches(level, near, { rounds: 1, far: 40, seed: 7 }, context);
      const first = near.cost.slice();
      await betterPatches(level, near, { rounds: 2, far: 40, seed: 8 }, context);
      return { first, near };
    };
    const [a, b] = [await run(), await run()];
    expect(a.near.at).toEqual(b.near.at);
    expect(a.near.cost.every((c, p) => c <= a.first[p])).toBe(true);
  });

  test('shifts carried to twice the size lead to the same places', () => {
    const small = levelOf(mosaic, hole);
    const from = new Int32Array(width * height).fill(-1);
    for (const p of indicesOf(small.target)) from[p] = p - 25;
    const double = pictureFrom(2 * width, 2 * height, (x, y) => [mosaic.r[(y >> 1) * width + (x >> 1)], 0, 0]);
    const large = makeLevel(double, { picture: double, hole: planeFrom(2 * width, 2 * height, (x, y) => hole.data[(y >> 1) * width + (x >> 1)]) }, planeFrom(2 * width, 2 * height, () => 1)); // prettier-ignore
    const near = carriedOver(large, small, from, 1);
    for (const p of indicesOf(large.target)) expect(near.at[p]).toBe(p - 50);
  });
});

describe('a shift at another size', () => {
  const copied = { width: 4, height: 3, from: new Int32Array(12).fill(-1) };
  copied.from[1 * 4 + 2] = 1 * 4 + 0;
  const size = { width: 8, height: 6 };
  const all = (): boolean => true;

  test('is the pixel’s own, in the larger picture’s pixels', () => {
    expect(carriedSource(4, 2, size, copied, all, 0)).toBe(2 * 8 + 0);
    expect(carriedSource(5, 3, size, copied, all, 0)).toBe(3 * 8 + 1);
  });

  test('is a neighbour’s where there is none, as far as is looked', () => {
    expect(carriedSource(6, 2, size, copied, all, 0)).toBe(-1);
    expect(carriedSource(6, 2, size, copied, all, 1)).toBe(2 * 8 + 2);
    expect(carriedSource(0, 2, size, copied, all, 1)).toBe(-1);
  });

  test('never leads outside, or to what is no source', () => {
    expect(carriedSource(4, 2, size, copied, () => false, 2)).toBe(-1);
    // Two to the left of the first columns lies nothing.
    expect(carriedSource(2, 2, size, copied, all, 1)).toBe(-1);
    const few = (q: number): boolean => q !== 16;
    expect(carriedSource(4, 2, size, copied, few, 0)).toBe(-1);
    expect(carriedSource(5, 2, size, copied, few, 0)).toBe(17);
  });
});

describe('lines', () => {
  test('run on through the hole from both sides', async () => {
    const bar = pictureFrom(width, height, (_, y) => (y >= 28 && y < 32 ? [0.7, 0.1, 0.1] : [0.2, 0.25, 0.3]));
    const blank = { ...bar, r: bar.r.map((v, p) => (hole.data[p] ? 0.4 : v)) };
    const level = makeLevel(blank, { picture: blank, hole }, everywhere);
    const from = await continueLines(level, 1, context);
    for (let x = 38; x < 52; x++) {
      expect(level.colour.r[30 * width + x]).toBeCloseTo(0.7, 4);
      expect(level.colour.r[25 * width + x]).toBeCloseTo(0.2, 4);
    }
    expect(indicesOf(Uint8Array.from(hole.data)).every((p) => from[p] >= 0 && hole.data[from[p]] === 0)).toBe(true);
  });
});
