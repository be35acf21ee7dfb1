import { makePicture } from '../raster/plane';
import { pictureFrom } from '../testing/scenes';
import { over } from './blend';
import { centred, coverUnit, place } from './place';

describe('over', () => {
  const ground = pictureFrom(2, 1, () => [0.2, 0.2, 0.2]);

  test('mixes in linear light by straight opacity', () => {
    const upper = makePicture(2, 1, 0.5);
    upper.r.fill(1);
    const out = over(upper, ground);
    expect(out.r[0]).toBeCloseTo(0.6, 6);
    expect(out.g[0]).toBeCloseTo(0.1, 6);
    expect(out.a).toBeUndefined();
  });

  test('opaque covers, clear shows what is below', () => {
    expect(
      over(
        pictureFrom(2, 1, () => [9, 9, 9]),
        ground,
      ).r[0],
    ).toBe(9);
    expect(over(makePicture(2, 1, 0), ground).r[0]).toBeCloseTo(0.2, 6);
  });

  test('two half-clear layers add up to three quarters, colours stay straight', () => {
    const [a, b] = [makePicture(1, 1, 0.5), makePicture(1, 1, 0.5)];
    a.r[0] = b.r[0] = 0.8;
    const out = over(a, b);
    expect(out.a![0]).toBeCloseTo(0.75, 6);
    expect(out.r[0]).toBeCloseTo(0.8, 6);
  });

  test('refuses pictures of two sizes', () => {
    expect(() => over(makePicture(1, 1), makePicture(2, 1))).toThrow(/size/);
  });
});

describe('place', () => {
  const p = pictureFrom(6, 4, (x, y) => [x, y, 0]);

  test('centred at its own size changes nothing', () => {
    expect(Array.from(place(p, 6, 4, 1, centred, 1).r)).toEqual(Array.from(p.r));
  });

  test('shifts in full-size pixels and repeats the border of an opaque picture', () => {
    const out = place(p, 6, 4, 1, { ...centred, x: 4 }, 0.5);
    expect(Array.from(out.r.subarray(0, 6))).toEqual([0, 0, 0, 1, 2, 3]);
  });

  test('what a cut-out does not cover is clear', () => {
    const cut = { ...p, a: new Float32Array(24).fill(1) };
    const out = place(cut, 6, 4, 1, { ...centred, y: 2 }, 1);
    expect(Array.from(out.a!.subarray(0, 12))).toEqual(new Array(12).fill(0));
    expect(out.g[12]).toBe(0);
  });

  test('flips', () => {
    expect(Array.from(place(p, 6, 4, 1, { ...centred, flip: true }, 1).r.subarray(0, 6))).toEqual([5, 4, 3, 2, 1, 0]);
  });

  test('covers a frame of another shape', () => {
    expect(coverUnit({ width: 100, height: 50 }, 60, 60)).toBeCloseTo(1.2, 6);
  });
});
