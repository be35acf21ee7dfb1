import fc from 'fast-check';
import { bothOf, butNot, differing, eitherOf, indicesWhere, maskOf, maskOfCode, placesOf, weightOf, maskAt, nearestPlaces } from './mask';
import { makePlane } from './plane';
import { halveHoled, resizeHoled } from './resize';
import { widened } from './widened';

describe('masks', () => {
  test('a mask and a weight are one where the test holds, by value and by place', () => {
    const values = new Float32Array([0.2, 0.8, 0.5, 1]);
    expect([...maskOf(values, (v) => v > 0.4)]).toEqual([0, 1, 1, 1]);
    expect([...weightOf(values, (v, p) => v > 0.4 && p < 2)]).toEqual([0, 1, 0, 0]);
  });

  test('the places where a test holds come in order, all of them and no other', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 3 }), { maxLength: 40 }), (values) => {
        const places = [...indicesWhere(values.length, (i) => values[i] > 1)];
        expect(places).toEqual(values.flatMap((v, i) => (v > 1 ? [i] : [])));
      }),
    );
  });

  test('places, codes, what two planes differ in, and what both of two masks have, one but not the other, or either are found as they would be one by one', () => {
    const pixel = fc.tuple(fc.integer({ min: 0, max: 3 }), fc.integer({ min: 0, max: 3 }), fc.integer({ min: 0, max: 1 }));
    fc.assert(
      fc.property(fc.array(pixel, { maxLength: 50 }), (pixels) => {
        const [codes, others] = [0, 1].map((k) => Uint8Array.from(pixels, (p) => p[k]));
        const numbers = Float32Array.from(pixels, (p) => p[2] / 3);
        expect([...placesOf(codes)]).toEqual(pixels.flatMap(([c], p) => (c ? [p] : [])));
        expect([...maskOfCode(codes, 2)]).toEqual(pixels.map(([c]) => (c === 2 ? 1 : 0)));
        expect([...bothOf(codes, others)]).toEqual(pixels.map(([c, o]) => (o ? c : 0)));
        expect([...butNot(codes, others)]).toEqual(pixels.map(([c, o]) => (o ? 0 : c)));
        expect([...eitherOf(codes.map(Math.sign), others)]).toEqual(pixels.map(([c, o]) => (c || o ? 1 : 0)));
        const zeros = new Float32Array(pixels.length);
        const found = differing({ codes, numbers }, { codes: others, numbers: zeros });
        expect([...found]).toEqual(pixels.map(([c, o, v]) => (c !== o || v !== 0 ? 1 : 0)));
      }),
    );
  });

  test('a widened mask is one where anything lies within reach along both axes', () => {
    const sizes = fc.record({
      width: fc.integer({ min: 1, max: 12 }),
      height: fc.integer({ min: 1, max: 12 }),
      reach: fc.integer({ min: 1, max: 4 }),
    });
    fc.assert(
      fc.property(sizes, fc.array(fc.nat(143), { maxLength: 6 }), ({ width, height, reach }, set) => {
        const mask = new Uint8Array(width * height);
        for (const p of set) if (p < mask.length) mask[p] = 1;
        const wide = widened(mask, width, height, reach);
        for (let y = 0; y < height; y++) {
          for (let x = 0; x < width; x++) {
            const near = mask.some((m, p) => m > 0 && Math.abs((p % width) - x) <= reach && Math.abs(Math.floor(p / width) - y) <= reach);
            expect(wide[y * width + x]).toBe(near ? 1 : 0);
          }
        }
      }),
    );
  });
});

describe('half the size of a picture with a hole', () => {
  test('what is in the hole does not leak out, odd sizes too', () => {
    const [width, height] = [7, 5];
    const hole = makePlane(width, height);
    const grey = makePlane(width, height, 0.25).data;
    for (let y = 1; y < 4; y++) for (let x = 2; x < 5; x++) [hole.data[y * width + x], grey[y * width + x]] = [1, 9];
    const half = halveHoled({ picture: { width, height, r: grey, g: grey, b: grey }, hole });
    expect([half.picture.width, half.picture.height]).toEqual([4, 3]);
    half.hole.data.forEach((h, p) => expect(half.picture.g[p]).toBeCloseTo(h < 1 ? 0.25 : 0, 6));
    expect(half.hole.data[1 * 4 + 1]).toBe(1);
    expect(half.hole.data[0]).toBe(0);
  });

  test('away from holes and borders it is what any shrinking gives of a slope', () => {
    const [width, height] = [32, 16];
    const r = makePlane(width, height).data.map((_, p) => (p % width) / width);
    const hole = makePlane(width, height);
    const holed = { picture: { width, height, r, g: r, b: r }, hole };
    const [half, other] = [halveHoled(holed), resizeHoled(holed, 16, 8)];
    for (let x = 2; x < 14; x++) expect(half.picture.r[4 * 16 + x]).toBeCloseTo(other.picture.r[4 * 16 + x], 5);
  });
});

test('each pixel of a row has the nearest of another row', () => {
  expect([...nearestPlaces(6, 3)]).toEqual([0, 0, 1, 1, 2, 2]);
  expect([...nearestPlaces(3, 6)]).toEqual([1, 3, 5]);
  expect([...nearestPlaces(5, 5)]).toEqual([0, 1, 2, 3, 4]);
  expect([...nearestPlaces(4, 1)]).toEqual([0, 0, 0, 0]);
});

test('a mask at another size: twice as large each pixel is four, and back again it is itself', () => {
  const mask = Uint8Array.from([1, 0, 0, 0, 1, 1]);
  const large = maskAt(mask, 3, 2, 6, 4);
  expect([...large]).toEqual([1, 1, 0, 0, 0, 0, 1, 1, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 0, 0, 1, 1, 1, 1]);
  expect(maskAt(large, 6, 4, 3, 2)).toEqual(mask);
});
