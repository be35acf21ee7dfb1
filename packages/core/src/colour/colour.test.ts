import { converter, differenceCiede2000 } from 'culori';
import fc from 'fast-check';
import { pictureFrom } from '../testing/scenes';
import { cielabOf, deltaE2000, lightnessOf } from './cielab';
import { oklabOf, oklabPlanes, oklabToLinear } from './oklab';
import { decodedQuickly, decodeSrgb, encodedFinely, encodedQuickly, encodeSrgb, fromSamples, toCode8, toRgba8, toSamples16 } from './srgb';
import { chromaticityOf, locus, whitePointOf } from './whitepoint';

const light = fc.double({ min: 0, max: 1, noNaN: true });
const colours = fc.tuple(light, light, light);
const asLinear = (c: readonly number[]) => ({ mode: 'lrgb' as const, r: c[0], g: c[1], b: c[2] });

describe('sRGB', () => {
  test('encoding undoes decoding', () => {
    fc.assert(fc.property(light, (v) => Math.abs(encodeSrgb(decodeSrgb(v)) - v) < 1e-6));
  });

  test('every 8-bit code comes back', () => {
    for (let code = 0; code < 256; code++) expect(toCode8(decodeSrgb(code / 255))).toBe(code);
  });

  test('the table gives the nearest code for any light', () => {
    fc.assert(fc.property(light, (v) => Math.abs(toCode8(v) - encodeSrgb(v) * 255) <= 0.5 + 1e-3));
  });

  test('the quick encoding is close to the exact one', () => {
    fc.assert(fc.property(light, (v) => Math.abs(encodedQuickly(v) - encodeSrgb(v)) < 2e-3));
  });

  test('the fine encoding is as good as the exact one for 16 bits', () => {
    fc.assert(fc.property(light, (v) => Math.abs(encodedFinely(v) - encodeSrgb(v)) < 1e-7));
    for (let v = 0; v < 0.01; v += 1e-5) expect(Math.abs(encodedFinely(v) - encodeSrgb(v))).toBeLessThan(1e-7);
    expect([encodedFinely(-1), encodedFinely(NaN), encodedFinely(9)]).toEqual([0, 0, 1]);
  });

  test('the quick decoding is close to the exact one, beyond white too', () => {
    for (let v = 0; v < 1.25; v += 1e-3) expect(Math.abs(decodedQuickly(v) - decodeSrgb(v))).toBeLessThan(1e-6);
  });

  test('light outside 0 to 1 is clipped, not wrapped', () => {
    expect([toCode8(-3), toCode8(7), toCode8(NaN), encodeSrgb(-1), encodeSrgb(9)]).toEqual([0, 255, 0, 0, 1]);
  });

  test('8 and 16 bits go in and out unchanged', () => {
    const eight = Uint8Array.from({ length: 4 * 64 }, (_, i) => (i * 37) % 256);
    expect(Array.from(toRgba8(fromSamples({ width: 8, height: 8, channels: 4, data: eight })))).toEqual(Array.from(eight));
    const sixteen = Uint16Array.from({ length: 3 * 64 }, (_, i) => (i * 997) % 65536);
    expect(Array.from(toSamples16(fromSamples({ width: 8, height: 8, channels: 3, data: sixteen })).data)).toEqual(Array.from(sixteen));
  });

  test('grey becomes three equal channels, grey with opacity keeps it', () => {
    const p = fromSamples({ width: 2, height: 1, channels: 2, data: Uint8Array.of(200, 255, 100, 51) });
    expect(p.r[0]).toBe(p.b[0]);
    expect(p.a![1]).toBeCloseTo(0.2, 6);
  });
});

