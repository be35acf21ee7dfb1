import { makePicture, type Picture } from '../raster/plane';
import { pictureFrom } from '../testing/scenes';
import fc from 'fast-check';
import { blended, blendModes, over } from './blend';
import { glow, lettering } from './drawn';
import { centred, coverUnit, isCentred, place, placedPoint, placePlane, unplacedPoint, wayTo, type Placement } from './place';

describe('over', () => {
  const ground = pictureFrom(2, 1, () => [0.2, 0.2, 0.2]);

  test('mixes in linear light by straight opacity', () => {
    const upper = makePicture(2, 1, 0.5);
    upper.r.fill(1);
    const out = over(upper, ground);
    expect(out.r[0]).toBeCloseTo(0.6, 6);
    expect(out.g[0]).toBeCloseTo(0.1, 6);
    expect(out.a).toBeUndefined();
  });

  test('opaque covers, clear shows what is below', () => {
    expect(
      over(
        pictureFrom(2, 1, () => [9, 9, 9]),
        ground,
      ).r[0],
    ).toBe(9);
    expect(over(makePicture(2, 1, 0), ground).r[0]).toBeCloseTo(0.2, 6);
  });

  test('two half-clear layers add up to three quarters, colours stay straight', () => {
    const [a, b] = [makePicture(1, 1, 0.5), makePicture(1, 1, 0.5)];
    a.r[0] = b.r[0] = 0.8;
    const out = over(a, b);
    expect(out.a![0]).toBeCloseTo(0.75, 6);
    expect(out.r[0]).toBeCloseTo(0.8, 6);
  });

  test('refuses pictures of two sizes', () => {
    expect(() => over(makePicture(1, 1), makePicture(2, 1))).toThrow(/size/);
  });
});

describe('place', () => {
  const p = pictureFrom(6, 4, (x, y) => [x, y, 0]);
  const frame = (scale: number) => ({ width: 6 / scale, height: 4 / scale, x: 0, y: 0, turn: 0 });
  const placedAs = (q: Picture, placement: Placement, scale: number): Picture =>
    place(q, 6, 4, wayTo(q, 1, placement, frame(scale), scale));

  test('centred at its own size changes nothing', () => {
    expect(Array.from(placedAs(p, centred, 1).r)).toEqual(Array.from(p.r));
  });

  test('shifts in full-size pixels and repeats the border of an opaque picture', () => {
    const out = placedAs(p, { ...centred, x: 4 }, 0.5);
    expect(Array.from(out.r.subarray(0, 6))).toEqual([0, 0, 0, 1, 2, 3]);
  });

  test('what a cut-out does not cover is clear', () => {
    const cut = { ...p, a: new Float32Array(24).fill(1) };
    const out = placedAs(cut, { ...centred, y: 2 }, 1);
    expect(Array.from(out.a!.subarray(0, 12))).toEqual(new Array(12).fill(0));
    expect(out.g[12]).toBe(0);
  });

  test('flips', () => {
    expect(Array.from(placedAs(p, { ...centred, flip: true }, 1).r.subarray(0, 6))).toEqual([5, 4, 3, 2, 1, 0]);
  });

  test('covers a frame of another shape', () => {
    expect(coverUnit({ width: 100, height: 50 }, 60, 60)).toBeCloseTo(1.2, 6);
  });
});

describe('turned, stretched and framed', () => {
  const whole = { width: 80, height: 60, x: 0, y: 0, turn: 0 };
  const spot = pictureFrom(80, 60, (x, y) => (Math.abs(x - 60) < 3 && Math.abs(y - 20) < 3 ? [1, 1, 1] : [0, 0, 0]));
  /** Where the light of a picture lies. */
  const middleOf = ({ r, width }: Picture): [number, number] => {
    let [x, y, sum] = [0, 0, 0];
    r.forEach((v, p) => {
      x += v * ((p % width) + 0.5);
      y += v * (Math.floor(p / width) + 0.5);
      sum += v;
    });
    return [x / sum, y / sum];
  };

  test.each<[string, Partial<Placement>, object]>([
    ['turned', { turn: 30 }, {}],
    ['turned and flipped', { turn: -70, flip: true }, {}],
    ['stretched', { stretch: 1.44 }, {}],
    ['in a straightened frame', {}, { turn: 8 }],
    ['in a shifted frame', { x: 3 }, { x: 10, y: -6 }],
  ])('%s: a spot lands where the way says', (_, placement, frame) => {
    const way = wayTo(spot, 1, { ...centred, ...placement }, { ...whole, ...frame }, 1);
    const [x, y] = middleOf(place(spot, 80, 60, way));
    const to = placedPoint(way, spot, 60.5, 20.5);
    expect(Math.hypot(x - to.x, y - to.y)).toBeLessThan(1);
  });

  test('there and back is the same point', () => {
    fc.assert(
      fc.property(
        fc.record({
          x: fc.integer({ min: -90, max: 90 }),
          y: fc.integer({ min: -90, max: 90 }),
          scale: fc.double({ min: 0.1, max: 5, noNaN: true }),
          stretch: fc.double({ min: 0.3, max: 3, noNaN: true }),
          turn: fc.integer({ min: -180, max: 180 }),
          flip: fc.boolean(),
        }),
        fc.integer({ min: -20, max: 20 }),
        (placement, turn) => {
          const way = wayTo(spot, 1, placement, { ...whole, x: 7, y: -4, turn }, 0.5);
          const there = placedPoint(way, spot, 11, 47);
          const back = unplacedPoint(way, spot, there.x, there.y);
          expect(back.x).toBeCloseTo(11, 5);
          expect(back.y).toBeCloseTo(47, 5);
        },
      ),
    );
  });

  test('a frame that is tilted with its card shows it upright', () => {
    const way = wayTo(spot, 1, { ...centred, turn: 12 }, { ...whole, turn: 12 }, 1);
    expect(way.turn).toBe(0);
    expect(isCentred({ ...centred, stretch: 1.1 })).toBe(false);
  });

  test('a cut-out that is turned stays soft-edged and keeps its colour', () => {
    const card = { ...pictureFrom(40, 40, () => [0.7, 0.2, 0.1]), a: new Float32Array(1600).fill(1) };
    const out = place(card, 80, 60, wayTo(card, 1, { ...centred, turn: 45 }, whole, 1));
    expect(out.a![30 * 80 + 40]).toBeCloseTo(1, 3);
    expect(out.a![2 * 80 + 2]).toBe(0);
    out.a!.forEach((a, p) => a > 0.2 && expect(out.r[p]).toBeCloseTo(0.7, 1));
  });

  test('numbers go along with their picture', () => {
    const plane = { width: 80, height: 60, data: spot.r };
    const way = wayTo(spot, 1, { ...centred, x: 5, turn: 20 }, whole, 1);
    expect(placePlane(plane, 80, 60, way).data).toEqual(place(spot, 80, 60, way).r);
  });
});

