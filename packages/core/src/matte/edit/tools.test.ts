import fc from 'fast-check';
import { defaultContext } from '../../runtime/context';
import { makePlane } from '../../raster/plane';
import { largestDifference, pictureFrom, planeFrom, softDisc, sum } from '../../testing/scenes';
import { combineMattes } from './combine';
import { finishMatte } from './finish';
import { paintByHand, type HandStroke } from './hand';
import { matteOfPicture, pictureOfMatte } from './kept';
import { markedInside, markedOutside, rasterMarks } from '../cut/marks';
import { matte } from '../matte';
import { cornersOf, rasterShapes, type Shape } from './shapes';
import { noTrim } from './trim';

const disc = softDisc(80, 60, 40, 30, 18, 6);

describe('painting by hand', () => {
  const stroke = (part: Partial<HandStroke>): HandStroke => ({
    tip: 'opaque',
    radius: 8,
    hardness: 1,
    opacity: 1,
    points: [[20, 20]],
    ...part,
  });

  test('no strokes give the plane itself, and the rest stays as it was', () => {
    expect(paintByHand(disc, [], 1)).toBe(disc);
    const painted = paintByHand(disc, [stroke({})], 1);
    expect(painted.data[20 * 80 + 20]).toBe(1);
    expect(painted.data[50 * 80 + 70]).toBe(disc.data[50 * 80 + 70]);
    expect(sum(painted.data) - sum(disc.data)).toBeGreaterThan(100);
  });

  test('clear undoes opaque, half strength goes half way, and once a stroke', () => {
    const blank = makePlane(80, 60);
    expect(sum(paintByHand(disc, [stroke({ tip: 'clear', radius: 200 })], 1).data)).toBe(0);
    const half = paintByHand(blank, [stroke({ opacity: 0.5, points: [[20, 20], [30, 20], [20, 20]] })], 1); // prettier-ignore
    expect(half.data[20 * 80 + 22]).toBeCloseTo(0.5, 6);
  });

  test('a soft tip falls off from its hardness to its rim, a pen’s pressure weakens it', () => {
    const blank = makePlane(80, 60);
    const soft = paintByHand(blank, [stroke({ hardness: 0.25, radius: 12, points: [[40.5, 30.5]] })], 1).data;
    expect(soft[30 * 80 + 42]).toBe(1);
    expect(soft[30 * 80 + 47]).toBeGreaterThan(0.2);
    expect(soft[30 * 80 + 47]).toBeLessThan(0.9);
    expect(soft[30 * 80 + 54]).toBe(0);
    const light = paintByHand(blank, [stroke({ points: [[40.5, 30.5, 0.3]] })], 1).data; // prettier-ignore
    expect(light[30 * 80 + 40]).toBeCloseTo(0.3, 5);
  });

  test('soften widens an edge and keeps a flat area', () => {
    const hard = planeFrom(80, 60, (x) => (x < 40 ? 1 : 0));
    const soft = paintByHand(hard, [stroke({ tip: 'soften', radius: 16, points: [[40, 30]] })], 1).data; // prettier-ignore
    expect(soft[30 * 80 + 39]).toBeLessThan(0.8);
    expect(soft[30 * 80 + 38]).toBeGreaterThan(0.5);
    expect(soft[5 * 80 + 39]).toBe(1);
  });

  test('the same stroke at half the size paints the same place', () => {
    const full = paintByHand(makePlane(80, 60), [stroke({ points: [[30, 30], [50, 34]] })], 1).data; // prettier-ignore
    const small = paintByHand(makePlane(40, 30), [stroke({ points: [[30, 30], [50, 34]] })], 0.5).data; // prettier-ignore
    expect(4 * sum(small)).toBeGreaterThan(0.9 * sum(full));
    expect(4 * sum(small)).toBeLessThan(1.15 * sum(full));
  });

  test('any strokes leave opacity between 0 and 1', () => {
    const coordinate = fc.double({ min: -50, max: 150, noNaN: true });
    const any = fc.record({
      tip: fc.constantFrom('opaque' as const, 'clear' as const, 'soften' as const),
      radius: fc.double({ min: 0.1, max: 60, noNaN: true }),
      hardness: fc.double({ min: 0, max: 1, noNaN: true }),
      opacity: fc.double({ min: 0, max: 1, noNaN: true }),
      points: fc.array(fc.tuple(coordinate, coordinate), { minLength: 1, maxLength: 4 }),
    });
    fc.assert(
      fc.property(fc.array(any, { maxLength: 3 }), (strokes) => {
        expect(paintByHand(disc, strokes, 1).data.every((v) => v >= 0 && v <= 1)).toBe(true);
      }),
      { numRuns: 40 },
    );
  });
});

