import fc from 'fast-check';
import { defaultContext } from '../runtime/context';
import { pictureFrom } from '../testing/scenes';
import { broughtTo } from './bring';
import { mapped, moved, type Projective } from './projective';

const context = defaultContext();
/** Smooth, so that a place between pixels is known by formula. */
const light = (x: number, y: number): [number, number, number] => [
  0.5 + 0.2 * Math.sin(0.5 * x + 0.2 * y),
  0.4 + 0.2 * Math.cos(0.4 * y - 0.1 * x),
  0.3 + 0.1 * Math.sin(0.3 * (x + y)),
];
const [width, height] = [90, 77];
const picture = pictureFrom(width, height, light);

test('what is brought is what the picture shows at the place, whatever the map', async () => {
  const turn = fc.double({ min: -0.2, max: 0.2, noNaN: true });
  const lean = fc.double({ min: -0.0008, max: 0.0008, noNaN: true });
  await fc.assert(
    fc.asyncProperty(turn, turn, lean, lean, fc.double({ min: -9, max: 9, noNaN: true }), async (a, b, g, h, shift) => {
      const map: Projective = [1 + a, b, shift, -b, 1 - a, 0.6 * shift, g, h, 1];
      const { picture: out, nearest } = await broughtTo(picture, map, [1, 2, 0.5], { width: 70, height: 66 }, context);
      let [astray, farthest, off] = [0, 0, 0];
      for (let p = 0; p < nearest.length; p++) {
        const [x, y] = mapped(map, p % 70, Math.floor(p / 70));
        const isIn = x >= -0.5 && y >= -0.5 && x <= width - 0.5 && y <= height - 0.5;
        if (nearest[p] >= 0 !== isIn) astray++;
        if (!isIn) continue;
        const [nx, ny] = [nearest[p] % width, Math.floor(nearest[p] / width)];
        farthest = Math.max(farthest, Math.abs(nx - x), Math.abs(ny - y));
        if (x < 5 || y < 5 || x > width - 6 || y > height - 6) continue;
        const [r, green, blue] = light(x, y);
        off = Math.max(off, Math.abs(out.r[p] - r), Math.abs(out.g[p] - 2 * green), Math.abs(out.b[p] - 0.5 * blue));
      }
      expect(astray).toBe(0);
      expect(farthest).toBeLessThanOrEqual(0.5 + 1e-9);
      expect(off).toBeLessThan(0.004);
    }),
    { numRuns: 12 },
  );
});

test('a whole shift copies pixels as they are, and the border goes on beyond the picture', async () => {
  const { picture: out, nearest } = await broughtTo(picture, moved(-3, 40), [1, 1, 1], { width, height }, context, 0);
  for (const [x, y] of [
    [3, 0],
    [50, 20],
    [89, 36],
  ]) {
    expect(out.g[y * width + x]).toBe(picture.g[(y + 40) * width + x - 3]);
    expect(nearest[y * width + x]).toBe((y + 40) * width + x - 3);
  }
  expect(nearest[2]).toBe(-1);
  expect(out.r[2]).toBe(picture.r[40 * width]);
  expect(nearest[37 * width + 10]).toBe(-1);
  expect(out.b[70 * width + 10]).toBe(picture.b[76 * width + 7]);
});

test('a map that folds the picture still gives a colour everywhere', async () => {
  const { picture: out } = await broughtTo(picture, [1, 0, 0, 0, 1, 0, 0.05, 0, -1], [1, 1, 1], { width: 60, height: 40 }, context);
  expect(out.r.every((v) => v >= 0 && v < 1)).toBe(true);
});