describe('blend modes', () => {
  type Rgb = [number, number, number];
  const rgb = fc.tuple(...[0, 1, 2].map(() => fc.double({ min: 0, max: 1, noNaN: true }))) as fc.Arbitrary<Rgb>;

  test('none leaves the range', () => {
    fc.assert(
      fc.property(rgb, rgb, fc.constantFrom(...blendModes), (b, s, mode) => {
        for (const v of blended(mode, b, s)) {
          expect(v).toBeGreaterThanOrEqual(-1e-9);
          expect(v).toBeLessThanOrEqual(1 + 1e-9);
        }
      }),
    );
  });

  test.each<[(typeof blendModes)[number], Rgb, Rgb]>([
    ['multiply', [1, 1, 1], [0.5, 0.2, 0.1]],
    ['screen', [0.5, 0.2, 0.1], [0, 0, 0]],
    ['darken', [0.5, 0.2, 0.1], [1, 1, 1]],
    ['lighten', [0.5, 0.2, 0.1], [0, 0, 0]],
    ['difference', [0.5, 0.2, 0.1], [0, 0, 0]],
    ['exclusion', [0.5, 0.2, 0.1], [0, 0, 0]],
    ['color-dodge', [0.5, 0.2, 0.1], [0, 0, 0]],
    ['color-burn', [0.5, 0.2, 0.1], [1, 1, 1]],
    ['hard-light', [0.5, 0.2, 0.1], [0.5, 0.5, 0.5]],
    ['soft-light', [0.5, 0.2, 0.1], [0.5, 0.5, 0.5]],
  ])('%s has its neutral colour', (mode, behind, before) => {
    const other = mode === 'multiply' ? before : behind;
    blended(mode, behind, before).forEach((v, i) => expect(v).toBeCloseTo(other[i], 6));
  });

  test('luminosity takes the lightness, color the colour', () => {
    const lum = ([r, g, b]: Rgb): number => 0.3 * r + 0.59 * g + 0.11 * b;
    const [b, s]: Rgb[] = [[0.6, 0.3, 0.2], [0.2, 0.4, 0.7]]; // prettier-ignore
    expect(lum(blended('luminosity', b, s))).toBeCloseTo(lum(s), 6);
    expect(lum(blended('color', b, s))).toBeCloseTo(lum(b), 6);
    expect(lum(blended('hue', b, s))).toBeCloseTo(lum(b), 6);
    blended('saturation', [0.5, 0.5, 0.5], s).forEach((v) => expect(v).toBeCloseTo(0.5, 9));
  });

  test('black on screen changes nothing, even above white; a half-strong multiply goes half way', () => {
    const ground = pictureFrom(2, 1, (x) => (x === 0 ? [3, 0.5, 0.1] : [0.2, 0.2, 0.2]));
    const screened = over(pictureFrom(2, 1, () => [0, 0, 0]), ground, 1, 'screen'); // prettier-ignore
    expect(screened.r[0]).toBeCloseTo(3, 4);
    expect(screened.g[1]).toBeCloseTo(0.2, 4);
    const half = over(pictureFrom(2, 1, () => [0, 0, 0]), ground, 0.5, 'multiply'); // prettier-ignore
    expect(half.g[1]).toBeCloseTo(0.1, 4);
  });
});

describe('what is drawn', () => {
  const way = { width: 1, height: 1, x: 50, y: 40, turn: 0, flip: false };

  test('lettering covers its outlines and leaves what is inside a letter open', () => {
    const square = (h: number): [number, number][] => [[-h, -h], [h, -h], [h, h], [-h, h]]; // prettier-ignore
    const out = lettering([square(0.5), square(0.2)], 40, '#ff0000', 100, 80, way, 1);
    expect(out.a![40 * 100 + 50]).toBe(0);
    expect(out.a![40 * 100 + 35]).toBe(1);
    expect(out.a![40 * 100 + 20]).toBe(0);
    expect([out.r[0], out.g[0]]).toEqual([1, 0]);
    expect(out.a!.reduce((a, b) => a + b, 0)).toBeCloseTo(1600 - 256, 0);
  });

  test('a glow is half as strong at half its size', () => {
    const out = glow(40, '#ffffff', 1, 100, 80, { ...way, x: 50.5, y: 40.5 }, 1);
    expect(out.r[0]).toBe(2);
    expect(out.a![40 * 100 + 50]).toBeCloseTo(1, 3);
    expect(out.a![40 * 100 + 70]).toBeCloseTo(0.5, 3);
  });
});
