import fc from 'fast-check';
import { luminance } from '../colour/cielab';
import { chromaticityOf, whitePointOf } from '../colour/whitepoint';
import { defaultContext } from '../runtime/context';
import { largestDifference, pictureFrom, planeFrom } from '../testing/scenes';
import { castMatrix, daylight } from './cast';
import { curveThrough, isStraight, straightCurve } from './curves';
import { detailed, defaultDetail } from './detail';
import { graded, grader, hueShare, isPlainGrade, luminanceOf, defaultGrade, toneCurve, type Grade } from './grade';
import { everywhere, limitPlane } from './limit';
import { scopeColumns, scopeLevels, scopesOf } from './scopes';
import { defaultVignette, vignetted } from './vignette';

const context = defaultContext();
/** White under a cast. */
const whiteAt = (mired: number, tint: number): [number, number, number] => {
  const m = castMatrix(mired, tint);
  return [0, 3, 6].map((k) => m[k] + m[k + 1] + m[k + 2]) as [number, number, number];
};
const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const points = fc.array(fc.tuple(number(0, 1), number(0, 1)), { minLength: 2, maxLength: 8 });
const p = pictureFrom(24, 16, (x, y) => [x / 20, y / 14, 0.3]);

function one(grade: Partial<Grade>, r: number, g: number, b: number): [number, number, number] {
  const out = new Float64Array(3);
  grader({ ...defaultGrade, ...grade })(r, g, b, out);
  return [...out] as [number, number, number];
}

describe('curves', () => {
  test('never turn back, stay within 0 and 1 and within their points, whatever the points', () => {
    fc.assert(
      fc.property(points, (drawn) => {
        const f = curveThrough(drawn);
        const ys = Array.from({ length: 301 }, (_, i) => f(i / 300));
        expect(ys.filter((y) => !(y >= 0 && y <= 1))).toEqual([]);
        expect(ys.filter((y, i) => i > 0 && y < ys[i - 1] - 1e-12)).toEqual([]);
      }),
    );
  });

  test('go through their points, and two points make a straight line', () => {
    const f = curveThrough([[0, 0.1], [0.3, 0.5], [1, 0.9]]); // prettier-ignore
    expect([f(0), f(0.3), f(1)].map((v) => Number(v.toFixed(9)))).toEqual([0.1, 0.5, 0.9]);
    expect(curveThrough(straightCurve)(0.37)).toBeCloseTo(0.37, 9);
    expect(isStraight(straightCurve)).toBe(true);
    expect(isStraight([[0, 0], [0.5, 0.6], [1, 1]])).toBe(false); // prettier-ignore
    expect(isStraight([[0.2, 0.2], [1, 1]])).toBe(false); // prettier-ignore
  });
});

