import fc from 'fast-check';
import { lightnessOf, luminance } from '../colour/cielab';
import { decodeSrgb } from '../colour/srgb';
import { defaultContext } from '../runtime/context';
import { boxMean } from '../raster/filter';
import type { Picture } from '../raster/plane';
import { largestDifference, pictureFrom, planeFrom } from '../testing/scenes';
import { dithered, findBanding } from './banding';
import { addGrain, grainAtScale, grainBehind, measureGrain } from './grain';

const context = defaultContext();
const even = (v: number): number[] => new Array<number>(9).fill(v);
/** Slow slopes, as skies have. */
const sky = (w: number, h: number): Picture =>
  pictureFrom(w, h, (x, y) => {
    const v = decodeSrgb(0.35 + 0.3 * (x / w) + 0.1 * (y / h));
    return [v, v, 1.05 * v];
  });

function lightnessSpread(p: Picture): number {
  const l = Float32Array.from(p.r, (_, i) => lightnessOf(luminance(p.r[i], p.g[i], p.b[i])));
  const mean = l.reduce((a, b) => a + b, 0) / l.length;
  return Math.sqrt(l.reduce((a, b) => a + (b - mean) ** 2, 0) / l.length);
}

describe('grain', () => {
  test('that is laid has the standard deviation of L* it was asked for, at any tone, and keeps the mean', async () => {
    for (const level of [0.15, 0.4, 0.8]) {
      const light = level;
      const flat = pictureFrom(256, 256, () => [light, light, light]);
      const out = await addGrain(flat, even(1.2), 0.6, context);
      expect(lightnessSpread(out)).toBeCloseTo(1.2, 1);
      expect(out.g.reduce((a, b) => a + b, 0) / out.g.length).toBeCloseTo(light, 2);
    }
  });

  test('is measured as it was laid: level and size', async () => {
    for (const [level, size] of [
      [0.5, 0],
      [1, 0.5],
      [1.6, 0.8],
    ] as const) {
      const found = measureGrain(await addGrain(sky(480, 320), even(level), size, context))!;
      expect(Math.abs(found.level - level)).toBeLessThan(0.08 * level);
      expect(Math.abs(found.size - size)).toBeLessThan(0.15);
    }
  });

  test('differs by tone where it does', async () => {
    const tones = pictureFrom(480, 320, (x) => (x < 240 ? [0.04, 0.04, 0.04] : [0.5, 0.5, 0.5]));
    const byTone = Array.from({ length: 9 }, (_, i) => 1.2 - 0.1 * i);
    const found = measureGrain(await addGrain(tones, byTone, 0.4, context))!;
    expect(found.byTone[2]).toBeCloseTo(1.0, 1);
    expect(found.byTone[6]).toBeCloseTo(0.6, 1);
  });

  test('texture beside flats is not taken for grain', async () => {
    const half = pictureFrom(480, 320, (x, y) => {
      const v = decodeSrgb(x < 240 ? 0.5 : 0.5 + 0.2 * Math.sin(x * 1.3) * Math.cos(y * 0.9));
      return [v, v, v];
    });
    const found = measureGrain(await addGrain(half, even(0.6), 0, context))!;
    expect(Math.abs(found.level - 0.6)).toBeLessThan(0.08);
    expect(
      measureGrain(
        half,
        planeFrom(480, 320, (x) => (x < 8 ? 1 : 0)),
      ),
    ).toBeUndefined();
  });

  test('none is none, and nothing asked for is the very picture', async () => {
    const clean = sky(240, 160);
    expect(measureGrain(clean)!.level).toBeLessThan(0.02);
    expect(await addGrain(clean, even(0), 0.5, context)).toBe(clean);
  });

  test('goes only where its share is, and is the same for the same seed', async () => {
    const clean = sky(200, 100);
    const share = planeFrom(200, 100, (x) => (x < 100 ? 0 : 1));
    const out = await addGrain(clean, even(1), 0.5, context, share);
    expect(out.r[50 * 200 + 20]).toBe(clean.r[50 * 200 + 20]);
    const again = await addGrain(clean, even(1), 0.5, context, share);
    expect(largestDifference(out.r, again.r)).toBe(0);
    const other = await addGrain(clean, even(1), 0.5, defaultContext({ seed: 9 }), share);
    expect(largestDifference(out.r, other.r)).toBeGreaterThan(0.001);
  });

  test('what a blur and a smaller scale leave is all at rest, and never more with more', () => {
    const wide = fc.double({ min: 0, max: 60, noNaN: true });
    fc.assert(
      fc.property(wide, wide, fc.double({ min: 0, max: 2, noNaN: true }), (a, b, size) => {
        expect(grainBehind(size, Math.max(a, b))).toBeLessThanOrEqual(grainBehind(size, Math.min(a, b)) + 1e-12);
        expect(grainBehind(size, a)).toBeGreaterThan(0);
      }),
    );
    expect(grainBehind(0.5, 0)).toBe(1);
    expect(grainBehind(0.5, 24)).toBeLessThan(0.12);
    expect(grainAtScale(0.5, 1)).toBe(1);
    expect(grainAtScale(0, 0.25)).toBeCloseTo(0.25, 6);
  });

  test('a blur leaves about what is foretold', async () => {
    const noisy = await addGrain(
      pictureFrom(256, 256, () => [0.3, 0.3, 0.3]),
      even(1),
      0.5,
      context,
    );
    const blurred = (data: Float32Array): Float32Array => boxMean({ width: 256, height: 256, data }, 3).data;
    const soft = { ...noisy, r: blurred(noisy.r), g: blurred(noisy.g), b: blurred(noisy.b) };
    // A box of 7 px has the spread of a disc of 8.1 px.
    expect(lightnessSpread(soft)).toBeLessThan(1.4 * grainBehind(0.5, 8.1));
    expect(lightnessSpread(soft)).toBeGreaterThan(0.6 * grainBehind(0.5, 8.1));
  });
});

