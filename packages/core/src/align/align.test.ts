import { defaultContext } from '../runtime/context';
import { seeded } from '../raster/random';
import { pictureFrom } from '../testing/scenes';
import { makePicture, type Picture } from '../raster/plane';
import { alignPicture } from './align';
import { solveSymmetric } from './solve';

/** Smooth, many-coloured ground that has structure everywhere. */
const ground = (x: number, y: number): [number, number, number] => [
  0.3 + 0.12 * Math.sin(x / 7) * Math.cos(y / 9) + 0.08 * Math.sin((x + y) / 17),
  0.25 + 0.1 * Math.cos(x / 11 + y / 13) + 0.06 * Math.sin(y / 5),
  0.2 + 0.07 * Math.sin(x / 19 - y / 8),
];

/** The ground turned, shifted, and of another exposure. */
function moved(dx: number, dy: number, degrees: number, gain: number, width = 240, height = 160): Picture {
  const c = Math.cos((degrees * Math.PI) / 180);
  const s = Math.sin((degrees * Math.PI) / 180);
  return pictureFrom(width, height, (x, y) => {
    const u = x - (width - 1) / 2;
    const v = y - (height - 1) / 2;
    return ground(c * u - s * v + (width - 1) / 2 + dx, s * u + c * v + (height - 1) / 2 + dy).map((l) => l * gain) as [
      number,
      number,
      number,
    ];
  });
}

const shot = moved(0, 0, 0, 1);

test.each<[string, number, number, number, number]>([
  ['nothing', 0, 0, 0, 1],
  ['3 px, 1° and 0.3 stop', 3, -2, 1, 2 ** 0.3],
  ['far and dark', 14, 9, 3, 0.6],
])('a picture moved by %s comes back over the shot', async (_, dx, dy, degrees, gain) => {
  const found = await alignPicture(moved(dx, dy, degrees, gain), shot, defaultContext());
  found.gain.forEach((g) => expect(g).toBeCloseTo(1 / gain, 2));
  let worst = 0;
  for (let y = 20; y < 140; y++) {
    for (let x = 30; x < 210; x++) {
      const p = y * 240 + x;
      if (found.seen.data[p]) worst = Math.max(worst, Math.abs(found.picture.g[p] - shot.g[p]));
    }
  }
  expect(worst).toBeLessThan(0.01);
  expect(found.fits).toBeGreaterThan(0.95);
});

test.each([
  ['one that stood still', 1.2, true],
  ['one that moved by a fifth of a pixel', 1, false],
] as const)('a picture by a camera, %s, is taken as it lies or is resampled', async (_, gain, still) => {
  const random = seeded(4);
  const other = still ? shot : moved(0.2, 0.15, 0, 1);
  const noisy = { ...other, r: other.r.slice(), g: other.g.slice(), b: other.b.slice() };
  for (const c of ['r', 'g', 'b'] as const) noisy[c].forEach((v, p) => (noisy[c][p] = gain * v + 0.004 * (random() - 0.5)));
  const found = await alignPicture(noisy, shot, defaultContext());
  const lies = found.homography.every((v, i) => v === (i === 0 || i === 4 ? 1 : 0));
  expect(lies).toBe(still);
  if (still) for (let p = 0; p < 240 * 160; p += 97) expect(found.picture.g[p]).toBeCloseTo(found.gain[1] * noisy.g[p], 6);
  expect(found.fits).toBeGreaterThan(0.95);
});

test('a subject in the shot does not pull the plate along', async () => {
  const withSubject = makePicture(240, 160);
  for (const c of ['r', 'g', 'b'] as const) withSubject[c].set(shot[c]);
  for (let y = 50; y < 120; y++) for (let x = 80; x < 150; x++) withSubject.r[y * 240 + x] = withSubject.g[y * 240 + x] = 0.9;
  const found = await alignPicture(moved(4, 2, 0.5, 1), withSubject, defaultContext());
  expect(Math.abs(found.picture.g[20 * 240 + 40] - shot.g[20 * 240 + 40])).toBeLessThan(0.01);
  expect(Math.abs(found.picture.g[140 * 240 + 200] - shot.g[140 * 240 + 200])).toBeLessThan(0.01);
  expect(found.fits).toBeLessThan(0.97);
});

test('pictures that have nothing in common give a defined answer', async () => {
  const random = seeded(3);
  const noise = pictureFrom(60, 40, () => [random(), random(), random()]);
  for (const other of [noise, makePicture(60, 40), makePicture(1, 1)]) {
    const found = await alignPicture(other, pictureFrom(60, 40, ground), defaultContext());
    expect(found.picture.r.every(Number.isFinite)).toBe(true);
    expect(found.homography.every(Number.isFinite)).toBe(true);
  }
});

test('a symmetric system is solved, a singular one refused', () => {
  const x = solveSymmetric(Float64Array.of(4, 1, 0, 1, 3, 1, 0, 1, 2), Float64Array.of(6, 10, 8), 3)!;
  expect(Array.from(x, (v) => Math.round(v * 1e6) / 1e6)).toEqual([1, 2, 3]);
  expect(solveSymmetric(Float64Array.of(1, 2, 2, 1), Float64Array.of(1, 1), 2)).toBeUndefined();
});
