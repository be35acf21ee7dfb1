import fc from 'fast-check';
import { defaultContext } from '../runtime/context';
import { makePicture, makePlane, type Picture, type Plane } from '../raster/plane';
import { largestDifference, pictureFrom, planeFrom, sum } from '../testing/scenes';
import { apertureOutline, chordsOf, roundAperture, type Aperture } from './aperture';
import { defocus } from './defocus';
import { distanceField, flatDistances, groundDistance, groundUnder, isFlat, type Distances } from './distances';
import { layerDiscs } from './layers';
import { placedIn, squaresHolding } from './placing';
import { blurDiscAt, opticsOf, signedDisc, type Optics } from './thinLens';

const context = defaultContext();
/** A lens whose far discs are 24 px wide. */
const optics: Optics = opticsOf({ focalLength: 85, sensorWidth: 36, fNumber: 1.4, focus: 3 }, 488);
const farDisc = blurDiscAt(optics, 1e4, optics.across);

describe('apertures', () => {
  const shapes: Partial<Aperture>[] = [
    {},
    { squeeze: 0.6 },
    { shape: 'blades', blades: 5 },
    { shape: 'blades', blades: 6, roundness: 1, turn: 20 },
    { rim: 0.8 },
    { rim: -1 },
  ];

  test.each(shapes)('%j: the rows hold the light 1, within the disc', (part) => {
    for (const diameter of [2, 5.5, 23]) {
      const chords = chordsOf({ ...roundAperture, ...part }, diameter);
      const light = chords.reduce((t, c) => t + (c.also === undefined ? 1 : 2) * c.weight * (c.right - c.left), 0);
      expect(light).toBeCloseTo(1, 6);
      for (const c of chords) expect(Math.max(-c.left, c.right)).toBeLessThanOrEqual(diameter / 2 + 1e-6);
    }
  });

  test('a pentagon has its corner up, its area, and turns upside down in front of the focus', () => {
    const pentagon: Aperture = { ...roundAperture, shape: 'blades', blades: 5, roundness: 0 };
    const corners = apertureOutline(pentagon, 5 * 48).filter(([x, y]) => Math.hypot(x, y) > 0.9999);
    expect(corners).toHaveLength(5);
    expect(Math.max(...corners.map(([, y]) => y))).toBeCloseTo(1, 6);
    const rows = (turned: boolean): number[] =>
      chordsOf(pentagon, 40, turned).flatMap((c) => (c.also === undefined ? [c.dy] : [c.dy, c.also]));
    expect([Math.min(...rows(false)), Math.max(...rows(false))]).toEqual([-20, 16]);
    expect([Math.min(...rows(true)), Math.max(...rows(true))]).toEqual([-16, 20]);
  });

  test('rounder blades have more area, a full rounding is the circle', () => {
    const area = (roundness: number): number => {
      const o = apertureOutline({ ...roundAperture, shape: 'blades', blades: 5, roundness }, 600);
      return Math.abs(o.reduce((t, [x, y], i) => t + x * o[(i + 1) % 600][1] - o[(i + 1) % 600][0] * y, 0)) / 2;
    };
    expect(area(0)).toBeCloseTo((5 / 2) * Math.sin((2 * Math.PI) / 5), 2);
    expect(area(0.5)).toBeGreaterThan(area(0));
    expect(area(1)).toBeCloseTo(Math.PI, 2);
  });

  test.each<[string, Partial<Aperture>, number, number]>([
    ['oval', { squeeze: 0.5 }, 0.5, 1],
    ['round', {}, 1, 1],
  ])('a far point becomes an %s of the lens’s own size', async (_, part, across, down) => {
    const size = 81;
    const point = pictureFrom(size, size, (x, y) => (x === 40 && y === 40 ? [500, 0, 0] : [0, 0, 0]));
    const out = await defocus(point, 1e4, { ...optics, aperture: { ...roundAperture, ...part } }, context);
    expect(sum(out.r) / 500).toBeCloseTo(1, 2);
    const reach = (test: (x: number, y: number) => number): number => {
      const values = Array.from({ length: size }, (__, k) => out.r[test(k, k)]);
      return values.reduce((t, v) => t + Math.min(1, Math.max(0, v / values[40])), 0);
    };
    expect(Math.abs(reach((k) => 40 * size + k) - across * farDisc)).toBeLessThan(1.6);
    expect(Math.abs(reach((k) => k * size + 40) - down * farDisc)).toBeLessThan(1.6);
  });

  test('corner cut leaves the middle round and makes corners narrow, without losing light', async () => {
    const cut = { ...optics, aperture: { ...roundAperture, cornerCut: 1 } };
    const at = async (cx: number, cy: number): Promise<{ light: number; area: number }> => {
      const p = pictureFrom(120, 120, (x, y) => (x === cx && y === cy ? [100, 0, 0] : [0, 0, 0]));
      const { r } = await defocus(p, 1e4, cut, context);
      return { light: sum(r) / 100, area: r.filter((v) => v > 0.05).length };
    };
    const [middle, corner] = [await at(60, 60), await at(22, 22)];
    expect(Math.abs(middle.light - 1)).toBeLessThan(0.08);
    expect(corner.area).toBeLessThan(0.85 * middle.area);
    expect(Math.abs(corner.light - 1)).toBeLessThan(0.15);
    const flat = await defocus(pictureFrom(60, 60, () => [0.4, 1, 2]), 1e4, cut, context); // prettier-ignore
    expect(largestDifference(flat.b, new Float32Array(3600).fill(2))).toBeLessThan(1e-3);
  });
});

