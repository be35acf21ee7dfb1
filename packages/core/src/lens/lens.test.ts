import fc from 'fast-check';
import { defaultContext } from '../runtime/context';
import { makePicture, type Plane } from '../raster/plane';
import { largestDifference, pictureFrom, planeFrom, sum } from '../testing/scenes';
import { discBlur } from './defocus';
import { blurDiscAt, fNumberFor, sharpZone, type Lens } from './thinLens';

const context = defaultContext();
/** One plane spread by a disc. */
const discBlurPlane = async (p: Plane, diameter: number): Promise<Plane> => {
  const { r } = await discBlur({ width: p.width, height: p.height, r: p.data, g: p.data, b: p.data }, diameter, context);
  return { ...p, data: r };
};
const lens: Lens = { focalLength: 85, sensorWidth: 36, fNumber: 1.4, focus: 3 };

describe('the thin lens', () => {
  test('gives the published figures', () => {
    // A = 60.71 mm; at infinity c = A·f/(s − f) = 1.7704 mm on a 36 mm sensor: 4.918 % of the width.
    expect(blurDiscAt(lens, Infinity, 1)).toBeCloseTo((0.06071 * (0.085 / (3 - 0.085))) / 0.036, 5);
    expect(blurDiscAt(lens, 6, 1800)).toBeCloseTo(blurDiscAt(lens, Infinity, 1800) / 2, 6);
    expect(blurDiscAt(lens, 3, 1800)).toBe(0);
  });

  test('twice the f-number is half the disc; nearer than the focus it grows fast', () => {
    expect(blurDiscAt({ ...lens, fNumber: 2.8 }, 10, 1800)).toBeCloseTo(blurDiscAt(lens, 10, 1800) / 2, 6);
    expect(blurDiscAt(lens, 1, 1800)).toBeCloseTo(2 * blurDiscAt(lens, Infinity, 1800), 6);
  });

  test('the f-number for a wanted disc gives that disc', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.5, max: 100, noNaN: true }), fc.double({ min: 1, max: 200, noNaN: true }), (distance, wanted) => {
        fc.pre(Math.abs(distance - lens.focus) > 0.05);
        const fNumber = fNumberFor(lens, distance, 1800, wanted);
        expect(blurDiscAt({ ...lens, fNumber }, distance, 1800)).toBeCloseTo(wanted, 6);
      }),
    );
  });

  test('at the ends of the sharp zone the disc is the one asked for', () => {
    const [near, far] = sharpZone(lens, 1800, 3);
    expect(blurDiscAt(lens, near, 1800)).toBeCloseTo(3, 6);
    expect(blurDiscAt(lens, far, 1800)).toBeCloseTo(3, 6);
    expect(sharpZone({ ...lens, fNumber: 64 }, 1800, 3)[1]).toBe(Infinity);
  });
});

