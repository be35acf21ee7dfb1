import fc from 'fast-check';
import { clockOf, curveOf, doubtfulFrames, frameAt, neighbour, tickStep, xOf } from './scale';

test('a frame lies where it is found again', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 5000 }), fc.integer({ min: 60, max: 3000 }), fc.nat(), (length, width, n) => {
      const frame = n % length;
      expect(frameAt(xOf(frame, { length, width }), { length, width })).toBe(frame);
    }),
  );
  expect(frameAt(-50, { length: 36, width: 700 })).toBe(0);
  expect(frameAt(5000, { length: 36, width: 700 })).toBe(35);
});

test('numbers do not touch', () => {
  for (const length of [1, 36, 240, 3000, 100_000]) {
    const size = { length, width: 700 };
    expect(xOf(tickStep(size), size) - xOf(0, size)).toBeGreaterThanOrEqual(45.9);
  }
});

test('time is told in minutes, seconds and frames', () => {
  expect(clockOf(0, { frames: 12, seconds: 1 })).toBe('0:00+00');
  expect(clockOf(35, { frames: 12, seconds: 1 })).toBe('0:02+11');
  expect(clockOf(24 * 61, { frames: 24, seconds: 1 })).toBe('1:01+00');
  expect(clockOf(30, { frames: 30000, seconds: 1001 })).toBe('0:01+00');
});

test('a curve goes through its points, and a value that stays lies in the middle', () => {
  const key = { of: 'lens.focus', points: [{ frame: 0, value: 2, ease: 'straight' as const }, { frame: 10, value: 6, ease: 'hold' as const }] }; // prettier-ignore
  const { points, heightAt } = curveOf(key, 11, 22);
  expect(points).toHaveLength(23);
  expect([0, 5, 10].map(heightAt)).toEqual([0, 0.5, 1]);
  expect(curveOf({ ...key, points: [key.points[0]] }, 11, 4).heightAt(7)).toBe(0.5);
  const colour = { of: 'finish.wash.colour', points: [{ frame: 0, value: '#000000', ease: 'straight' as const }, { frame: 4, value: '#ffffff', ease: 'hold' as const }] }; // prettier-ignore
  expect(curveOf(colour, 5, 4).heightAt(2)).toBeCloseTo(0.5, 2);
});

test('neighbours and doubtful frames are found', () => {
  expect(neighbour([3, 9, 12], 9, 1)).toBe(12);
  expect(neighbour([3, 9, 12], 9, -1)).toBe(3);
  expect(neighbour([3, 9, 12], 12, 1)).toBeUndefined();
  expect(doubtfulFrames([0.9, 0.2, 0.3, 0.8, 0.85, 0.4], 2)).toEqual([1, 5, 3]);
  expect(doubtfulFrames([NaN, NaN, 0.9, 0.7], 1)).toEqual([3, 2]);
});
