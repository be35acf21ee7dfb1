import fc from 'fast-check';
import { largestDifference, pictureFrom, planeFrom, sum } from '../testing/scenes';
import { resizeHoled } from './resize';
import { sampleAt } from './sample';
import { rasterRegions, strokeCover, type Region } from './strokeCover';

describe('a value between pixels', () => {
  const ramp = planeFrom(12, 9, (x, y) => 2 * x - 3 * y);

  test('is the pixel’s on its middle, and exact between for what is linear', () => {
    expect(sampleAt(ramp, 5, 4)).toBe(-2);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 11, noNaN: true }), fc.double({ min: 0, max: 8, noNaN: true }), (x, y) => {
        expect(sampleAt(ramp, x, y)).toBeCloseTo(2 * x - 3 * y, 4);
      }),
    );
  });

  test('beyond the border it is the border’s', () => {
    expect([sampleAt(ramp, -50, 3), sampleAt(ramp, 50, 3)]).toEqual([-9, 13]);
    expect([sampleAt(ramp, 4, -7), sampleAt(ramp, 4, 99)]).toEqual([8, -16]);
  });
});

describe('strokes and regions', () => {
  const line: Region = { radius: 3, points: [[10, 10], [30, 10]] }; // prettier-ignore
  const square: Region = { radius: 1, filled: true, points: [[40, 5], [50, 5], [50, 15], [40, 15]] }; // prettier-ignore

  test('a stroke covers its capsule, a filled way its inside', () => {
    const cover = rasterRegions([line, square], 60, 20, 1).data;
    const capsule = 20 * 6 + Math.PI * 9;
    expect(Math.abs(sum(cover) - capsule - 100)).toBeLessThan(12);
    expect([cover[10 * 60 + 20], cover[10 * 60 + 45], cover[2 * 60 + 20], cover[17 * 60 + 45]]).toEqual([1, 1, 0, 0]);
  });

  test('regions over each other cover no more than wholly', () => {
    const twice = rasterRegions([square, square, line, line], 60, 20, 1).data;
    expect(largestDifference(twice, rasterRegions([square, line], 60, 20, 1).data)).toBe(0);
  });

  test('half the scale is half the size', () => {
    const half = rasterRegions([square], 30, 10, 0.5).data;
    expect(sum(half)).toBeCloseTo(25, 0);
  });

  test('none, or all outside, is nothing', () => {
    expect(sum(rasterRegions([], 10, 10, 1).data)).toBe(0);
    expect(sum(rasterRegions([{ radius: 2, points: [[-40, -40]] }], 10, 10, 1).data)).toBe(0); // prettier-ignore
    expect(strokeCover({ radius: 2, hardness: 1, opacity: 1, points: [[500, 5]] }, 10, 10, 1)).toBeUndefined(); // prettier-ignore
  });

  test('pressure and opacity weaken a stroke, hardness says where it begins to fall', () => {
    const at = (hardness: number, pressure: number, away: number): number => {
      const { left, top, plane } = strokeCover({ radius: 10, hardness, opacity: 0.8, points: [[20.5, 20.5, pressure]] }, 41, 41, 1)!; // prettier-ignore
      return plane.data[(20 - top) * plane.width + 20 + away - left];
    };
    expect(at(1, 1, 0)).toBeCloseTo(0.8, 5);
    expect(at(1, 0.5, 0)).toBeCloseTo(0.4, 5);
    expect(at(1, 1, 9)).toBeCloseTo(0.8, 5);
    expect(at(0, 1, 8)).toBeLessThan(0.15);
    expect(at(0.5, 1, 4)).toBeGreaterThan(at(0.5, 1, 7));
  });
});

describe('a picture with a hole at another size', () => {
  const hole = planeFrom(40, 30, (x, y) => (x >= 13 && x < 27 && y >= 8 && y < 20 ? 1 : 0));
  const picture = pictureFrom(40, 30, (x, y) => (hole.data[y * 40 + x] ? [50, 0, 0] : [0.25, 0.5, 0.75]));

  test('what is in the hole does not leak, and the hole’s area is kept', () => {
    const small = resizeHoled({ picture, hole }, 13, 10);
    small.picture.r.forEach((v, p) => {
      if (small.hole.data[p] < 0.99) expect(v).toBeCloseTo(0.25, 4);
    });
    expect(sum(small.hole.data) / 130).toBeCloseTo(sum(hole.data) / 1200, 2);
    expect(small.hole.data.every((h) => h >= 0 && h <= 1)).toBe(true);
  });

  test('at its own size it is itself', () => {
    const same = resizeHoled({ picture, hole }, 40, 30);
    expect([same.picture === picture, same.hole === hole]).toEqual([true, true]);
  });
});