describe('banding', () => {
  const slow = pictureFrom(400, 200, (x) => {
    const v = decodeSrgb(0.3 + (0.08 * x) / 400);
    return [v, v, v];
  });

  test('a slow clean gradient is found, in its place, and gone after the cure', () => {
    const half = pictureFrom(400, 400, (x, y) =>
      y < 200 ? [slow.r[x], slow.r[x], slow.r[x]] : [(((x * 31 + y * 17) % 29) / 29) ** 2, 0.2, 0.1],
    );
    const found = findBanding(half);
    expect(found.share).toBeGreaterThan(0.4);
    expect(found.places[0].y).toBe(0);
    expect(found.places[0].height).toBeLessThan(260);
    expect(findBanding(dithered(slow, 1)).share).toBeLessThan(0.01);
  });

  test('grain cures it as well', async () => {
    expect(findBanding(slow).share).toBeGreaterThan(0.9);
    expect(findBanding(await addGrain(slow, even(0.5), 0.4, context)).share).toBeLessThan(0.01);
  });

  test('flats, edges and steep gradients are none', () => {
    expect(findBanding(pictureFrom(100, 100, () => [0.4, 0.4, 0.4])).share).toBe(0);
    expect(findBanding(pictureFrom(100, 100, (x) => (x < 50 ? [0.1, 0.1, 0.1] : [0.8, 0.8, 0.8]))).share).toBe(0);
    expect(findBanding(pictureFrom(100, 100, (x) => [x / 100, x / 100, x / 100])).share).toBe(0);
  });

  test('dither keeps the mean and moves nothing by more than a code', () => {
    const out = dithered(slow, 3);
    expect(out.r.reduce((a, b) => a + b, 0)).toBeCloseTo(
      slow.r.reduce((a, b) => a + b, 0),
      0,
    );
    expect(largestDifference(out.r, slow.r)).toBeLessThan(0.006);
  });
});
