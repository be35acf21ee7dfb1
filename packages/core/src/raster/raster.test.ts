import fc from 'fast-check';
import { largestDifference, planeFrom, sum } from '../testing/scenes';
import { components } from './components';
import { distanceTo } from './distance';
import { boxMean, gaussian } from './filter';
import { grownMask } from './morphology';
import { makePicture, meanOf } from './plane';
import { double, halve, resizePicture, resizePlane } from './resize';
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
      fc.property(masks, fc.constantFrom(Infinity, 0, 1, 2.5, 6), ({ width, height, mask }, limit) => {
        const fast = distanceTo(mask, width, height, limit).data;
        for (let p = 0; p < mask.length; p++) {
          let best = Infinity;
          for (let q = 0; q < mask.length; q++) {
            if (!mask[q]) continue;
            best = Math.min(best, Math.hypot((p % width) - (q % width), Math.floor(p / width) - Math.floor(q / width)));
          }
          if (best === Infinity || best > limit) expect(fast[p]).toBe(Infinity);
          else expect(fast[p]).toBeCloseTo(best, 4);
        }
      }),
      { numRuns: 120 },
    );
  });

  test('agrees with growing the mask', () => {
    fc.assert(
      fc.property(masks, fc.double({ min: 0, max: 5, noNaN: true }), ({ width, height, mask }, radius) => {
        const grown = grownMask(Uint8Array.from(mask), width, height, radius);
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
  const found = components(Uint8Array.of(1, 0, 0, 0, 1, 0, 0, 0, 0, 0, 1, 0), 4, 3);
  expect(found.area.slice(1).sort()).toEqual([1, 2]);
  expect(components(Uint8Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0), 4, 3).area).toEqual([0, 3]);
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

describe('regions', () => {
  test('are the same as those found by spreading from each pixel', () => {
    fc.assert(
      fc.property(masks, ({ width, height, mask }) => {
        const { label, area } = components(Uint8Array.from(mask), width, height);
        const seen = new Int32Array(mask.length);
        let regions = 0;
        for (let seed = 0; seed < mask.length; seed++) {
          if (!mask[seed] || seen[seed]) continue;
          regions++;
          const spread = [seed];
          seen[seed] = regions;
          let size = 0;
          for (let p = spread.pop(); p !== undefined; p = spread.pop()) {
            size++;
            expect(label[p]).toBe(regions);
            for (let q = 0; q < mask.length; q++) {
              const beside = Math.abs((p % width) - (q % width)) <= 1 && Math.abs(Math.floor(p / width) - Math.floor(q / width)) <= 1;
              if (beside && mask[q] && !seen[q]) {
                seen[q] = regions;
                spread.push(q);
              }
            }
          }
          expect(area[regions]).toBe(size);
        }
        expect(area).toHaveLength(regions + 1);
        label.forEach((l, p) => expect(l === 0).toBe(!mask[p]));
      }),
      { numRuns: 80 },
    );
  });

  test('a spiral is one, a chessboard’s corners touch', () => {
    const spiral = ['#######', '      #', '##### #', '#   # #', '# ### #', '#     #', '#######'].join('');
    expect(
      components(
        Uint8Array.from(spiral, (c) => (c === '#' ? 1 : 0)),
        7,
        7,
      ).area,
    ).toHaveLength(2);
    expect(
      components(
        Uint8Array.from({ length: 64 }, (_, i) => ((i % 8) + Math.floor(i / 8)) % 2),
        8,
        8,
      ).area,
    ).toEqual([0, 32]);
  });
});

describe('halving and doubling', () => {
  const planes = fc
    .record({ width: fc.integer({ min: 1, max: 9 }), height: fc.integer({ min: 1, max: 9 }), seed: fc.integer() })
    .map(({ width, height, seed }) => {
      const random = seeded(seed);
      return planeFrom(width, height, () => random());
    });

  test('doubling keeps the mean and never leaves the range', () => {
    fc.assert(
      fc.property(planes, (p) => {
        const large = double(p);
        expect([large.width, large.height]).toEqual([2 * p.width, 2 * p.height]);
        expect(meanOf(large)).toBeCloseTo(meanOf(p), 5);
        expect(Math.min(...large.data)).toBeGreaterThanOrEqual(Math.min(...p.data) - 1e-6);
        expect(Math.max(...large.data)).toBeLessThanOrEqual(Math.max(...p.data) + 1e-6);
      }),
    );
  });

  test('half of the double is a little softer than the plane, and just as bright', () => {
    const ramp = planeFrom(12, 10, (x, y) => 0.1 * x + 0.05 * y);
    const again = halve(double(ramp));
    // Away from the border a slope comes back as it was.
    for (let y = 1; y < 9; y++) for (let x = 1; x < 11; x++) expect(again.data[y * 12 + x]).toBeCloseTo(ramp.data[y * 12 + x], 5);
  });
});