test('a draft is close to the sharp answer', async () => {
  const ground = pictureFrom(120, 90, (x, y) => [(x % 17) / 17, (y % 13) / 13, 0.3]);
  const away = planeFrom(120, 90, (_, y) => 1.5 + (90 - y) / 6);
  const lens = opticsOf({ focalLength: 85, sensorWidth: 36, focus: 4, fNumber: 1.4 }, 480);
  const at = (scale: number, across: number) => defocus(ground, away, { ...lens, across }, defaultContext({ scale }));
  const [draft, sharp] = [await at(0.25, 480), await at(1, 120)];
  const square = sum(draft.r.map((v, p) => (v - sharp.r[p]) ** 2)) / draft.r.length;
  // 34 dB: nothing that would be seen while it moves.
  expect(-10 * Math.log10(square)).toBeGreaterThan(34);
});

describe('layers', () => {
  test('lie between the nearest and the farthest, far to near, about a quarter apart', () => {
    const all = layerDiscs(-40, 60);
    expect([all[0], all[all.length - 1]]).toEqual([60, -40]);
    for (let i = 1; i < all.length; i++) expect(all[i]).toBeLessThan(all[i - 1]);
    expect(all.length).toBeLessThan(30);
    expect(layerDiscs(20, 20.4)).toEqual([20.2]);
    const few = layerDiscs(-40, 60, 1.7);
    expect(few.length).toBeLessThan(0.75 * all.length);
    expect([few[0], few[few.length - 1]]).toEqual([60, -40]);
  });

  test('a disc on a layer is at its number, one between two is between, and squares know what they hold', async () => {
    const all = layerDiscs(-10, 30);
    const law = { atInfinity: 40, focus: 3, largest: 500 };
    const distanceOf = (disc: number): number => law.focus / (1 - disc / law.atInfinity);
    const { place } = await placedIn(planeFrom(all.length, 1, (x) => distanceOf(all[x])), law, all, context); // prettier-ignore
    all.forEach((_, k) => expect(place[k]).toBeCloseTo(k, 1));
    // One half way between the third and the fourth layer, in the second square of two.
    const between = planeFrom(40, 2, (x) => distanceOf(x < 32 ? all[0] : (all[2] + all[3]) / 2));
    const placing = await placedIn(between, law, all, context);
    expect(placing.place[39]).toBeCloseTo(2.5, 1);
    const held = (layers: number[]): number[] => [...squaresHolding(placing, layers).squares];
    expect(held([0])).toEqual([1, 0]);
    expect(held([2])).toEqual([0, 1]);
    expect(held([3, 4])).toEqual([0, 1]);
    expect(held([4, 5])).toEqual([0, 0]);
  });
});

