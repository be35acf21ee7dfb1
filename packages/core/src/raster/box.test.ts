import fc from 'fast-check';
import { largestDifference, pictureFrom, planeFrom } from '../testing/scenes';
import { boxAround, coloursIn, planeIn, withColoursIn } from './box';

test('the box around what is there, with its margin, stays within the plane', () => {
  const spot = planeFrom(20, 10, (x, y) => (x >= 3 && x < 7 && y >= 2 && y < 4 ? 1 : 0));
  expect(boxAround(spot, 0.5)).toEqual({ x: 3, y: 2, width: 4, height: 2 });
  expect(boxAround(spot, 0.5, 3)).toEqual({ x: 0, y: 0, width: 10, height: 7 });
  expect(boxAround(planeFrom(5, 5, () => 0), 0.5)).toBeUndefined(); // prettier-ignore
});

test('what is taken out of a box and put back changes nothing, and nothing outside it', () => {
  const p = pictureFrom(16, 12, (x, y) => [x, y, x * y]);
  const nat = (most: number) => fc.nat(most);
  fc.assert(
    fc.property(nat(10), nat(8), nat(5), nat(3), (x, y, w, h) => {
      const box = { x, y, width: w + 1, height: h + 1 };
      const part = coloursIn(p, box);
      expect(planeIn({ width: 16, height: 12, data: p.g }, box).data[0]).toBe(y);
      const back = withColoursIn(p, box, part);
      for (const c of ['r', 'g', 'b'] as const) expect(largestDifference(back[c], p[c])).toBe(0);
      const dark = withColoursIn(p, box, { ...part, b: new Float32Array(part.b.length).fill(-1) });
      expect(dark.b.filter((v) => v === -1)).toHaveLength(box.width * box.height);
      expect(p.b.every((v) => v >= 0)).toBe(true);
    }),
  );
});
