import fc from 'fast-check';
import { pictureFrom, planeFrom } from '../testing/scenes';
import { boxAround, cropped, croppedPicture, grownBox } from './crop';

describe('a part of a plane', () => {
  const planes = fc.record({
    width: fc.integer({ min: 1, max: 20 }),
    height: fc.integer({ min: 1, max: 20 }),
    set: fc.array(fc.nat(399), { maxLength: 5 }),
  });

  test('is the smallest that holds all that is above the limit', () => {
    fc.assert(
      fc.property(planes, ({ width, height, set }) => {
        const plane = planeFrom(width, height, (x, y) => (set.includes(20 * y + x) ? 0.5 : 0.1));
        const there = [...plane.data.keys()].filter((p) => plane.data[p] > 0.2).map((p) => [p % width, Math.floor(p / width)]);
        const box = boxAround(plane, 0.2);
        if (there.length === 0) return expect(box).toBeUndefined();
        const [xs, ys] = [0, 1].map((k) => there.map((p) => p[k]));
        const [left, top] = [Math.min(...xs), Math.min(...ys)];
        expect(box).toEqual({ left, top, width: Math.max(...xs) + 1 - left, height: Math.max(...ys) + 1 - top });
      }),
    );
  });

  test('grown, it stays within the plane and holds as much more on each side as there is', () => {
    fc.assert(
      fc.property(fc.nat(50), fc.nat(40), fc.integer({ min: 1, max: 30 }), fc.nat(20), (left, top, size, by) => {
        const box = grownBox({ left, top, width: size, height: size }, by, { width: 90, height: 80 });
        expect([box.left, box.top]).toEqual([Math.max(0, left - by), Math.max(0, top - by)]);
        expect([box.left + box.width, box.top + box.height]).toEqual([Math.min(90, left + size + by), Math.min(80, top + size + by)]);
      }),
    );
  });

  test('has the plane’s and the picture’s values in their places', () => {
    const box = { left: 3, top: 2, width: 4, height: 5 };
    expect(
      cropped(
        planeFrom(9, 8, (x, y) => 10 * y + x),
        box,
      ),
    ).toEqual(planeFrom(4, 5, (x, y) => 10 * (y + 2) + x + 3));
    const picture = { ...pictureFrom(9, 8, (x, y) => [x, y, x * y]), a: planeFrom(9, 8, (x) => x / 9).data };
    const part = croppedPicture(picture, box);
    expect(part).toEqual({
      ...pictureFrom(4, 5, (x, y) => [x + 3, y + 2, (x + 3) * (y + 2)]),
      a: planeFrom(4, 5, (x) => (x + 3) / 9).data,
    });
    expect(
      croppedPicture(
        pictureFrom(9, 8, () => [1, 1, 1]),
        box,
      ).a,
    ).toBeUndefined();
  });
});
