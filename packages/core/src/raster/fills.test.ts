import fc from 'fast-check';
import { planeFrom, sum } from '../testing/scenes';
import { fillPolygon, fillPolygons } from './fillPolygon';
import { outlineOf, thinned } from './outline';
import { makePlane, meanColour } from './plane';
import { pushPull } from './pushPull';

describe('a filled polygon', () => {
  test('covers its area, in parts of pixels too', () => {
    const square = fillPolygon(
      [
        [2.5, 3],
        [7.25, 3],
        [7.25, 6.5],
        [2.5, 6.5],
      ],
      12,
      10,
    );
    expect(sum(square.data)).toBeCloseTo(4.75 * 3.5, 5);
    expect(square.data[4 * 12 + 4]).toBe(1);
    expect(square.data[4 * 12 + 2]).toBeCloseTo(0.5, 6);
    expect(square.data[6 * 12 + 4]).toBeCloseTo(0.5, 6);
  });

  test('is empty with fewer than three corners, and keeps to the picture', () => {
    expect(
      sum(
        fillPolygon(
          [
            [0, 0],
            [5, 5],
          ],
          8,
          8,
        ).data,
      ),
    ).toBe(0);
    const all = fillPolygon(
      [
        [-50, -50],
        [90, -50],
        [90, 90],
        [-50, 90],
      ],
      8,
      6,
    );
    expect(all.data.every((v) => v === 1)).toBe(true);
  });

  test('a pixel is as full as an odd number of ways around it say, however they cross and wherever they leave the picture', () => {
    const corner = fc
      .tuple(fc.integer({ min: -24, max: 72 }), fc.integer({ min: -24, max: 72 }))
      .map(([x, y]): [number, number] => [x / 5, y / 4]);
    const rings = fc.array(fc.array(corner, { maxLength: 7 }), { minLength: 1, maxLength: 3 });
    /** By a ray to the left. */
    const isInside = (all: [number, number][][], x: number, y: number): boolean =>
      all
        .filter((ring) => ring.length >= 3)
        .flatMap((ring) => ring.map((a, i) => [a, ring[(i + 1) % ring.length]] as const))
        .filter(([a, b]) => a[1] <= y !== b[1] <= y && a[0] + ((y - a[1]) * (b[0] - a[0])) / (b[1] - a[1]) < x).length %
        2 ===
      1;
    const [width, height, samples] = [9, 7, 40];
    fc.assert(
      fc.property(rings, fc.nat(width - 1), fc.nat(height - 1), (all, x, y) => {
        let share = 0;
        for (let k = 0; k < 4; k++) {
          for (let i = 0; i < samples; i++) if (isInside(all, x + (i + 0.5) / samples, y + (k + 0.5) / 4)) share += 1 / (4 * samples);
        }
        expect(Math.abs(fillPolygons(all, width, height).data[y * width + x] - share)).toBeLessThan(0.06);
      }),
    );
  });

  test('any triangle covers its area', () => {
    const corner = fc.tuple(fc.double({ min: 0, max: 40, noNaN: true }), fc.double({ min: 0, max: 40, noNaN: true }));
    fc.assert(
      fc.property(corner, corner, corner, (a, b, c) => {
        const area = Math.abs((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1])) / 2;
        expect(Math.abs(sum(fillPolygon([a, b, c], 40, 40).data) - area)).toBeLessThan(4);
      }),
      { numRuns: 60 },
    );
  });
});

describe('an outline', () => {
  const disc = (x: number, y: number): boolean => Math.hypot(x - 30, y - 25) < 14;

  test('goes around a region, and filling it gives the region back', () => {
    const first = [30, 12] as [number, number];
    expect(disc(30, 11) || !disc(30, 12)).toBe(false);
    const corners = outlineOf(disc, first, 0.7);
    const back = fillPolygon(corners, 60, 50).data;
    let wrong = 0;
    for (let p = 0; p < back.length; p++) if (back[p] >= 0.5 !== disc(p % 60, Math.floor(p / 60))) wrong++;
    // The outline runs through the outermost pixels’ centres.
    expect(wrong).toBeLessThan(2 * Math.PI * 14);
    expect(corners.length).toBeLessThan(40);
  });

  test('of one pixel is that pixel', () => {
    expect(outlineOf((x, y) => x === 4 && y === 5, [4, 5], 1)).toEqual([[4.5, 5.5]]);
  });

  test('thinned to its corners it stays within the tolerance', () => {
    const line: [number, number][] = Array.from({ length: 50 }, (_, i) => [i, i < 25 ? 0 : i - 25]);
    expect(thinned(line, 0.5)).toEqual([
      [0, 0],
      [25, 0],
      [49, 24],
    ]);
  });
});

describe('push and pull', () => {
  test('keeps what is known and stays between its least and most', () => {
    const value = planeFrom(33, 21, (x, y) => 0.2 + 0.02 * x + 0.01 * y);
    const weight = planeFrom(33, 21, (x, y) => ((x * 7 + y * 3) % 11 === 0 ? 1 : 0));
    const [full] = pushPull([value], weight);
    const known = value.data.filter((_, p) => weight.data[p] === 1);
    full.data.forEach((v, p) => {
      if (weight.data[p] === 1) expect(v).toBe(value.data[p]);
      expect(v).toBeGreaterThanOrEqual(Math.min(...known) - 1e-6);
      expect(v).toBeLessThanOrEqual(Math.max(...known) + 1e-6);
      // A smooth ramp is met closely between scattered samples.
      expect(Math.abs(v - value.data[p])).toBeLessThan(0.12);
    });
  });

  test('a constant stays one, and nothing known is nothing', () => {
    const weight = planeFrom(16, 9, (x, y) => (x === 3 && y === 4 ? 1 : 0));
    const [spread] = pushPull([makePlane(16, 9, 0.7)], weight);
    spread.data.forEach((v) => expect(v).toBeCloseTo(0.7, 6));
    expect(pushPull([makePlane(16, 9, 0.7)], makePlane(16, 9))[0].data.every((v) => v === 0)).toBe(true);
  });
});

test('the mean colour counts clear parts less', () => {
  const picture = { width: 2, height: 1, r: Float32Array.of(1, 0), g: Float32Array.of(0, 1), b: Float32Array.of(0.5, 0.5) };
  expect(meanColour(picture)[0]).toBeCloseTo(0.5, 6);
  const half = meanColour({ ...picture, a: Float32Array.of(1, 0) });
  expect(half[0]).toBeCloseTo(1, 6);
  expect(half[1]).toBeCloseTo(0, 6);
});
