import fc from 'fast-check';
import { usualScale, usualSide } from './usual';

test('a picture up to the usual size is meant as it is, at any size it is worked at', () => {
  expect(usualScale({ width: 1200, height: 800 }, 1)).toBe(1);
  expect(usualScale({ width: 600, height: 400 }, 0.5)).toBe(0.5);
  expect(usualScale({ width: usualSide, height: 900 }, 1)).toBe(1);
});

test('a larger one has as many pixels for the same thing as it is larger, and what is worked out of it small is what the usual size is', () => {
  expect(usualScale({ width: 6000, height: 4000 }, 1)).toBeCloseTo(6000 / 1800, 12);
  expect(usualScale({ width: 1800, height: 1200 }, 0.3)).toBe(1);
  fc.assert(
    fc.property(fc.integer({ min: 40, max: 12000 }), fc.double({ min: 0.05, max: 1, noNaN: true }), (longest, scale) => {
      const at = { width: longest * scale, height: 10 };
      // Whatever size is worked at, a length stays the same share of the picture.
      expect(usualScale(at, scale) / at.width).toBeCloseTo(usualScale({ width: longest, height: 10 }, 1) / longest, 9);
    }),
  );
});
