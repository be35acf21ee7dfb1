import { defaultContext } from '../runtime/context';
import { makePicture, makePlane, type Picture, type Plane } from '../raster/plane';
import { seeded } from '../raster/random';
import { largestDifference, pictureFrom, planeFrom } from '../testing/scenes';
import { fillHole, stretchFill, type Fill } from './fills';
import { NoSourceError, patchFill } from './patchFill';
import { defaultPlate, plate } from './plate';
import { layeredFill, layering, smoothFill } from './smooth';

const context = defaultContext();
const width = 180;
const height = 130;

/** Slanting stripes with a little noise. */
function stripes(): Picture {
  const random = seeded(5);
  return pictureFrom(width, height, (x, y) => {
    const v = ((x + 0.5 * y) % 16 < 8 ? 0.5 : 0.12) + 0.03 * random();
    return [v, v * 0.8, v * 0.6];
  });
}

const disc = (cx: number, cy: number, radius: number): Plane =>
  planeFrom(width, height, (x, y) => (Math.hypot(x - cx, y - cy) < radius ? 1 : 0));
/** The picture with something glaring where the hole is. */
function spoilt(p: Picture, hole: Plane): Picture {
  const glare = (c: Float32Array, v: number): Float32Array => c.map((u, i) => (hole.data[i] > 0 ? v : u));
  return { ...p, r: glare(p.r, 0), g: glare(p.g, 1), b: glare(p.b, 1) };
}
/** Mean difference of two pictures' light where the weight is not 0. */
function apart(p: Picture, q: Picture, weight: Float32Array): number {
  let [sum, total] = [0, 0];
  weight.forEach((w, i) => {
    sum += w * (Math.abs(p.r[i] - q.r[i]) + Math.abs(p.g[i] - q.g[i]) + Math.abs(p.b[i] - q.b[i]));
    total += 3 * w;
  });
  return sum / total;
}
const everywhere = planeFrom(width, height, () => 1);
const patch: Fill = { kind: 'patch', tries: 1, taken: 1 };

describe('the patch fill', () => {
  const truth = stripes();
  const hole = disc(90, 65, 22);
  const shot = spoilt(truth, hole);
  const allowed = { ...hole, data: hole.data.map((h) => 1 - h) };

  test('lets stripes run on through the hole, better than a membrane', async () => {
    const { picture } = await patchFill(shot, hole, allowed, 1, context);
    const smooth = await smoothFill(shot, hole, context);
    // What lies near the rim; deep inside the phase may be lost.
    const ring = hole.data.map((h, p) => (h > 0 && Math.hypot((p % width) - 90, Math.floor(p / width) - 65) > 12 ? 1 : 0));
    expect(apart(picture, truth, ring)).toBeLessThan(0.75 * apart(smooth, truth, ring));
  });

  test('copies nothing of the subject, and keeps what is not invented to the bit', async () => {
    const { picture, copied } = await patchFill(shot, hole, allowed, 1, context);
    expect(Math.max(...picture.g)).toBeLessThan(0.6);
    expect(picture.r.filter((v, p) => hole.data[p] === 0 && v !== shot.r[p])).toHaveLength(0);
    const sources = copied.from.filter((q) => q >= 0);
    expect(sources.length).toBeGreaterThan(0);
    expect(sources.every((q) => hole.data[q] === 0)).toBe(true);
  });

  test('the same seed gives the same bytes, another one another fill', async () => {
    const of = async (seed: number): Promise<Picture> => (await patchFill(shot, hole, allowed, seed, context)).picture;
    const [a, b, c] = [await of(3), await of(3), await of(4)];
    expect(largestDifference(a.r, b.r)).toBe(0);
    expect(largestDifference(a.r, c.r)).toBeGreaterThan(0.01);
  });

  test('its texture is as strong as the surroundings’', async () => {
    const { picture } = await patchFill(shot, hole, allowed, 1, context);
    const slopes = (p: Picture, inside: boolean): number => {
      let [sum, n] = [0, 0];
      for (let i = 0; i + width < p.g.length; i++) {
        if (hole.data[i] > 0 !== inside || hole.data[i + 1] > 0 !== inside) continue;
        sum += (p.g[i + 1] - p.g[i]) ** 2;
        n++;
      }
      return sum / n;
    };
    expect(slopes(picture, true)).toBeGreaterThan(0.3 * slopes(truth, false));
  });

  test('without a source it says so, and the smooth fill is taken', async () => {
    const nowhere = planeFrom(width, height, () => 0);
    await expect(patchFill(shot, hole, nowhere, 1, context)).rejects.toThrow(NoSourceError);
    const filled = await fillHole({ behind: shot, hole, allowed: nowhere }, patch, context);
    expect(filled.note).toMatch(/nothing to copy from/);
    expect(Math.max(...filled.picture.g)).toBeLessThan(0.6);
  });

  test('can be aborted', async () => {
    const controller = new AbortController();
    controller.abort();
    await expect(patchFill(shot, hole, allowed, 1, defaultContext({ signal: controller.signal }))).rejects.toThrow(/abort/i);
  });

  test.each([
    ['over the border', disc(5, 60, 25)],
    ['in a corner', disc(0, 0, 30)],
    ['everything', everywhere],
    ['nothing', planeFrom(width, height, () => 0)],
    [
      'all but a rim too thin to copy from',
      planeFrom(width, height, (x, y) => (x > 2 && y > 2 && x < width - 3 && y < height - 3 ? 1 : 0)),
    ],
  ])('a hole that is %s is defined', async (_, odd) => {
    const filled = await fillHole({ behind: truth, hole: odd, allowed: { ...odd, data: odd.data.map((h) => 1 - h) } }, patch, context);
    for (const c of [filled.picture.r, filled.picture.g, filled.picture.b]) expect(c.every((v) => v >= 0 && v < 2)).toBe(true);
  });
});

