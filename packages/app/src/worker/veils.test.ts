import { makePicture, type Picture, type Plane } from '@ritaglio/core';
import { clippedShare, dimmed, dotted, greyOf, outOfRange } from './veils';

const plane = (width: number, height: number, value: (x: number, y: number) => number): Plane => ({
  width,
  height,
  data: Float32Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width))),
});

/** Light 1.5 left of x = 4, −0.2 right of x = 8, a half between. */
function extremes(): Picture {
  const p = makePicture(12, 4);
  for (let i = 0; i < p.r.length; i++) p.r[i] = p.g[i] = p.b[i] = i % 12 < 4 ? 1.5 : i % 12 < 8 ? 0.5 : -0.2;
  return p;
}

test('distances are lighter the nearer, and even steps are even ratios', () => {
  const { r } = greyOf(plane(5, 1, (x) => [0.5, 1, 2, 4, 10000][x]));
  expect(r[0]).toBe(1);
  expect(r[4]).toBe(0);
  const shown = [...r].slice(0, 4).map((v) => v ** (1 / 2.2));
  expect(shown[0] - shown[1]).toBeCloseTo(shown[1] - shown[2], 5);
  expect(shown[1] - shown[2]).toBeCloseTo(shown[2] - shown[3], 5);
});

test('what does not show is veiled, what shows is clear', () => {
  const veil = dimmed(plane(3, 1, (x) => x / 2));
  expect(veil.a![0]).toBeCloseTo(0.85, 5);
  expect(veil.a![2]).toBe(0);
});

test('the undecided is dotted, the decided clear; without a band there is nothing', () => {
  const dots = dotted({ width: 16, height: 16, data: Uint8Array.from({ length: 256 }, (_, p) => (p % 16 < 8 ? 1 : 0)) });
  const share = (from: number, to: number): number => {
    let n = 0;
    for (let y = 0; y < 16; y++) for (let x = from; x < to; x++) n += dots.a![y * 16 + x] > 0 ? 1 : 0;
    return n / (16 * (to - from));
  };
  expect(share(0, 8)).toBeCloseTo(0.25, 5);
  expect(share(8, 16)).toBe(0);
  expect(dotted(undefined).a![0]).toBe(0);
});

test('what leaves the range is striped, mostly light where it is too bright, mostly dark where it is too dark', () => {
  const veil = outOfRange(extremes());
  const mean = (from: number): number => {
    let sum = 0;
    for (let y = 0; y < 4; y++) for (let x = from; x < from + 4; x++) sum += veil.r[y * 12 + x];
    return sum / 16;
  };
  expect([veil.a![0], veil.a![5], veil.a![9]]).toEqual([1, 0, 1]);
  expect(mean(0)).toBeGreaterThan(0.5);
  expect(mean(8)).toBeLessThan(0.5);
});

test('clipped shares count both ends', () => {
  const { white, black } = clippedShare(extremes());
  expect(white).toBeCloseTo(1 / 3, 6);
  expect(black).toBeCloseTo(1 / 3, 6);
});