describe('defocus of varying distance', () => {
  const [w, h] = [160, 120];
  const slope = planeFrom(w, h, (_, y) => 1.5 + (y / h) * 20);
  const step = planeFrom(w, h, (x) => (x < w / 2 ? 3 : 60));

  test('a constant picture stays constant to the border', async () => {
    for (const d of [slope, step]) {
      const out = await defocus(pictureFrom(w, h, () => [0.25, 1, 3]), d, optics, context); // prettier-ignore
      expect(largestDifference(out.r, new Float32Array(w * h).fill(0.25))).toBeLessThan(2e-3);
      expect(largestDifference(out.b, new Float32Array(w * h).fill(3))).toBeLessThan(0.02);
    }
  });

  test('the same distance everywhere is the plain blur', async () => {
    const p = pictureFrom(w, h, (x, y) => [(x * 7 + y * 3) % 13 > 6 ? 1 : 0, x / w, y / h]);
    const out = await defocus(p, makePlane(w, h, 9), optics, context);
    const plain = await defocus(p, 9, optics, context);
    expect(largestDifference(out.r, plain.r)).toBeLessThan(1e-3);
  });

  test('what is sharp before something blurred keeps its pixels, and sheds nothing on it', async () => {
    const p = pictureFrom(w, h, (x) => (x < w / 2 ? [1, 0, 0] : [0, 0, 1]));
    const out = await defocus(p, step, optics, context);
    for (let y = 10; y < h - 10; y += 20) {
      expect(out.r[y * w + w / 2 - 1]).toBeCloseTo(1, 3);
      for (const x of [w / 2, w / 2 + 1, w / 2 + 6]) {
        expect(out.r[y * w + x]).toBeLessThan(0.01);
        expect(out.b[y * w + x]).toBeCloseTo(1, 2);
      }
    }
  });

  test('what is blurred in front spreads over what is sharp behind', async () => {
    const p = pictureFrom(w, h, (x) => (x < w / 2 ? [1, 0, 0] : [0, 0, 1]));
    const near = planeFrom(w, h, (x) => (x < w / 2 ? 1 : 3));
    const out = await defocus(p, near, optics, context);
    const red = (x: number): number => out.r[60 * w + x];
    expect(red(w / 2 + 3)).toBeGreaterThan(0.2);
    expect(red(w / 2 + 3)).toBeLessThan(0.9);
    expect(red(w - 4)).toBeLessThan(0.01);
    expect(red(20)).toBeCloseTo(1, 2);
  });

  test('of two blurred things in front the nearer hides the farther, whatever sizes they are laid at', async () => {
    const wide = { w: 400, h: 200 };
    const strong = opticsOf({ focalLength: 85, sensorWidth: 36, fNumber: 1.2, focus: 6 }, 1600);
    const scene = (x: number, y: number): number => (y > 120 && x < 200 ? 1.2 : y > 60 ? 3 : 6);
    const distance = planeFrom(wide.w, wide.h, scene);
    const p = pictureFrom(wide.w, wide.h, (x, y) => (y > 120 && x < 200 ? [1, 0, 0] : y > 60 ? [0, 1, 0] : [0, 0, 1]));
    const out = await defocus(p, distance, strong, context);
    const at = (x: number, y: number): number[] => [out.r, out.g, out.b].map((c) => c[y * wide.w + x]);
    // Deep inside each there is nothing else, and everywhere the three make up the whole.
    expect(at(40, 185)[0]).toBeGreaterThan(0.9);
    expect(at(380, 185)[1]).toBeGreaterThan(0.95);
    expect(at(380, 5)[2]).toBeGreaterThan(0.95);
    for (let y = 5; y < wide.h; y += 10) {
      for (let x = 5; x < wide.w; x += 10) expect(at(x, y).reduce((a, b) => a + b, 0)).toBeCloseTo(1, 1);
    }
    // The nearest spreads over the one behind it, and the farther of both over what is sharp.
    expect(at(60, 115)[0]).toBeGreaterThan(0.1);
    expect(at(380, 56)[1]).toBeGreaterThan(0.05);
  });

  test.each([0.1, 0.36, 0.5, 0.8, 0.95])('a thin mast %f of the way between two layers hides as much as its width', async (way) => {
    // Two layers at the ends; the mast fades from the farther into the nearer one.
    const [far, near] = [1e4, 12];
    const ends = [signedDisc(optics, far, optics.across), signedDisc(optics, near, optics.across)];
    const layers = layerDiscs(ends[1], ends[0]);
    const disc = layers[0] + way * (layers[1] - layers[0]);
    // c = c∞ (1 − s/d), so that d = s / (1 − c/c∞).
    const mastAt = optics.focus / (1 - disc / signedDisc(optics, Infinity, optics.across));
    const distance = planeFrom(w, h, (x, y) => (y === 0 ? near : x >= 78 && x < 82 ? mastAt : far));
    const p = pictureFrom(w, h, (x, y) => (x >= 78 && x < 82 && y > 0 ? [0, 0, 0] : [1, 1, 1]));
    const out = await defocus(p, distance, optics, context);
    let dark = 0;
    for (let x = 0; x < w; x++) dark += 1 - out.g[80 * w + x];
    expect(dark).toBeGreaterThan(3.7);
    expect(dark).toBeLessThan(4.3);
  });

  test('a cut-out whose distance varies stays whole inside and soft only where it is out of focus', async () => {
    const card = makePicture(w, h, 0);
    for (let y = 20; y < 100; y++) for (let x = 40; x < 120; x++) [card.r[y * w + x], card.a![y * w + x]] = [0.6, 1];
    const lean = planeFrom(w, h, (x) => 3 + Math.max(0, x - 70) / 5);
    const out = await defocus(card, lean, optics, context);
    const a = (x: number): number => out.a![60 * w + x];
    expect(Math.min(a(50), a(70), a(90))).toBeGreaterThan(0.97);
    expect(a(39)).toBeLessThan(0.02);
    expect(a(119)).toBeLessThan(0.75);
    expect(a(122)).toBeGreaterThan(0.1);
    expect(out.r.filter((v, i) => out.a![i] > 0.02 && Math.abs(v - 0.6) > 2e-3)).toHaveLength(0);
  });

  test('small and large discs keep their light at any level', async () => {
    for (const fNumber of [0.7, 1.4, 5.6]) {
      const o = { ...optics, fNumber };
      const p = pictureFrom(w, h, (x, y) => (x === 80 && y === 60 ? [1000, 0, 0] : [0, 0, 0]));
      const out = await defocus(p, slope, o, context);
      expect(Math.abs(sum(out.r) / 1000 - 1)).toBeLessThan(0.12);
    }
  });

  test('something right before the lens is a mean, not an endless disc', async () => {
    const touching = planeFrom(w, h, (x) => (x < 4 ? 1e-4 : 3));
    const out = await defocus(pictureFrom(w, h, () => [0.5, 0.5, 0.5]), touching, optics, context); // prettier-ignore
    expect(largestDifference(out.r, new Float32Array(w * h).fill(0.5))).toBeLessThan(0.01);
  });

  test('can be aborted', async () => {
    const controller = new AbortController();
    controller.abort();
    const aborted = defaultContext({ signal: controller.signal });
    await expect(defocus(pictureFrom(w, h, () => [0, 0, 0]), slope, optics, aborted)).rejects.toThrow(/abort/i); // prettier-ignore
  });

  test('behind the focus discs are positive, before it negative', () => {
    expect(signedDisc(optics, 10, 500)).toBeGreaterThan(0);
    expect(signedDisc(optics, 1, 500)).toBeLessThan(0);
    expect(signedDisc(optics, 3, 500)).toBe(0);
  });
});