describe('borrowed', () => {
  const halves = pictureFrom(width, height, (x, y) => (x < 60 ? [0.6, 0.05, 0.05] : [0.05, 0.3 + (y % 6) / 30, 0.05]));
  const hole = disc(110, 65, 18);
  const shot = spoilt(halves, hole);
  const allowed = { ...hole, data: hole.data.map((h) => 1 - h) };
  const from = [{ radius: 1, filled: true, points: [[0, 0], [55, 0], [55, height], [0, height]] as [number, number][] }]; // prettier-ignore

  test('takes only from the region', async () => {
    const { picture } = await fillHole(
      { behind: shot, hole, allowed },
      { kind: 'borrowed', from, x: 0, y: 0, tries: 1, taken: 1 },
      context,
    );
    const free = await fillHole({ behind: shot, hole, allowed }, patch, context);
    const middle = 65 * width + 110;
    expect(picture.r[middle] - picture.g[middle]).toBeGreaterThan(free.picture.r[middle] - free.picture.g[middle]);
  });

  test('slid, the region is laid into the hole as it is', async () => {
    const { picture } = await fillHole(
      { behind: shot, hole, allowed },
      { kind: 'borrowed', from, x: 85, y: 0, tries: 1, taken: 1 },
      context,
    );
    // Over the middle of the hole lies red, toned at its seams only.
    expect(picture.r[65 * width + 106]).toBeGreaterThan(picture.g[65 * width + 106]);
  });

  test('a region in the hole says so', async () => {
    const inside = [{ radius: 4, points: [[110, 65]] as [number, number][] }];
    const filled = await fillHole(
      { behind: shot, hole, allowed },
      { kind: 'borrowed', from: inside, x: 0, y: 0, tries: 1, taken: 1 },
      context,
    );
    expect(filled.note).toMatch(/larger region/);
  });
});

describe('photographed', () => {
  const random = seeded(9);
  const spots = Array.from({ length: 60 }, () => [random() * 240, random() * 200, 4 + 10 * random(), random()]);
  const scene = (x: number, y: number): [number, number, number] => {
    let v = 0.2 + x / 900;
    for (const [sx, sy, r, s] of spots) v += 0.35 * s * Math.exp(-((x - sx) ** 2 + (y - sy) ** 2) / (r * r));
    return [v, v * 0.9, v * 0.7];
  };
  const truth = pictureFrom(240, 200, scene);
  const hole = planeFrom(240, 200, (x, y) => (Math.hypot(x - 120, y - 100) < 30 ? 1 : 0));
  const shot = spoilt(truth, hole);
  const allowed = { ...hole, data: hole.data.map((h) => 1 - h) };

  test('is aligned and its exposure matched', async () => {
    const other = pictureFrom(240, 200, (x, y) => scene(x + 3.4, y - 1.7).map((v) => v * 1.25) as [number, number, number]);
    const { picture, fits } = await fillHole(
      { behind: shot, hole, allowed, photographed: other },
      { kind: 'photographed', picture: 'o' },
      context,
    );
    expect(apart(picture, truth, hole.data)).toBeLessThan(0.01);
    expect(fits).toBeGreaterThan(0.5);
  });

  test('what it does not reach is filled with patches of what it shows, and said', async () => {
    // It ends 14 px before the shot's right border, where the hole goes on.
    const open = planeFrom(240, 200, (x, y) => (Math.hypot(x - 228, y - 100) < 26 ? 1 : 0));
    const before = spoilt(truth, open);
    const other = pictureFrom(240, 200, (x, y) => scene(x - 14, y));
    const { picture, note } = await fillHole(
      { behind: before, hole: open, allowed: { ...open, data: open.data.map((h) => 1 - h) }, photographed: other },
      { kind: 'photographed', picture: 'o' },
      context,
    );
    expect(note).toMatch(/does not reach all/);
    const reached = open.data.map((h, p) => (p % 240 < 222 ? h : 0));
    expect(apart(picture, truth, reached)).toBeLessThan(0.01);
    expect(apart(picture, truth, open.data)).toBeLessThan(0.5 * apart(before, truth, open.data));
  });

  test('without one it says so', async () => {
    expect((await fillHole({ behind: shot, hole, allowed }, { kind: 'photographed', picture: null }, context)).note).toMatch(
      /No photographed plate/,
    );
  });
});

