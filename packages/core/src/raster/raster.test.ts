import fc from 'fast-check';
import { largestDifference, planeFrom, sum } from '../testing/scenes';
import { components } from './components';
import { distanceTo } from './distance';
import { boxMean, gaussian } from './filter';
import { grownMask } from './morphology';
import { makePicture, meanOf } from './plane';
import { halve, resizePicture, resizePlane } from './resize';
import { seeded } from './random';

const masks = fc.integer({ min: 1, max: 17 }).chain((width) =>
  fc.integer({ min: 1, max: 13 }).chain((height) =>
    fc.record({
      width: fc.constant(width),
      height: fc.constant(height),
      mask: fc
        .array(fc.integer({ min: 0, max: 5 }), { minLength: width * height, maxLength: width * height })
        .map((v) => v.map((n) => (n === 0 ? 1 : 0))),
    }),
  ),
);

describe('distance to a mask', () => {
  test('equals the distance found by looking at every pair', () => {
    fc.assert(
      fc.property(masks, ({ width, height, mask }) => {
        const fast = distanceTo(mask, width, height).data;
        for (let p = 0; p < mask.length; p++) {
          let best = Infinity;
          for (let q = 0; q < mask.length; q++) {
            if (!mask[q]) continue;
            best = Math.min(best, Math.hypot((p % width) - (q % width), Math.floor(p / width) - Math.floor(q / width)));
          }
          if (best === Infinity) expect(fast[p]).toBe(Infinity);
          else expect(fast[p]).toBeCloseTo(best, 4);
        }
      }),
      { numRuns: 60 },
    );
  });

  test('agrees with growing the mask', () => {
    fc.assert(
      fc.property(masks, fc.double({ min: 0, max: 5, noNaN: true }), ({ width, height, mask }, radius) => {
        const grown = grownMask(mask, width, height, radius);
        const distance = distanceTo(mask, width, height).data;
        grown.forEach((g, p) => {
          if (Math.abs(distance[p] - radius) > 1e-6) expect(g).toBe(distance[p] < radius ? 1 : 0);
        });
      }),
      { numRuns: 60 },
    );
  });
});

describe('filters', () => {
  const ramp = planeFrom(23, 17, (x, y) => x + 3 * y);

  test('the box mean is the mean of its window', () => {
    const out = boxMean(ramp, 2);
    expect(out.data[8 * 23 + 11]).toBeCloseTo(11 + 24, 4);
    // At the corner the border repeats: columns 0 0 0 1 2 and rows alike.
    expect(out.data[0]).toBeCloseTo(0.6 + 3 * 0.6, 4);
  });

  test('a Gaussian spreads a point to its variance and keeps its sum', () => {
    const point = planeFrom(61, 61, (x, y) => (x === 30 && y === 30 ? 1 : 0));
    const out = gaussian(point, 3);
    let variance = 0;
    out.data.forEach((v, i) => (variance += v * ((i % 61) - 30) ** 2));
    expect(sum(out.data)).toBeCloseTo(1, 5);
    expect(Math.sqrt(variance)).toBeCloseTo(3, 1);
  });

  test('a constant stays constant to the border', () => {
    const flat = planeFrom(19, 11, () => 0.37);
    for (const out of [boxMean(flat, 4), gaussian(flat, 5), resizePlane(flat, 7, 23), halve(flat)]) {
      expect(
        largestDifference(
          out.data,
          out.data.map(() => 0.37),
        ),
      ).toBeLessThan(1e-5);
    }
  });
});

describe('resizing', () => {
  test('keeps the mean when shrinking and growing', () => {
    const random = seeded(3);
    const noise = planeFrom(64, 48, () => random());
    expect(meanOf(resizePlane(noise, 32, 24))).toBeCloseTo(meanOf(noise), 2);
    expect(meanOf(resizePlane(noise, 128, 96))).toBeCloseTo(meanOf(noise), 2);
  });

  test('a ramp stays a ramp in the middle', () => {
    const ramp = planeFrom(40, 8, (x) => x);
    const half = resizePlane(ramp, 20, 8);
    for (let x = 3; x < 17; x++) expect(half.data[4 * 20 + x]).toBeCloseTo(2 * x + 0.5, 3);
  });

  test('the colour of clear pixels does not leak into the edge', () => {
    const p = makePicture(20, 4, 0);
    for (let i = 0; i < 80; i++) {
      const solid = i % 20 < 9;
      p.a![i] = solid ? 1 : 0;
      p.r[i] = solid ? 0.5 : 100;
    }
    const small = resizePicture(p, 7, 4);
    small.a!.forEach((a, i) => a > 0.01 && expect(small.r[i]).toBeCloseTo(0.5, 3));
  });
});

test('regions that touch at a corner are one', () => {
  const found = components([1, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 0], 4, 3);
  expect(found.area.slice(1).sort()).toEqual([1, 2]);
  expect(components([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0], 4, 3).area).toEqual([0, 3]);
});

test('the same seed gives the same numbers, spread over 0 to 1', () => {
  const a = seeded(5);
  const b = seeded(5);
  const values = Array.from({ length: 2000 }, () => a());
  expect(values).toEqual(Array.from({ length: 2000 }, () => b()));
  expect(largestDifference([sum(values) / 2000], [0.5])).toBeLessThan(0.03);
  expect(Math.min(...values)).toBeGreaterThanOrEqual(0);
  expect(Math.max(...values)).toBeLessThan(1);
});
