import { defaultContext } from '../runtime/context';
import { makePicture, withOpacity, type Picture, type Plane } from '../raster/plane';
import { seeded } from '../raster/random';
import { usualSide } from '../raster/usual';
import { pictureFrom, planeFrom } from '../testing/scenes';
import type { Check } from './checks/check';
import { checkHalo } from './checks/outline';
import { checkClipping, checkSpecks } from './checks/pictures';
import { edgeWalk } from './edgeWalk';

/** A photograph of the usual width, as it is, and as one of twice the pixels worked at half its size: the same is seen of both. */
const [width, height] = [usualSide, 240];
const random = seeded(8);
const specks = Array.from({ length: 9 }, (_, k): [number, number] => [60 + 200 * k, 20]);
const cover: Plane = planeFrom(width, height, (x, y) => {
  if (specks.some(([u, v]) => Math.hypot(x - u, y - v) < 2)) return 1;
  return Math.min(1, Math.max(0, (y - 150 - 12 * Math.sin(x / 60)) / 5));
});
const ground: Picture = pictureFrom(width, height, () => [0.2 + 0.02 * random(), 0.25, 0.3]);
const haloed: Picture = pictureFrom(width, height, (x, y) => {
  const away = 150 + 12 * Math.sin(x / 60) - y;
  return away < 0 ? [0.5, 0.3, 0.2] : away < 10 ? [0.5, 0.5, 0.55] : [0.2, 0.25, 0.3];
});

const shifted = ({ places }: Check): number[][] => places.map((p) => [p.x, p.y, p.width, p.height]);

test.each<[string, (scale: number) => Check]>([
  ['specks', (scale) => checkSpecks(cover, scale, 'specks')],
  ['a halo', (scale) => checkHalo(haloed, cover, scale)],
  ['clipping', (scale) => checkClipping(makePicture(width, height), ground, scale)],
])('%s: the same figure, at the same places', (_, checked) => {
  const [usual, large] = [checked(1), checked(0.5)];
  expect(usual.places.length).toBeGreaterThan(5);
  expect([large.verdict, large.figure]).toEqual([usual.verdict, usual.figure]);
  expect(shifted(large)).toEqual(shifted(usual).map((box) => box.map((v) => 2 * v)));
});

test('the walk along the edge stops at the same places, not at four times as many', async () => {
  const subject = withOpacity(haloed, cover);
  const walk = (scale: number) => edgeWalk(subject, ground, defaultContext({ scale }));
  const [usual, large] = [await walk(1), await walk(0.5)];
  expect(usual.length).toBeGreaterThan(8);
  expect(large.map(({ x, y }) => [x, y])).toEqual(usual.map(({ x, y }) => [2 * x, 2 * y]));
});