describe('along the layers of a scene', () => {
  test('the factor is above 1 for what lies in layers, below for what stands upright, 1 for neither', () => {
    const nothing = planeFrom(width, height, () => 0);
    const of = (f: (x: number, y: number) => number): number =>
      layering(
        pictureFrom(width, height, (x, y) => [f(x, y), f(x, y), f(x, y)]),
        nothing,
      );
    expect(of((_, y) => 0.2 + 0.6 * Math.abs(Math.sin(y / 12)))).toBe(4);
    expect(of((x) => 0.2 + 0.6 * Math.abs(Math.sin(x / 12)))).toBe(0.25);
    expect(of((x, y) => 0.4 + 0.2 * Math.sin((x + y) / 9) * Math.sin((x - y) / 9))).toBeGreaterThan(0.5);
    expect(of((x, y) => 0.4 + 0.2 * Math.sin((x + y) / 9) * Math.sin((x - y) / 9))).toBeLessThan(2);
  });

  test('a layered scene is guessed better than by a membrane alone', async () => {
    const truth = pictureFrom(width, height, (_, y) => (y < 50 ? [0.6, 0.6, 0.7] : y < 80 ? [0.1, 0.2, 0.1] : [0.5, 0.3, 0.2]));
    const hole = disc(90, 65, 30);
    const shot = spoilt(truth, hole);
    const [layered, smooth] = [(await layeredFill(shot, hole, context)).full, await smoothFill(shot, hole, context)];
    expect(apart(layered, truth, hole.data)).toBeLessThan(0.7 * apart(smooth, truth, hole.data));
  });

  test('stretch reaches everywhere, and stays within what is there', () => {
    const truth = stripes();
    const hole = disc(90, 65, 30);
    const out = stretchFill(spoilt(truth, hole), hole);
    expect(Math.max(...out.g)).toBeLessThan(0.6);
    expect(Math.min(...out.r)).toBeGreaterThan(0.05);
  });
});

describe('different fills for parts', () => {
  const truth = stripes();
  const hole = disc(90, 65, 24);
  const shot = spoilt(truth, hole);
  const region = { radius: 1, filled: true, points: [[90, 30], [130, 30], [130, 100], [90, 100]] as [number, number][] }; // prettier-ignore

  test('each part has its own, the rest stays', async () => {
    const base = { ...defaultPlate, grow: 0, feather: 0 };
    const whole = await plate({ shot, behind: shot, matte: hole }, base, context);
    const both = await plate({ shot, behind: shot, matte: hole }, { ...base, parts: [{ region, fill: { kind: 'smooth' } }] }, context);
    const left = hole.data.map((h, p) => (p % width < 88 && h > 0 ? 1 : 0));
    expect(both.plate.r.filter((v, p) => left[p] === 1 && v !== whole.plate.r[p])).toHaveLength(0);
    const rough = (p: Picture): number => {
      let sum = 0;
      for (let i = 65 * width + 95; i < 65 * width + 108; i++) sum += Math.abs(p.r[i + 1] - p.r[i]);
      return sum;
    };
    expect(rough(both.plate)).toBeLessThan(0.5 * rough(whole.plate));
  });

  test('regions are added to the hole and taken from it', async () => {
    const base = { ...defaultPlate, grow: 0, feather: 0, fill: { kind: 'smooth' as const } };
    const square = (x: number, y: number) => ({ radius: 1, filled: true, points: [[x, y], [x + 10, y], [x + 10, y + 10], [x, y + 10]] as [number, number][] }); // prettier-ignore
    const { hole: made } = await plate(
      { shot, behind: shot, matte: hole },
      { ...base, regions: [{ how: 'add', region: square(10, 10) }, { how: 'take', region: square(85, 60) }] }, // prettier-ignore
      context,
    );
    expect([made.data[15 * width + 15], made.data[65 * width + 90], made.data[50 * width + 90]]).toEqual([1, 0, 1]);
  });
});

test.each([[1, 1400], [1400, 1], [2, 1000]])('a picture of %i × %i px keeps its size, with a hole and without', async (width, height) => {
  const p = makePicture(width, height);
  p.r.fill(0.3);
  const none = makePlane(width, height);
  const some = { ...none, data: none.data.map((_, i) => (i < 40 ? 1 : 0)) };
  const allowed = { ...none, data: none.data.map((_, i) => (i < 60 ? 0 : 1)) };
  for (const hole of [none, some]) {
    for (const kind of ['patch', 'smooth'] as const) {
      const fill = kind === 'patch' ? { kind, tries: 1, taken: 1 } : { kind };
      const { picture } = await fillHole({ behind: p, hole, allowed }, fill, defaultContext());
      expect([kind, picture.width, picture.height]).toEqual([kind, width, height]);
      expect(picture.r.every((v) => v >= 0 && v <= 0.31)).toBe(true);
    }
  }
}); // prettier-ignore
