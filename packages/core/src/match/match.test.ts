import fc from 'fast-check';
import { oklabOf, oklabToLinear } from '../colour/oklab';
import { defaultContext } from '../runtime/context';
import { withOpacity, type Picture } from '../raster/plane';
import { seeded } from '../raster/random';
import { largestDifference, pictureFrom, planeFrom } from '../testing/scenes';
import { glowShare, graded, grader, isPlainGrade, defaultGrade } from '../grade/grade';
import { carryPalette } from './palette';
import { clippedShare, handles, restrained, solveGrade, toneProperties } from './solve';
import { measureTone, sampleColours, toneOf } from './tone';

const context = defaultContext();

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

  test('blown lamps do not make a warm night neutral; what is all blown is neutral', () => {
    const night = street(1, [0.12, 0.07, 0.03]);
    const lamps = { ...night, r: night.r.slice(), g: night.g.slice(), b: night.b.slice() };
    for (let p = 0; p < lamps.r.length; p += 9) lamps.r[p] = lamps.g[p] = lamps.b[p] = p % 2 ? 1 : 30;
    expect(measureTone(night).mired).toBeGreaterThan(250);
    expect(Math.abs(measureTone(lamps).mired - measureTone(night).mired)).toBeLessThan(8);
    const white = measureTone(pictureFrom(8, 8, () => [1, 1, 1]));
    expect(white.mired).toBeCloseTo(1e6 / 6504, 0);
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

describe('carrying a palette over', () => {
  const subject = street(2, [1, 1, 1]);
  const night = street(3, [1.3, 0.9, 0.45], 0.6);
  const from = measureTone(subject);
  const to = measureTone(night);

  test('brings the colours’ mean and spread to the reference, and leaves lightness', async () => {
    const after = measureTone(await carryPalette(subject, from, to, 1, context));
    expect(Math.abs(after.mired - to.mired)).toBeLessThan(0.3 * Math.abs(from.mired - to.mired));
    expect(after.mean[0]).toBeCloseTo(from.mean[0], 1);
    expect(after.chroma[2]).toBeCloseTo(to.chroma[2], 3);
  });

  test('half the strength goes about half the way', async () => {
    const after = measureTone(await carryPalette(subject, from, to, 0.5, context));
    const share = (after.mean[2] - from.mean[2]) / (to.mean[2] - from.mean[2]);
    expect(share).toBeGreaterThan(0.35);
    expect(share).toBeLessThan(0.65);
  });

  test('no strength, or nothing to measure, returns the very picture; itself changes nothing that could be seen', async () => {
    expect(await carryPalette(subject, from, to, 0, context)).toBe(subject);
    expect(await carryPalette(subject, { ...from, weight: 0 }, to, 1, context)).toBe(subject);
    const same = await carryPalette(subject, from, from, 1, context);
    expect(largestDifference(same.r, subject.r)).toBeLessThan(1e-4);
  });
});

describe('solving a grade', () => {
  const subject = street(4, [1, 1, 1]);
  const all = { cast: 1, tint: 1, black: 1, white: 1, middle: 1, contrast: 1, saturation: 1 };
  const none = { cast: 0, tint: 0, black: 0, white: 0, middle: 0, contrast: 0, saturation: 0 };

  test('nothing wanted, or nothing to measure, is the plain grade', () => {
    const night = measureTone(street(3, [1.3, 0.9, 0.45]));
    expect(isPlainGrade(solveGrade(sampleColours(subject), night, none))).toBe(true);
    expect(isPlainGrade(solveGrade(sampleColours(subject), { ...night, weight: 0 }, all))).toBe(true);
  });

  test('every gap that is asked to be closed is closed, and a part of it with part of the strength', async () => {
    const to = measureTone(street(3, [1.2, 0.95, 0.6], 0.7));
    const from = sampleColours(subject);
    const before = toneOf(from);
    const after = measureTone(await graded(subject, solveGrade(from, to, all), context));
    for (const k of toneProperties) {
      const { measured, tolerance } = handles[k];
      expect(Math.abs(measured(after) - measured(to))).toBeLessThan(0.25 * tolerance);
    }
    const half = measureTone(await graded(subject, solveGrade(from, to, { ...none, cast: 0.5 }), context));
    expect(half.mired).toBeCloseTo((before.mired + to.mired) / 2, 0);
    expect(half.middle).toBeCloseTo(before.middle, -1);
  });

  test('finds back what a picture was shifted by', () => {
    const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    fc.assert(
      fc.property(number(-40, 90), number(-8, 8), number(-0.7, 0.2), number(-2, 5), (temperature, tint, exposure, black) => {
        const shifted = sampleColours(subject);
        const change = grader({ ...defaultGrade, temperature, tint, exposure, black });
        const out = new Float64Array(3);
        for (let k = 0; k < shifted.colours.length; k += 3) {
          change(shifted.colours[k], shifted.colours[k + 1], shifted.colours[k + 2], out);
          shifted.colours.set(out, k);
        }
        const wanted = { ...none, cast: 1, tint: 1, black: 1, white: 1 };
        const found = solveGrade(sampleColours(subject), toneOf(shifted), wanted);
        expect(Math.abs(found.temperature - temperature)).toBeLessThan(8);
        expect(Math.abs(found.tint - tint)).toBeLessThan(3);
        expect(Math.abs(found.exposure - exposure)).toBeLessThan(0.1);
        expect(Math.abs(found.black - black)).toBeLessThan(1.5);
      }),
      { numRuns: 20 },
    );
  });

  test('unasked, what belongs to the scene goes a third of the way and no farther than said, and clips hardly more', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 40 }), fc.double({ min: 0.05, max: 3, noNaN: true }), (seed, light) => {
        const to = measureTone(street(seed, [1.3, 0.9, 0.45], light));
        const from = sampleColours(subject);
        const before = toneOf(from);
        const grade = solveGrade(from, to, restrained);
        expect(Math.abs(grade.contrast)).toBeLessThanOrEqual(0.25);
        expect(Math.abs(grade.saturation - 1)).toBeLessThanOrEqual(0.2 + 1e-9);
        const moved = { ...from, colours: from.colours.slice() };
        const out = new Float64Array(3);
        const change = grader(grade);
        for (let k = 0; k < moved.colours.length; k += 3) {
          change(moved.colours[k], moved.colours[k + 1], moved.colours[k + 2], out);
          moved.colours.set(out, k);
        }
        const plain = solveGrade(from, to, { ...none, cast: 1, tint: 1, black: 1 });
        expect(Math.abs(plain.contrast)).toBe(0);
        expect(Math.abs(toneOf(moved).middle - before.middle)).toBeLessThan(Math.max(6, 0.7 * Math.abs(to.middle - before.middle)));
      }),
      { numRuns: 8 },
    );
  });

  test('brightening stops where it would clip', () => {
    const pale = pictureFrom(60, 40, (x, y) => [0.2 + x / 80, 0.2 + x / 80, 0.2 + y / 60]);
    const from = sampleColours(pale);
    const to = { ...toneOf(from), white: 300, middle: 99 };
    const asked = solveGrade(from, to, { ...none, white: 1 });
    const unasked = solveGrade(from, to, { ...none, white: 1 / 3 });
    const clipped = (exposure: number): number => clippedShare({ ...from, colours: from.colours.map((v) => v * 2 ** exposure) });
    expect(clipped(asked.exposure)).toBeGreaterThan(0.05);
    expect(clipped(unasked.exposure)).toBeLessThanOrEqual(clipped(0) + 0.0035);
    expect(unasked.exposure).toBeGreaterThan(0);
  });

  test('what glows stays as it is; a white shirt does not glow', async () => {
    expect(glowShare(1, 0.72, 0.3)).toBe(1);
    expect(glowShare(1, 0.98, 0.95)).toBe(0);
    expect(glowShare(0.4, 0.2, 0.05)).toBe(0);
    const lit = pictureFrom(40, 20, (x) => (x < 20 ? [1, 0.72, 0.3] : [0.3, 0.3, 0.3]));
    const out = await graded(lit, { ...defaultGrade, exposure: -1, temperature: -80 }, context, { glow: true });
    expect([out.r[0], out.g[0], out.b[0]]).toEqual([lit.r[0], lit.g[0], lit.b[0]]);
    expect(out.r[30]).toBeLessThan(0.2);
  });

  test('protected hues are left out of it', async () => {
    const two = pictureFrom(60, 40, (x, y) => (x < 30 ? [0.5, 0.12, 0.08] : [0.2 + y / 200, 0.22, 0.3 + x / 400]));
    const [, a, b] = oklabOf(0.5, 0.12, 0.08);
    const protect = [{ hue: (Math.atan2(b, a) * 180) / Math.PI, width: 25 }];
    const to = measureTone(street(3, [1.3, 0.9, 0.45]));
    const grade = solveGrade(sampleColours(two), to, { ...none, cast: 1 }, { protect });
    const out = await graded(two, grade, context, { protect });
    expect(out.r[0]).toBeCloseTo(0.5, 2);
    expect(Math.abs(out.b[59] - two.b[59])).toBeGreaterThan(0.01);
  });
});