describe('distances', () => {
  const card = pictureFrom(120, 90, (x) => (x < 60 ? [0.6, 0.1, 0.1] : [0.1, 0.1, 0.6]));
  const field = (d: Partial<Distances>, distance = 4, map?: Picture): Plane =>
    distanceField(card, distance, { ...flatDistances, ...d }, map, context);

  test('nothing said is flat', () => {
    expect(isFlat(flatDistances)).toBe(true);
    expect(largestDifference(field({}).data, makePlane(120, 90, 4).data)).toBeLessThan(1e-5);
  });

  test('ground is at its distance on its line, twice as far half way to the horizon, and ends at the card', () => {
    const ground = { line: 80, horizon: 20, distance: 4 };
    expect(groundDistance(ground, 80)).toBeCloseTo(4, 6);
    expect(groundDistance(ground, 50)).toBeCloseTo(8, 6);
    expect(groundDistance(ground, 10)).toBe(10000);
    const out = field({ ground }, 30);
    expect(out.data[79 * 120 + 5]).toBeCloseTo(groundDistance(ground, 79.5), 3);
    expect(out.data[5 * 120 + 5]).toBeCloseTo(30, 4);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 88 }), (y) => {
        expect(out.data[y * 120]).toBeGreaterThanOrEqual(out.data[(y + 1) * 120] - 1e-4);
      }),
    );
  });

  test('a lean adds metres from one side to the other', () => {
    const out = field({ lean: { across: 2, down: 0 } });
    expect(out.data[119] - out.data[0]).toBeCloseTo(2 * (119 / 120), 2);
  });

  test('pegs hold where they stand; along edges the other side keeps its own', () => {
    const pegs = [{ x: 20, y: 45, distance: 2 }, { x: 100, y: 45, distance: 10 }]; // prettier-ignore
    for (const between of ['smooth', 'edges'] as const) {
      const out = field({ pegs, between });
      expect(out.data[45 * 120 + 20]).toBeCloseTo(2, 0);
      expect(out.data[45 * 120 + 100]).toBeGreaterThan(8.5);
      expect(Math.min(...out.data)).toBeGreaterThan(1.9);
      expect(Math.max(...out.data)).toBeLessThan(10.1);
    }
    const [smooth, edges] = (['smooth', 'edges'] as const).map((between) => field({ pegs, between }).data[45 * 120 + 56]);
    expect(edges).toBeLessThan(smooth);
  });

  test('a peg over ground holds all of the shaded post it stands on, and nothing of the ground beside it', () => {
    // Round, lit from the left; planks run past it.
    const post = (x: number, y: number): boolean => Math.abs(x - 60) < 14 && y > 12 && y < 75;
    const shading = (x: number): number => 0.1 + 0.5 * Math.sqrt(1 - ((x - 54) / 22) ** 2);
    const scene = pictureFrom(120, 90, (x, y) => (post(x, y) ? [shading(x), 0.4 * shading(x), 0.1] : [0.1, 0.12, 0.3]));
    const ground = { line: 80, horizon: 20, distance: 4 };
    const out = distanceField(scene, 60, { ...flatDistances, ground, pegs: [{ x: 60, y: 30, distance: 4.5 }] }, undefined, context);
    const at = (x: number, y: number): number => out.data[y * 120 + x];
    for (const [x, y] of [[50, 20], [70, 20], [60, 50], [50, 70], [70, 70]]) expect(Math.abs(1 / at(x, y) - 1 / 4.5)).toBeLessThan(0.04); // prettier-ignore
    for (const [x, y] of [[20, 30], [100, 30], [20, 60], [100, 75]]) expect(Math.abs(1 / at(x, y) - 1 / groundDistance(ground, y + 0.5))).toBeLessThan(0.04); // prettier-ignore
  });

  test('what stands with the subject is as far away as that, whatever else is said, and nothing beside it', () => {
    const standing = [{ radius: 1, filled: true, points: [[10, 10], [40, 10], [40, 60], [10, 60]] as [number, number][] }]; // prettier-ignore
    expect(isFlat({ ...flatDistances, standing })).toBe(false);
    const peg = { x: 20, y: 20, distance: 9 };
    const out = distanceField(card, 20, { ...flatDistances, pegs: [peg], standing }, undefined, context, 3);
    for (let y = 0, p = 0; y < 90; y++) {
      for (let x = 0; x < 120; x++, p++) {
        if (x >= 10 && x < 40 && y >= 10 && y < 60) expect(out.data[p]).toBeCloseTo(3, 4);
        else expect(out.data[p]).toBeGreaterThan(8.9);
      }
    }
  });

  test('painted distance is what it says where it is painted', () => {
    const stroke = { distance: 1, radius: 10, hardness: 1, opacity: 1, points: [[30, 30]] as [number, number][] };
    const out = field({ painted: [stroke] });
    expect(out.data[30 * 120 + 30]).toBeCloseTo(1, 4);
    expect(out.data[30 * 120 + 80]).toBeCloseTo(4, 4);
  });

  test('a map is read in even steps, as metres or as nearness', () => {
    const code = (v: number): number => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
    const map = pictureFrom(120, 90, (x) => [code(x < 60 ? 0.5 : 0), code(x < 60 ? 0.5 : 0), code(x < 60 ? 0.5 : 0)]);
    const metres = field({ map: { picture: 'm', reading: 'metres', near: 1, far: 20 } }, 4, map);
    expect(metres.data[30]).toBeCloseTo(10, 1);
    expect(metres.data[100]).toBeCloseTo(20, 1);
    const nearness = field({ map: { picture: 'm', reading: 'nearness', near: 2, far: 10 } }, 4, map);
    expect(1 / nearness.data[30]).toBeCloseTo(0.1 + 0.5 * 0.4, 2);
    expect(nearness.data[100]).toBeCloseTo(10, 2);
  });
});

test('ground under something is as far away as that where it stands, and farther above', () => {
  const ground = groundUnder(300, 400, 3);
  expect(groundDistance(ground, 300)).toBeCloseTo(3, 9);
  expect(groundDistance(ground, 250)).toBeGreaterThan(3);
  expect(groundDistance(ground, 380)).toBeLessThan(3);
  expect(ground.horizon).toBeLessThan(ground.line);
});