describe('garbage shapes', () => {
  const shapes: Shape[] = [
    { kind: 'rectangle', x: 10, y: 5, width: 20, height: 10 },
    { kind: 'ellipse', x: 40, y: 30, width: 30, height: 20 },
    { kind: 'polygon', points: [[2, 40], [12, 40], [2, 56]] }, // prettier-ignore
  ];

  test('cover their areas; together the most of them', () => {
    const area = (s: Shape[]) => sum(rasterShapes(s, 80, 60, 1).data);
    expect(area([shapes[0]])).toBeCloseTo(200, 4);
    expect(area([shapes[1]])).toBeCloseTo(Math.PI * 15 * 10, -0.5);
    expect(area([shapes[2]])).toBeCloseTo(80, 0);
    expect(area(shapes)).toBeCloseTo(area([shapes[0]]) + area([shapes[1]]) + area([shapes[2]]), 3);
    expect(area([shapes[0], shapes[0]])).toBeCloseTo(200, 4);
    expect(sum(rasterShapes(shapes, 40, 30, 0.5).data) * 4).toBeCloseTo(area(shapes), -1);
    expect(cornersOf(shapes[0])).toHaveLength(4);
  });

  test('outside them nothing is subject; without them nothing changes', () => {
    expect(finishMatte(disc, { trim: noTrim, garbage: [] }, 1)).toBe(disc);
    const inside = finishMatte(disc, { trim: noTrim, garbage: [{ kind: 'rectangle', x: 0, y: 0, width: 40, height: 60 }] }, 1);
    for (let p = 0; p < disc.data.length; p++) expect(inside.data[p]).toBe(p % 80 < 40 ? disc.data[p] : 0);
  });

  test('the hand paints over garbage, because it comes last', () => {
    const painted = finishMatte(
      disc,
      {
        trim: noTrim,
        garbage: [{ kind: 'rectangle', x: 0, y: 0, width: 40, height: 60 }],
        hand: [{ tip: 'opaque', radius: 4, hardness: 1, opacity: 1, points: [[60, 30]] }],
      },
      1,
    );
    expect(painted.data[30 * 80 + 60]).toBe(1);
  });
});

describe('mattes put together', () => {
  const other = softDisc(80, 60, 50, 30, 18, 6);

  test('follow the rules of independent coverage', () => {
    const at = (how: Parameters<typeof combineMattes>[2]) => combineMattes(disc, other, how).data;
    const [union, left, both] = [at('union'), at('subtract'), at('intersect')];
    const b = other.data;
    expect(
      largestDifference(
        union,
        disc.data.map((a, p) => a + b[p] - a * b[p]),
      ),
    ).toBeLessThan(1e-6);
    expect(
      largestDifference(
        left.map((v, p) => v + both[p]),
        disc.data,
      ),
    ).toBeLessThan(1e-6);
    expect(combineMattes(disc, other, 'instead')).toBe(other);
    expect(largestDifference(union, combineMattes(other, disc, 'union').data)).toBe(0);
    expect(() => combineMattes(disc, makePlane(3, 3), 'union')).toThrow(RangeError);
  });

  test('a matte kept as a grey picture comes back, and a picture with opacity gives that', () => {
    expect(largestDifference(matteOfPicture(pictureOfMatte(disc)).data, disc.data)).toBeLessThan(1e-5);
    const clear = { ...pictureFrom(80, 60, () => [1, 0, 0]), a: disc.data };
    expect(matteOfPicture(clear).data).toBe(disc.data);
  });

  test('a union with a kept matte holds what marks have missed', async () => {
    const shot = pictureFrom(80, 60, () => [0.5, 0.5, 0.5]);
    const { matteGround, matteOn } = await import('../matte');
    const product = await matteOn(
      { ground: await matteGround(shot, defaultContext()), kept: [{ matte: disc, how: 'union' }] },
      { marks: [], trim: noTrim },
      defaultContext(),
    );
    expect(largestDifference(product.matte.data, disc.data)).toBeLessThan(1e-6);
    expect((await matte(shot, { marks: [], trim: noTrim }, defaultContext())).note).toMatch(/Nothing is marked/);
  });
});

test('a mark around a region marks all of it, and later marks lie over it', () => {
  const seeds = rasterMarks(
    [
      { kind: 'inside', radius: 1, filled: true, points: [[10, 10], [50, 10], [50, 40], [10, 40]] }, // prettier-ignore
      { kind: 'outside', radius: 3, points: [[30, 25]] },
    ],
    80,
    60,
    1,
  );
  expect(seeds[15 * 80 + 15]).toBe(markedInside);
  expect(seeds[38 * 80 + 48]).toBe(markedInside);
  expect(seeds[25 * 80 + 30]).toBe(markedOutside);
  expect(seeds[5 * 80 + 5]).toBe(0);
});
