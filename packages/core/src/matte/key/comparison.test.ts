import { defaultContext } from '../../runtime/context';
import { makePlane, type Picture } from '../../raster/plane';
import { seeded } from '../../raster/random';
import { pictureFrom, planeFrom } from '../../testing/scenes';
import { compared, evidenceOf, inItsLight, unexplainedBy } from './comparison';

const context = defaultContext();
// Higher than a band, and of a width that is no multiple of four.
const [width, height] = [61, 75];
const random = seeded(4);
/** Textured ground; in the shot it lies in shadow to the left, and a grey board covers a part of it. */
const behind = pictureFrom(width, height, () => [0.3 + 0.3 * random(), 0.3 + 0.3 * random(), 0.3 + 0.3 * random()]);
const isBoard = (x: number, y: number): boolean => x >= 34 && x < 52 && y >= 20 && y < 60;
const light: Picture = pictureFrom(width, height, (x, y) => {
  const p = y * width + x;
  if (isBoard(x, y)) return [0.9, 0.9, 0.9];
  const shade = x < 20 ? 0.6 : 1;
  return [shade * behind.r[p], shade * behind.g[p], shade * behind.b[p]];
});
const seen = makePlane(width, height, 1);

/** Mean over 5 × 5 pixels, borders repeated. */
function mean(value: (p: number) => number, x: number, y: number): number {
  let sum = 0;
  for (let j = -2; j <= 2; j++) {
    for (let i = -2; i <= 2; i++) {
      sum += value(Math.min(height - 1, Math.max(0, y + j)) * width + Math.min(width - 1, Math.max(0, x + i)));
    }
  }
  return sum / 25;
}

describe('a shot beside the ground', () => {
  const comparison = compared(light, behind, seen, context);

  test('the shadow is found with its depth and its texture, what covers the ground is not taken for one', async () => {
    const { factor, certain, plain, around } = await comparison;
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const p = y * width + x;
        if (x < 17) {
          expect(factor[p]).toBeCloseTo(0.6, 4);
          expect(certain[p]).toBe(1);
        } else if (x > 23 && !(x > 30 && x < 56 && y > 16 && y < 64)) expect(factor[p]).toBe(0);
        if (isBoard(x - 3, y - 3) && isBoard(x + 3, y + 3)) expect([factor[p], plain[p]]).toEqual([0, 1]);
        if (x > 23 && x < 30) expect(plain[p]).toBe(0);
        if (x > 23 && x < 30) expect(around[p]).toBe(0);
      }
    }
  });

  test('evidence speaks for the board, against what surely shows the ground, and not where nothing is known', async () => {
    const half = planeFrom(width, height, (x) => (x < 40 ? 1 : 0.2));
    const evidence = evidenceOf(await comparison, half, 4);
    expect(evidence[40 * width + 38]).toBe(6);
    expect(evidence[40 * width + 8]).toBe(-16);
    expect(evidence[40 * width + 28]).toBeLessThan(0);
    expect(evidence[40 * width + 45]).toBe(0);
  });

  test('the ground is lit as it is seen, and as around where it is hidden', async () => {
    const known = planeFrom(width, height, (x, y) => (isBoard(x, y) || (x > 5 && x < 14 && y > 30 && y < 40) ? 0 : 1)).data;
    const lit = await inItsLight(await comparison, known, context);
    for (const [x, y] of [
      [2, 5],
      [56, 70],
      [10, 10],
      [30, 40],
    ]) {
      const p = y * width + x;
      const both = mean((q) => known[q] * light.g[q] * behind.g[q], x, y) + 1e-4;
      const own = mean((q) => known[q] * behind.g[q] ** 2, x, y) + 1e-4;
      expect(lit.g[p]).toBeCloseTo((both / own) * behind.g[p], 4);
    }
    // Hidden within the shadow: still in shadow.
    expect(lit.r[35 * width + 9] / behind.r[35 * width + 9]).toBeCloseTo(0.6, 1);
    expect(lit.r[40 * width + 43] / behind.r[40 * width + 43]).toBeGreaterThan(0.8);
  });

  test('what no mixture explains is told where it is open and no ground', async () => {
    const open = planeFrom(width, height, (x) => (x > 30 ? 1 : 0)).data;
    const left = planeFrom(width, height, (x, y) => (isBoard(x, y) ? 0.3 : 0)).data;
    const bare = await unexplainedBy(behind, light, open, left, context);
    expect(bare[40 * width + 42]).toBe(1);
    expect(bare[5 * width + 42]).toBe(0);
    expect(bare[40 * width + 10]).toBe(0);
    const speck = new Float32Array(left.length);
    speck[40 * width + 42] = 0.3;
    expect((await unexplainedBy(behind, light, open, speck, context))[40 * width + 42]).toBe(0);
  });
});
