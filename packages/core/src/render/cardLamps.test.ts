import { luminance } from '../colour/cielab';
import { defaultLamps, findLamps, type LampParams } from '../lens/lamps';
import { resizePicture } from '../raster/resize';
import type { Picture } from '../raster/plane';
import { newRecipe } from '../recipe/recipe';
import { pictureFrom } from '../testing/scenes';
import { lampScale, standingLamps } from './cardLamps';

const params: LampParams = { ...defaultLamps, least: 2 };
const lights = [[60, 50, 5], [150, 90, 6], [240, 60, 4], [300, 140, 5]] as const; // prettier-ignore

/** A warm night with lamps: white where they clip, orange at the rim. */
function night(
  lamps: readonly (readonly [number, number, number])[] = lights,
  sky: readonly [number, number, number] = [0.02, 0.02, 0.03],
): Picture {
  return pictureFrom(360, 200, (x, y) => {
    for (const [cx, cy, r] of lamps) {
      const away = Math.hypot(x + 0.5 - cx, y + 0.5 - cy);
      if (away < r) return [1, 1, 1];
      if (away < r + 1.2) return [0.5, 0.25, 0.05];
    }
    return [...sky];
  });
}
const whole = { scale: 1 };
const warmth = ({ colour }: { colour: readonly number[] }): number => colour[0] / colour[2];

test('lamps are looked for in the whole photograph, whatever size is worked at; by day in what is at hand, unless a lift is typed', () => {
  const dark = resizePicture(night(), 90, 50);
  expect(lampScale(dark, params, 0.25)).toBe(1);
  expect(lampScale({ ...dark, width: 3000, height: 2000 }, params, 0.25)).toBeCloseTo(Math.sqrt(50 / 96), 6);
  const day = resizePicture(night(lights, [0.8, 0.8, 0.9]), 90, 50);
  expect(lampScale(day, params, 0.25)).toBe(0.25);
  expect(lampScale(day, { lift: 3 }, 0.25)).toBe(1);
  expect(lampScale(day, { lift: 0 }, 0.25)).toBe(0.25);
});

test('a recipe begins with what counts as a lamp in a shot of its size', () => {
  expect(newRecipe('Large', 'a', 3600, 2400).cards[0]).toMatchObject({ lamps: { least: 8, size: 72 } });
});

test('on a reduced card they are those of the whole one: as many, as large, as warm', () => {
  const [photo, small] = [night(), resizePicture(night(), 90, 50)];
  const found = findLamps(photo, params, whole);
  const standing = standingLamps(found, { photo: small, plain: small, picture: small }, params, { scale: 0.25 });
  expect(standing.lamps).toEqual(found.lamps);
  expect(standing.lamps).toHaveLength(lights.length);
  for (const lamp of standing.lamps) expect(warmth(lamp)).toBeGreaterThan(2);
  // What the reduced picture says by itself is another thing.
  const alone = findLamps(small, params, { scale: 0.25 }).lamps;
  expect(alone.length === 0 || Math.min(...alone.map(warmth)) < 1.6).toBe(true);
  expect(standing.proposed).toBe(found.proposed);
});

test('what the plate has taken away is gone, what it has invented is there in the hue of the others', () => {
  const photo = night();
  const plate = night([lights[0], lights[1], lights[2], [100, 150, 6]]);
  // Invented, and without a rim that would tell.
  for (let p = 0; p < plate.r.length; p++) {
    const away = Math.hypot((p % 360) + 0.5 - 100, Math.floor(p / 360) + 0.5 - 150);
    if (away >= 6 && away < 9) plate.r[p] = plate.g[p] = plate.b[p] = 0.02;
  }
  const { lamps } = standingLamps(findLamps(photo, params, whole), { photo, plain: plate, picture: plate }, params, whole);
  const places = lamps.map((l) => `${Math.round(l.x)},${Math.round(l.y)}`).sort();
  expect(places).toEqual(['100,150', '150,90', '240,60', '60,50']);
  const invented = lamps.find((l) => Math.round(l.x) === 100)!;
  const others = lamps.filter((l) => l !== invented);
  expect(warmth(invented)).toBeGreaterThan(Math.min(...others.map(warmth)) - 1e-6);
  expect(luminance(...invented.colour)).toBeCloseTo(luminance(...others[0].colour), 1);
});

test('they are graded as the card is', () => {
  const photo = night();
  const picture = { ...photo, r: photo.r.map((v) => 0.5 * v), g: photo.g.map((v) => 0.25 * v), b: photo.b.map((v) => 0.5 * v) };
  const found = findLamps(photo, params, whole);
  const { lamps } = standingLamps(found, { photo, plain: photo, picture }, params, whole);
  lamps.forEach((l, i) => [0.5, 0.25, 0.5].forEach((share, c) => expect(l.colour[c]).toBeCloseTo(share * found.lamps[i].colour[c], 5)));
});