describe('OKLab', () => {
  const reference = converter('oklab');

  test('agrees with a reference and turns back', () => {
    fc.assert(
      fc.property(colours, (c) => {
        const mine = oklabOf(...c);
        const theirs = reference(asLinear(c));
        expect(mine[0]).toBeCloseTo(theirs.l, 4);
        expect(mine[1]).toBeCloseTo(theirs.a, 4);
        expect(mine[2]).toBeCloseTo(theirs.b, 4);
        oklabToLinear(...mine).forEach((v, i) => expect(v).toBeCloseTo(c[i], 5));
      }),
    );
  });

  test('whole pictures agree with single colours', () => {
    const p = pictureFrom(16, 16, (x, y) => [x / 15, y / 15, (x * y) / 225]);
    const planes = oklabPlanes(p);
    for (let i = 0; i < 256; i++) {
      const [l, a, b] = oklabOf(p.r[i], p.g[i], p.b[i]);
      expect(planes.l[i]).toBeCloseTo(l, 3);
      expect(planes.a[i]).toBeCloseTo(a, 2);
      expect(planes.b[i]).toBeCloseTo(b, 2);
    }
  });
});

describe('CIELAB', () => {
  const reference = converter('lab65');
  const difference = differenceCiede2000();

  test('agrees with a reference', () => {
    fc.assert(
      fc.property(colours, (c) => {
        const theirs = reference(asLinear(c));
        const mine = cielabOf(...c);
        expect(mine[0]).toBeCloseTo(theirs.l, 2);
        expect(mine[1]).toBeCloseTo(theirs.a, 1);
        expect(mine[2]).toBeCloseTo(theirs.b, 1);
      }),
    );
  });

  test('ΔE2000 agrees with the published pairs', () => {
    // Sharma, Wu & Dalal 2005, pairs 1, 4, 7, 13, 17, 25 of the table.
    const pairs: [number[], number[], number][] = [
      [[50, 2.6772, -79.7751], [50, 0, -82.7485], 2.0425],
      [[50, -1.3802, -84.2814], [50, 0, -82.7485], 1.0],
      [[50, 0, 0], [50, -1, 2], 2.3669],
      [[50, -0.001, 2.49], [50, 0.0009, -2.49], 4.8045],
      [[50, 2.5, 0], [73, 25, -18], 27.1492],
      [[60.2574, -34.0099, 36.2677], [60.4626, -34.1751, 39.4387], 1.2644],
    ];
    for (const [p, q, expected] of pairs) {
      const a = p as [number, number, number];
      const b = q as [number, number, number];
      expect(deltaE2000(a, b)).toBeCloseTo(expected, 3);
      expect(deltaE2000(b, a)).toBeCloseTo(expected, 3);
    }
  });

  test('ΔE2000 agrees with a reference for random colours', () => {
    const lab = fc.tuple(
      fc.double({ min: 0, max: 100, noNaN: true }),
      fc.double({ min: -90, max: 90, noNaN: true }),
      fc.double({ min: -90, max: 90, noNaN: true }),
    );
    fc.assert(
      fc.property(lab, lab, (p, q) => {
        const as = (c: readonly number[]) => ({ mode: 'lab65' as const, l: c[0], a: c[1], b: c[2] });
        expect(deltaE2000(p, q)).toBeCloseTo(difference(as(p), as(q)), 3);
      }),
    );
  });

  test('white is 100 and the eye’s middle grey is about half of it', () => {
    expect(lightnessOf(1)).toBeCloseTo(100, 6);
    expect(lightnessOf(0.1842)).toBeCloseTo(50, 1);
  });
});

describe('white points', () => {
  test('a black body stands at its own temperature with no tint', () => {
    for (const kelvin of [2000, 3200, 5000, 6500, 10000]) {
      const white = whitePointOf(locus(kelvin));
      expect(white.mired).toBeCloseTo(1e6 / kelvin, 0);
      expect(Math.abs(white.tint)).toBeLessThan(0.2);
    }
  });

  test('display white is near 6500 K, warm light is warmer, green is above the locus', () => {
    const white = whitePointOf(chromaticityOf(1, 1, 1));
    expect(1e6 / white.mired).toBeGreaterThan(6300);
    expect(1e6 / white.mired).toBeLessThan(6700);
    expect(whitePointOf(chromaticityOf(1, 0.7, 0.4)).mired).toBeGreaterThan(white.mired + 60);
    expect(whitePointOf(chromaticityOf(0.8, 1.1, 0.8)).tint).toBeGreaterThan(5);
  });
});
