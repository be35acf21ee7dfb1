import fc from 'fast-check';
import { oklabOf, oklabToLinear } from '../colour/oklab';
import { plainContext } from '../context/context';
import { withOpacity, type Picture } from '../raster/plane';
import { seeded } from '../raster/random';
import { largestDifference, pictureFrom, planeFrom } from '../testing/scenes';
import { match } from './match';
import { measureTone } from './tone';

const context = plainContext();

function street(seed: number, tint: readonly [number, number, number], contrast = 1): Picture {
  const random = seeded(seed);
  return pictureFrom(80, 60, () => {
    const l = Math.min(0.95, Math.max(0.05, 0.45 + contrast * (random() - 0.5) * 0.6));
    const [r, g, b] = oklabToLinear(l, (random() - 0.5) * 0.05, (random() - 0.5) * 0.05);
    return [Math.max(0, r * tint[0]), Math.max(0, g * tint[1]), Math.max(0, b * tint[2])];
  });
}

describe('measuring tone', () => {
  test('a warmer light has more mired, a greener one more tint', () => {
    const plain = measureTone(street(1, [1, 1, 1]));
    expect(measureTone(street(1, [1.2, 1, 0.7])).mired - plain.mired).toBeGreaterThan(30);
    expect(measureTone(street(1, [0.9, 1.1, 0.9])).tint - plain.tint).toBeGreaterThan(3);
  });

  test('black, middle and white are percentiles of L*', () => {
    const ramp = pictureFrom(256, 4, (x) => [(x / 255) ** 3, (x / 255) ** 3, (x / 255) ** 3]);
    const tone = measureTone(ramp);
    expect(tone.black).toBeLessThan(3);
    expect(tone.white).toBeGreaterThan(97);
    expect(tone.middle).toBeCloseTo(42.5, -1);
  });

  test('only what is covered counts', () => {
    const p = pictureFrom(40, 40, (x) => (x < 20 ? [0.8, 0.2, 0.1] : [0.1, 0.2, 0.8]));
    const left = planeFrom(40, 40, (x) => (x < 20 ? 1 : 0));
    expect(measureTone(withOpacity(p, left)).mean[2]).toBeGreaterThan(0.05);
    expect(
      measureTone(
        withOpacity(
          p,
          planeFrom(40, 40, () => 0),
        ),
      ).weight,
    ).toBe(0);
  });
});

describe('matching', () => {
  const subject = street(2, [1, 1, 1]);
  const night = street(3, [1.3, 0.9, 0.45], 0.6);
  const from = measureTone(subject);
  const to = measureTone(night);

  test('brings cast and tone to the reference', async () => {
    const after = measureTone(await match(subject, from, to, { cast: 1, tone: 1 }, context));
    expect(Math.abs(after.mired - to.mired)).toBeLessThan(0.25 * Math.abs(from.mired - to.mired));
    expect(Math.abs(after.middle - to.middle)).toBeLessThan(0.25 * Math.abs(from.middle - to.middle) + 1);
    expect(after.spread).toBeCloseTo(to.spread, 1);
  });

  test('half the strength goes about half the way', async () => {
    const after = measureTone(await match(subject, from, to, { cast: 0.5, tone: 0 }, context));
    const share = (after.mean[2] - from.mean[2]) / (to.mean[2] - from.mean[2]);
    expect(share).toBeGreaterThan(0.35);
    expect(share).toBeLessThan(0.65);
  });

  test('no strength, or nothing to measure, returns the very picture', async () => {
    expect(await match(subject, from, to, { cast: 0, tone: 0 }, context)).toBe(subject);
    expect(await match(subject, { ...from, weight: 0 }, to, { cast: 1, tone: 1 }, context)).toBe(subject);
  });

  test('matching a picture to itself changes nothing that could be seen', async () => {
    const same = await match(subject, from, from, { cast: 1, tone: 1 }, context);
    expect(largestDifference(same.r, subject.r)).toBeLessThan(1e-4);
  });

  test('never gives NaN or negative light, and lightness keeps its order', async () => {
    const light = fc.double({ min: 0, max: 1, noNaN: true });
    const share = fc.double({ min: 0, max: 1, noNaN: true });
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(light, light, light), { minLength: 8, maxLength: 8 }),
        share,
        share,
        async (colours, cast, tone) => {
          const p = pictureFrom(4, 2, (x, y) => colours[y * 4 + x]);
          const out = await match(p, measureTone(p), to, { cast, tone }, context);
          for (const c of [out.r, out.g, out.b]) for (const v of c) expect(v >= 0 && Number.isFinite(v)).toBe(true);
          const greys = pictureFrom(16, 1, (x) => [x / 15, x / 15, x / 15]);
          const grey = await match(greys, from, to, { cast: 0, tone }, context);
          for (let i = 1; i < 16; i++)
            expect(oklabOf(grey.r[i], grey.g[i], grey.b[i])[0]).toBeGreaterThanOrEqual(
              oklabOf(grey.r[i - 1], grey.g[i - 1], grey.b[i - 1])[0] - 1e-4,
            );
        },
      ),
      { numRuns: 30 },
    );
  });
});