describe('a grade', () => {
  test('that is plain is the very picture, and changes no bit of a colour but by its tables’ last digit', async () => {
    expect(await graded(p, defaultGrade, context)).toBe(p);
    expect(isPlainGrade({ ...defaultGrade, hues: [{ hue: 3, width: 9, turn: 0, saturation: 1, lightness: 0 }] })).toBe(true);
    expect(one({}, 0.3, 0.2, 0.9)).toEqual([0.3, 0.2, 0.9]);
  });

  test('keeps greys in order and never gives NaN, for any tone and curve', () => {
    fc.assert(
      fc.property(
        number(-40, 40),
        number(-1, 1),
        number(-3, 3),
        number(-20, 20),
        number(-30, 30),
        points,
        (middle, contrast, exposure, black, white, all) => {
          const change = grader({ ...defaultGrade, middle, contrast, exposure, black, white, curves: { ...defaultGrade.curves, all } });
          const out = new Float64Array(3);
          let last = -Infinity;
          for (let i = 0; i <= 120; i++) {
            change((i / 100) ** 2, (i / 100) ** 2, (i / 100) ** 2, out);
            expect(out.every(Number.isFinite)).toBe(true);
            expect(out[0]).toBeGreaterThanOrEqual(last - 1e-5);
            last = out[0];
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  test('any grade of any colour is a number', () => {
    const light = number(-0.2, 6);
    fc.assert(
      fc.property(
        light,
        light,
        light,
        number(-110, 340),
        number(-60, 60),
        number(0, 3),
        number(-1, 1),
        number(-1, 1),
        (r, g, b, temperature, tint, saturation, vibrance, n) => {
          const hues = [{ hue: 100 * n, width: 30, turn: 60, saturation: 2, lightness: 1 }];
          expect(one({ temperature, tint, saturation, vibrance, neutrals: [n, -n, n], hues }, r, g, b).every(Number.isFinite)).toBe(true);
        },
      ),
    );
  });

  test('a stop doubles; no saturation is grey at the same luminance; white keeps its luminance under any cast', () => {
    expect(one({ exposure: 1 }, 0.1, 0.2, 0.3)).toEqual([0.2, 0.4, 0.6]);
    const grey = one({ saturation: 0 }, 0.1, 0.4, 0.3);
    expect(grey[0]).toBeCloseTo(luminance(0.1, 0.4, 0.3), 6);
    expect(grey[2]).toBeCloseTo(grey[0], 6);
    fc.assert(fc.property(number(-110, 340), number(-30, 30), (m, t) => expect(luminance(...whiteAt(m, t))).toBeCloseTo(1, 4)));
  });

  test('a cast moves white by what it says, along the locus and across it', () => {
    fc.assert(
      fc.property(number(-60, 200), number(-12, 12), (mired, tint) => {
        const found = whitePointOf(chromaticityOf(...whiteAt(mired, tint)));
        expect(Math.abs(found.mired - daylight - mired)).toBeLessThan(6);
        // White itself lies 3 off the locus.
        expect(Math.abs(found.tint - whitePointOf(chromaticityOf(1, 1, 1)).tint - tint)).toBeLessThan(2);
      }),
    );
    expect(whiteAt(0, 0).every((v) => Math.abs(v - 1) < 1e-6)).toBe(true);
  });

  test('black, white and middle come to lie where they are told', () => {
    expect(one({ black: 10 }, 0, 0, 0)[0]).toBeCloseTo(luminanceOf(10), 6);
    expect(one({ white: -20 }, 1, 1, 1)[0]).toBeCloseTo(luminanceOf(80), 6);
    expect(toneCurve({ ...defaultGrade, middle: 15 })(0.5)).toBeCloseTo(0.65, 9);
    expect([0, 1].map(toneCurve({ ...defaultGrade, middle: 15, contrast: 0.7 }))).toEqual([0, 1]);
  });

  test('a faint colour near black does not glare when tones are lifted', () => {
    const out = one({ middle: 30 }, 2e-4, -5e-5, -1e-4);
    expect(Math.max(...out.map(Math.abs))).toBeLessThan(0.02);
    expect(luminance(...one({ middle: 30 }, 0.004, 0.001, 0.001))).toBeCloseTo(
      luminance(...one({ middle: 30 }, 0.00164, 0.00164, 0.00164)),
      3,
    );
  });

  test('light beyond white is not cut off', () => {
    expect(one({ contrast: 0.5, exposure: -1 }, 8, 8, 8)[0]).toBeGreaterThan(3);
  });

  test('a range of hues takes its own and spares greys and the opposite', () => {
    expect(hueShare({ hue: 40, width: 20 }, 40, 0.2)).toBe(1);
    expect(hueShare({ hue: 350, width: 20 }, 10, 0.2)).toBeCloseTo(0.5, 6);
    expect(hueShare({ hue: 40, width: 20 }, 220, 0.2)).toBe(0);
    expect(hueShare({ hue: 40, width: 20 }, 40, 0)).toBe(0);
    const hues = [{ hue: 29, width: 20, turn: 0, saturation: 0, lightness: 0 }];
    const red = one({ hues }, 0.8, 0.05, 0.05);
    expect(Math.max(...red) - Math.min(...red)).toBeLessThan(0.1);
    expect(one({ hues }, 0.05, 0.1, 0.8)[2]).toBeCloseTo(0.8, 3);
  });

  test('neutrals move greys, not colours', () => {
    expect(one({ neutrals: [0.5, 0, 0] }, 0.4, 0.4, 0.4)[0]).toBeCloseTo(0.4 * 2 ** 0.5, 5);
    expect(one({ neutrals: [0.5, 0, 0] }, 0.8, 0.1, 0.1)[0]).toBeCloseTo(0.8, 6);
  });

  test('works only where its mask lets it', async () => {
    const mask = planeFrom(24, 16, (x) => (x < 12 ? 0 : 1));
    const out = await graded(p, { ...defaultGrade, exposure: 1 }, context, { mask });
    expect(out.g[5 * 24 + 3]).toBe(p.g[5 * 24 + 3]);
    expect(out.g[5 * 24 + 20]).toBeCloseTo(2 * p.g[5 * 24 + 20], 6);
  });
});

describe('limits', () => {
  test('none is everywhere', () => expect(limitPlane(everywhere, 8, 8, 1)).toBeUndefined());

  test('a graduation falls from its first point to its second, a stroke adds, outside turns it round', () => {
    const graduated = { from: [0, 10] as const, to: [0, 50] as const };
    const fall = limitPlane({ ...everywhere, graduated }, 4, 60, 1)!;
    expect([fall.data[0], fall.data[4 * 59]]).toEqual([1, 0]);
    expect(fall.data[4 * 30]).toBeCloseTo(0.5, 1);
    const painted = [{ radius: 3, hardness: 1, opacity: 1, points: [[2, 56]] as [number, number][] }];
    expect(limitPlane({ ...everywhere, graduated, painted }, 4, 60, 1)!.data[4 * 56 + 2]).toBeCloseTo(1, 3);
    expect(limitPlane({ ...everywhere, graduated, outside: true }, 4, 60, 1)!.data[0]).toBe(0);
    expect(limitPlane({ ...everywhere, graduated }, 2, 30, 0.5)!.data[2 * 15]).toBeCloseTo(0.5, 0);
  });
});

describe('detail', () => {
  const edge = pictureFrom(40, 8, (x) => (x < 20 ? [0.2, 0.2, 0.2] : [0.6, 0.6, 0.6]));

  test('plain is the very picture', () => expect(detailed(edge, defaultDetail, 1)).toBe(edge));

  test('sharpening overshoots at an edge and leaves flats, softening widens it and keeps the light', () => {
    const sharp = detailed(edge, { ...defaultDetail, sharpen: 1 }, 1);
    expect(sharp.r[20]).toBeGreaterThan(0.62);
    expect(sharp.r[19]).toBeLessThan(0.18);
    expect(sharp.r[35]).toBeCloseTo(0.6, 5);
    const soft = detailed(edge, { ...defaultDetail, soften: 3 }, 1);
    expect(soft.r[20]).toBeLessThan(0.5);
    expect(soft.r.reduce((a, b) => a + b, 0)).toBeCloseTo(
      edge.r.reduce((a, b) => a + b, 0),
      1,
    );
  });
});

describe('vignette', () => {
  const grey = pictureFrom(60, 40, () => [0.5, 0.5, 0.5]);

  test('none is the very picture', () => expect(vignetted(grey, defaultVignette, { colour: '#ffffff', strength: 0 })).toBe(grey));

  test('leaves its middle and takes its stops at the far end, wherever it is put', () => {
    const v = { ...defaultVignette, strength: -1, softness: 0.3, width: 0.8, height: 0.8 };
    const out = vignetted(grey, v, { colour: '#ffffff', strength: 0 });
    expect(out.r[20 * 60 + 30]).toBe(0.5);
    expect(out.r[0]).toBeCloseTo(0.25, 6);
    const moved = vignetted(grey, { ...v, x: 0, y: 0 }, { colour: '#ffffff', strength: 0 });
    expect(moved.r[0]).toBe(0.5);
    expect(moved.r[39 * 60 + 59]).toBeCloseTo(0.25, 6);
    const box = vignetted(grey, { ...v, width: 1, height: 1, roundness: 0 }, { colour: '#ffffff', strength: 0 });
    expect(box.r[3 * 60 + 3]).toBeGreaterThan(out.r[3 * 60 + 3]);
  });

  test('a wash colours and keeps luminance', () => {
    const out = vignetted(grey, defaultVignette, { colour: '#ff8040', strength: 1 });
    expect(luminance(out.r[0], out.g[0], out.b[0])).toBeCloseTo(0.5, 4);
    expect(out.r[0]).toBeGreaterThan(out.b[0]);
  });
});

describe('scopes', () => {
  test('count every sample in all of them, and what is out of range', () => {
    const q = pictureFrom(50, 40, (x, y) => (y < 10 ? [1.5, 1, 1] : x < 25 ? [-0.1, 0, 0] : [0.5, 0.5, 0.5]));
    const [s] = scopesOf(q);
    expect(s.samples).toBe(2000);
    for (const h of s.histogram) expect(h.reduce((a, b) => a + b, 0)).toBe(2000);
    expect(s.waveform[0].length).toBe(scopeColumns * scopeLevels);
    expect(s.waveform[1].reduce((a, b) => a + b, 0)).toBe(2000);
    expect(s.vector.reduce((a, b) => a + b, 0)).toBe(2000);
    expect([s.above, s.below]).toEqual([0.25, 0.375]);
    expect(s.histogram[1][188]).toBe(750);
  });

  test('two sides are told apart, and their sum is the whole', () => {
    const [ours, theirs] = scopesOf(
      p,
      planeFrom(24, 16, (x) => (x < 6 ? 1 : 0)),
    );
    expect(ours.samples).toBe(6 * 16);
    expect(theirs.samples).toBe(18 * 16);
    const [all] = scopesOf(p);
    expect(
      largestDifference(
        all.vector,
        ours.vector.map((v, i) => v + theirs.vector[i]),
      ),
    ).toBe(0);
  });
});
