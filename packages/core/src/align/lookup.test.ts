import fc from 'fast-check';
import { Lookup, type Homography } from './lookup';

const same: Homography = [1, 0, 0, 0, 1, 0, 0, 0];
const sizes = fc.record({ width: fc.integer({ min: 1, max: 12 }), height: fc.integer({ min: 1, max: 12 }) });
const ramp = ({ width, height }: { width: number; height: number }, of: (x: number, y: number) => number): Float32Array =>
  Float32Array.from({ length: width * height }, (_, p) => of(p % width, Math.floor(p / width)));

test('between pictures of one size nothing moved is every pixel itself', () => {
  fc.assert(
    fc.property(sizes, fc.nat(11), fc.nat(11), (size, x, y) => {
      const [px, py] = [x % size.width, y % size.height];
      const look = new Lookup(size, size);
      look.at(same, px, py);
      expect(look.inside).toBe(true);
      expect(look.nearest).toBe(py * size.width + px);
      expect(look.sample(ramp(size, (u, v) => 3 * u - 2 * v))).toBeCloseTo(3 * px - 2 * py, 4);
    }),
  );
});

test('a move by pixels looks that far away, and outside the picture its border is repeated', () => {
  const size = { width: 9, height: 5 };
  // Half the longer side is 1.
  const moved: Homography = [1, 0, 2 / 4.5, 0, 1, -1 / 4.5, 0, 0];
  const data = ramp(size, (x, y) => 10 * y + x);
  const look = new Lookup(size, size);
  look.at(moved, 3, 3);
  expect([look.inside, look.nearest]).toEqual([true, 2 * 9 + 5]);
  expect(look.sample(data)).toBeCloseTo(25, 4);
  look.at(moved, 8, 3);
  expect(look.inside).toBe(false);
  expect(look.sample(data)).toBeCloseTo(28, 4);
  look.at(moved, 3, 0);
  expect(look.inside).toBe(false);
  expect(look.sample(data)).toBeCloseTo(5, 4);
});

test('a ramp stays a ramp under any shrinking, whatever the sizes', () => {
  fc.assert(
    fc.property(fc.integer({ min: 4, max: 30 }), fc.double({ min: 0.2, max: 1, noNaN: true }), fc.nat(29), (side, zoom, k) => {
      const to = { width: side, height: side };
      const from = { width: 2 * side, height: 2 * side };
      const look = new Lookup(from, to);
      look.at([zoom, 0, 0, 0, zoom, 0, 0, 0], k % side, 0);
      // The middle stays, all else comes nearer to it; a pixel of the one is two of the other.
      const there = 2 * (zoom * ((k % side) - (side - 1) / 2) + (side - 1) / 2) + 0.5;
      expect(look.sample(ramp(from, (x) => x))).toBeCloseTo(there, 3);
      expect(Math.abs((look.nearest % from.width) - there)).toBeLessThan(0.5 + 1e-3);
    }),
  );
});

test('what lies farther to one side of a tilted plane is looked up closer together', () => {
  const size = { width: 41, height: 41 };
  const tilted: Homography = [1, 0, 0, 0, 1, 0, 0.2, 0];
  const x = (at: number): number => {
    const look = new Lookup(size, size);
    look.at(tilted, at, 20);
    return look.sample(ramp(size, (u) => u));
  };
  expect(x(20)).toBeCloseTo(20, 4);
  expect(x(30) - x(29)).toBeLessThan(x(11) - x(10));
});