describe('disc blur', () => {
  test.each([3, 7.5, 16, 41.3])('a point becomes a disc of %d px that holds its energy', async (diameter) => {
    const size = 101;
    const point = planeFrom(size, size, (x, y) => (x === 50 && y === 50 ? 1000 : 0));
    const out = await discBlurPlane(point, diameter);
    expect(sum(out.data) / 1000).toBeCloseTo(1, 3);
    const level = 1000 / (Math.PI * (diameter / 2) ** 2);
    for (const cut of [(k: number) => out.data[50 * size + k], (k: number) => out.data[k * size + 50]]) {
      let width = 0;
      for (let k = 0; k < size; k++) width += Math.min(1, cut(k) / level);
      expect(Math.abs(width - diameter)).toBeLessThan(1);
    }
    // Round: the same along the diagonal.
    let across = 0;
    for (let k = 0; k < size; k++) across += Math.min(1, out.data[k * size + k] / level) * Math.SQRT2;
    expect(Math.abs(across - diameter)).toBeLessThan(1.5);
  });

  test('equals the sum over the disc, written out', async () => {
    const [w, h, d] = [33, 27, 8];
    const p = planeFrom(w, h, (x, y) => ((x * 7 + y * 13) % 11) / 11);
    const out = await discBlurPlane(p, d);
    // Weights by counting 20 × 20 points in each pixel of the kernel.
    let worst = 0;
    for (const [x, y] of [
      [16, 13],
      [2, 3],
      [30, 25],
    ]) {
      let value = 0;
      let total = 0;
      for (let dy = -5; dy <= 5; dy++) {
        for (let dx = -5; dx <= 5; dx++) {
          let inside = 0;
          for (let i = 0; i < 400; i++)
            if (Math.hypot(dx + ((i % 20) + 0.5) / 20 - 0.5, dy + (Math.floor(i / 20) + 0.5) / 20 - 0.5) <= d / 2) inside++;
          total += inside;
          value += inside * p.data[Math.min(h - 1, Math.max(0, y + dy)) * w + Math.min(w - 1, Math.max(0, x + dx))];
        }
      }
      worst = Math.max(worst, Math.abs(value / total - out.data[y * w + x]));
    }
    expect(worst).toBeLessThan(0.015);
  });

  test('a constant picture stays constant to the border', async () => {
    const out = await discBlur(
      pictureFrom(50, 40, () => [0.25, 0.5, 2]),
      23,
      context,
    );
    expect(largestDifference(out.r, new Float32Array(2000).fill(0.25))).toBeLessThan(1e-4);
    expect(largestDifference(out.b, new Float32Array(2000).fill(2))).toBeLessThan(1e-3);
  });

  test('is even: a mirrored picture gives the mirrored blur', async () => {
    const p = planeFrom(31, 19, (x, y) => (x * x + 3 * y) % 7);
    const mirrored = planeFrom(31, 19, (x, y) => p.data[y * 31 + 30 - x]);
    const [a, b] = [await discBlurPlane(p, 9.3), await discBlurPlane(mirrored, 9.3)];
    expect(largestDifference(b.data, planeFrom(31, 19, (x, y) => a.data[y * 31 + 30 - x]).data)).toBeLessThan(1e-4);
  });

  test('a card with opacity keeps its colour and stands free', async () => {
    const card = makePicture(40, 40, 0);
    for (let y = 10; y < 30; y++)
      for (let x = 10; x < 30; x++) {
        card.r[y * 40 + x] = 0.7;
        card.a![y * 40 + x] = 1;
      }
    const out = await discBlur(card, 10, context);
    expect(out.a![20 * 40 + 20]).toBeCloseTo(1, 3);
    expect(out.a![20 * 40 + 10]).toBeGreaterThan(0.3);
    expect(out.a![20 * 40 + 10]).toBeLessThan(0.7);
    expect(out.r.filter((v, i) => out.a![i] > 0.01 && Math.abs(v - 0.7) > 1e-3)).toHaveLength(0);
    expect(sum(out.a!)).toBeCloseTo(400, 0);
  });

  test('no blur returns the very picture', async () => {
    const p = pictureFrom(4, 4, () => [1, 1, 1]);
    expect(await discBlur(p, 0.5, context)).toBe(p);
  });
});

describe('a large disc, laid at half the size', () => {
  const lamps = planeFrom(160, 121, (x, y) => ((x === 70 && y === 60) || (x === 20 && y === 30) ? 500 : 0.2 + 0.1 * Math.sin(x / 11)));
  /** The same disc written out: every pixel’s mean over it, its rim antialiased by sixteen samples a pixel. */
  const exact = (diameter: number, x: number, y: number): number => {
    const r = diameter / 2;
    let [total, weight] = [0, 0];
    for (let dy = -Math.ceil(r); dy <= Math.ceil(r); dy++) {
      for (let dx = -Math.ceil(r); dx <= Math.ceil(r); dx++) {
        let inside = 0;
        for (let k = 0; k < 16; k++) if (Math.hypot(dx - 0.375 + (k % 4) / 4, dy - 0.375 + (k >> 2) / 4) < r) inside++;
        const sx = Math.min(159, Math.max(0, x + dx));
        const sy = Math.min(120, Math.max(0, y + dy));
        total += inside * lamps.data[sy * 160 + sx];
        weight += inside;
      }
    }
    return total / weight;
  };

  test.each([33, 48, 70])('of %d px equals the disc away from its rim, and is never negative', async (diameter) => {
    const out = await discBlurPlane(lamps, diameter);
    expect([out.width, out.height]).toEqual([160, 121]);
    expect(Math.min(...out.data)).toBeGreaterThan(0);
    const level = 500 / (Math.PI * (diameter / 2) ** 2);
    for (const [x, y] of [
      [70, 60],
      [75, 55],
      [20, 30],
      [110, 100],
      [150, 10],
    ]) {
      const rim = Math.min(Math.abs(Math.hypot(x - 70, y - 60) - diameter / 2), Math.abs(Math.hypot(x - 20, y - 30) - diameter / 2));
      if (rim > 4) expect(Math.abs(out.data[y * 160 + x] - exact(diameter, x, y))).toBeLessThan(0.04 * level + 0.004);
    }
  });

  test('its rim is no wider than a tenth of it', async () => {
    const diameter = 60;
    const point = planeFrom(141, 141, (x, y) => (x === 70 && y === 70 ? 1e4 : 0));
    const out = await discBlurPlane(point, diameter);
    const level = 1e4 / (Math.PI * (diameter / 2) ** 2);
    let soft = 0;
    for (let x = 70; x < 141; x++) {
      const v = out.data[70 * 141 + x] / level;
      if (v > 0.05 && v < 0.95) soft++;
    }
    expect(soft).toBeLessThanOrEqual(diameter / 10);
    expect(sum(out.data) / 1e4).toBeCloseTo(1, 2);
  });
});
