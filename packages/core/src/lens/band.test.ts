import fc from 'fast-check';
import { defaultContext } from '../runtime/context';
import { pictureFrom } from '../testing/scenes';
import { roundAperture } from './aperture';
import { bandDisc, bandOptics, blurBy, discOptics, easedDistances, type SharpBand } from './band';
import { blurDiscAt } from './thinLens';
import { defocus } from './defocus';

const band: SharpBand = { x: 100, y: 75, turn: 0, sharp: 40, soft: 30, blur: 16 };

describe('a band of sharpness', () => {
  test('is sharp within, wholly blurred beyond its ends, and never less blurred farther out', () => {
    expect(bandDisc(band, 3, 94)).toBe(0);
    expect(bandDisc(band, 190, 75 + 20 + 30)).toBe(16);
    expect(bandDisc(band, 100, 75 + 20 + 15)).toBeCloseTo(8, 6);
    fc.assert(
      fc.property(fc.double({ min: -180, max: 180, noNaN: true }), fc.double({ min: 0, max: 90, noNaN: true }), (turn, way) => {
        const at = (far: number): number => {
          const angle = ((turn + 90) * Math.PI) / 180;
          return bandDisc({ ...band, turn }, 100 + far * Math.cos(angle), 75 + far * Math.sin(angle));
        };
        expect(at(way + 1)).toBeGreaterThanOrEqual(at(way) - 1e-9);
        expect(at(way)).toBeCloseTo(at(-way), 6);
      }),
    );
  });

  test('its lens gives just its discs, at any scale', () => {
    for (const scale of [1, 0.5]) {
      const { distance, lens } = bandOptics(band, { width: 200 * scale, height: 150 * scale }, scale, 200, roundAperture);
      for (const [x, y] of [
        [100, 75],
        [100, 105],
        [20, 140],
        [60, 112],
      ] as const) {
        // prettier-ignore
        const p = Math.floor(y * scale) * distance.width + Math.floor(x * scale);
        const at = bandDisc(band, (Math.floor(x * scale) + 0.5) / scale, (Math.floor(y * scale) + 0.5) / scale);
        expect(blurDiscAt(lens, distance.data[p], 200)).toBeCloseTo(at, 3);
      }
    }
  });

  test('keeps the band to the bit but for what bleeds in from its soft ends, and light on the whole', async () => {
    const stripes = pictureFrom(200, 150, (x, y) => (((x >> 2) + (y >> 2)) % 2 ? [0.8, 0.8, 0.8] : [0.1, 0.1, 0.1]));
    const { distance, lens } = bandOptics(band, stripes, 1, 200, roundAperture);
    const out = await defocus(stripes, distance, lens, defaultContext());
    const spread = (y: number): number => {
      const row = out.r.subarray(y * 200 + 20, y * 200 + 180);
      return Math.max(...row) - Math.min(...row);
    };
    expect(spread(75)).toBeGreaterThan(0.65);
    expect(spread(140)).toBeLessThan(0.15);
    expect(spread(110)).toBeLessThan(spread(75));
  });
});

test('a share of every disc is had by drawing distances to the focus; given discs are had by distances', () => {
  const lens = { focalLength: 85, sensorWidth: 36, fNumber: 2, focus: 3, across: 400, aperture: roundAperture };
  const share = { width: 4, height: 1, data: Float32Array.of(0, 0.25, 0.5, 1) };
  for (const metres of [1, 2.5, 20, 9000]) {
    const eased = easedDistances(metres, share, lens.focus).data;
    share.data.forEach((k, p) => expect(blurDiscAt(lens, eased[p], 400)).toBeCloseTo(k * blurDiscAt(lens, metres, 400), 2));
  }
  const discs = { width: 4, height: 1, data: Float32Array.of(0, 3, 11, 40) };
  const through = discOptics(discs, 40, 400, roundAperture);
  discs.data.forEach((d, p) => expect(blurDiscAt(through.lens, through.distance.data[p], 400)).toBeCloseTo(d, 2));
});

test('a band comes before a disc of its own, and that before the distance; each can be had in part', () => {
  const lens = { focalLength: 85, sensorWidth: 36, fNumber: 2, focus: 3, across: 200, aperture: roundAperture };
  const size = { width: 2, height: 1 };
  const half = { ...size, data: Float32Array.of(0.5, 1) };
  const blur = (of: { band: SharpBand | null; blur: number | null }, share?: typeof half) => blurBy(of, 8, share, lens, size, 1);
  expect(blur({ band: null, blur: null })).toEqual({ distance: 8, lens });
  expect(blur({ band: null, blur: 12 })).toEqual({ disc: 12 });
  expect(blur({ band, blur: 12 })).toEqual(bandOptics(band, size, 1, 200, roundAperture));
  for (const of of [
    { band: null, blur: null },
    { band: null, blur: 12 },
    { band, blur: null },
  ]) {
    // prettier-ignore
    const whole = blur(of);
    const part = blur(of, half) as { distance: { data: Float32Array }; lens: typeof lens };
    const discs = part.distance.data.map((d) => blurDiscAt(part.lens, d, 200));
    const full = 'disc' in whole ? [12, 12] : [0, 1].map((p) => blurDiscAt(whole.lens, typeof whole.distance === 'number' ? whole.distance : whole.distance.data[p], 200)); // prettier-ignore
    expect(discs[0]).toBeCloseTo(0.5 * full[0], 2);
    expect(discs[1]).toBeCloseTo(full[1], 2);
  }
});
