import { isAbort, defaultContext } from '../runtime/context';
import { makePicture } from '../raster/plane';
import { pictureFrom, softDisc, sum } from '../testing/scenes';
import { bandOutside, halo, matteErrors, meanDeltaE, psnr, ssim } from './compare';
import type { Picture } from '../raster/plane';
import { concernOf, edgeWalk } from './edgeWalk';
import { leftover } from './leftover';
import { matteFigures } from './matteFigures';

const disc = softDisc(120, 100, 60, 50, 25, 3);
const grey = pictureFrom(120, 100, () => [0.2, 0.2, 0.2]);

describe('comparing pictures', () => {
  test('a picture equals itself', () => {
    expect([meanDeltaE(grey, grey), psnr(grey, grey), ssim(grey, grey)]).toEqual([0, Infinity, expect.closeTo(1, 4)]);
  });

  test('an error of one tenth in code value is 20 dB', () => {
    const [a, b] = [pictureFrom(4, 4, () => [0.2140411, 0.2140411, 0.2140411]), makePicture(4, 4)];
    // Code 0.5 against code 0.4.
    b.r.fill(0.13286832);
    b.g.fill(0.13286832);
    b.b.fill(0.13286832);
    expect(psnr(a, b)).toBeCloseTo(20, 2);
  });

  test('structure counts for similarity', () => {
    const checks = pictureFrom(40, 40, (x, y) => ((x + y) % 2 ? [0.3, 0.3, 0.3] : [0.2, 0.2, 0.2]));
    const flat = pictureFrom(40, 40, () => [0.25, 0.25, 0.25]);
    expect(ssim(checks, flat)).toBeLessThan(0.4);
  });
});

describe('the halo figure', () => {
  test('its bands lie outside the edge', () => {
    const near = bandOutside(disc, 0, 4);
    const area = Math.PI * (29 ** 2 - 25 ** 2);
    expect(Math.abs(sum(near) - area) / area).toBeLessThan(0.08);
    expect(near[50 * 120 + 60]).toBe(0);
  });

  test('a smear beside the subject shows in its band only', () => {
    const smeared = pictureFrom(120, 100, (x, y) => {
      const d = Math.hypot(x + 0.5 - 60, y + 0.5 - 50) - 25;
      return d > 5 && d < 11 ? [0.5, 0.2, 0.2] : [0.2, 0.2, 0.2];
    });
    const figure = halo(smeared, grey, disc);
    expect(figure.near).toBeLessThan(0.5);
    expect(figure.far).toBeGreaterThan(10);
  });
});

describe('matte errors', () => {
  test('are zero for the truth and count what differs', () => {
    expect(matteErrors(disc, disc)).toEqual({ sad: 0, mse: 0, gradient: 0 });
    const off = { ...disc, data: disc.data.map((a) => (a === 0 ? 0.5 : a)) };
    const empty = disc.data.filter((a) => a === 0).length;
    expect(matteErrors(off, disc).sad).toBeCloseTo((0.5 * empty) / 1000, 4);
    expect(matteErrors(off, disc).mse).toBeCloseTo((0.25 * empty) / 12000, 5);
  });

  test('a blurred edge has a gradient error, a constant offset has none', () => {
    const lifted = { ...disc, data: disc.data.map((a) => a + 0.1) };
    expect(matteErrors(lifted, disc).gradient).toBeLessThan(1e-6);
    expect(matteErrors(softDisc(120, 100, 60, 50, 25, 12), disc).gradient).toBeGreaterThan(0.005);
  });
});

test('specks and pinholes are counted', () => {
  const dirty = { ...disc, data: disc.data.slice() };
  dirty.data[120 * 3 + 3] = 1;
  dirty.data[120 * 50 + 60] = 0;
  dirty.data[120 * 52 + 66] = 0.4;
  const figures = matteFigures(dirty, 9);
  expect([figures.specks, figures.pinholes]).toEqual([1, 2]);
  expect(figures.subject).toBeCloseTo((Math.PI * 625) / 12000, 2);
});

test('a foot is the lowest part that is more than a hair, unless the border cuts it off', () => {
  const foot = (change: (data: Float32Array) => void): number | undefined => {
    const data = disc.data.slice();
    change(data);
    return matteFigures({ ...disc, data }, 9).foot;
  };
  // The disc's lower end, to within the softness of its edge.
  expect(Math.abs(foot(() => undefined)! - 0.75)).toBeLessThan(0.02);
  // One pixel of a hundred and twenty is more than a hair here; half a pixel is nothing.
  expect(foot((data) => (data[120 * 90 + 60] = 1))).toBeCloseTo(0.91, 2);
  expect(foot((data) => (data[120 * 90 + 60] = 0.3))).toBe(foot(() => undefined));
  expect(foot((data) => data.fill(1, 120 * 60))).toBeUndefined();
  expect(foot((data) => data.fill(0))).toBeUndefined();
});

describe('the walk', () => {
  const { width, height } = disc;
  const flat = (r: number, g: number, b: number, a?: Float32Array): Picture => ({
    width,
    height,
    r: new Float32Array(width * height).fill(r),
    g: new Float32Array(width * height).fill(g),
    b: new Float32Array(width * height).fill(b),
    ...(a && { a }),
  });
  const behind = flat(0.1, 0.5, 0.1);

  test('goes once around the edge, evenly, looking outwards', async () => {
    const places = await edgeWalk(flat(0.4, 0.2, 0.1, disc.data), behind, defaultContext(), 20);
    expect(places.length).toBeGreaterThan(5);
    expect(places.length).toBeLessThan(12);
    for (const p of places) {
      expect(Math.hypot(p.x - 60, p.y - 50)).toBeCloseTo(25, -1);
      expect(p.outX * (p.x - 60) + p.outY * (p.y - 50)).toBeGreaterThan(20);
      expect(p.left).toBeCloseTo(0, 3);
    }
    expect(await edgeWalk(flat(1, 1, 1, new Float32Array(width * height)), behind, defaultContext())).toEqual([]);
  });

  test('begins where the edge is worst', async () => {
    const half = softDisc(120, 100, 60, 50, 25, 1).data;
    const soft = softDisc(120, 100, 60, 50, 25, 14).data;
    const mixed = half.map((v, p) => (p % width < 60 ? v : soft[p]));
    const [first] = await edgeWalk(flat(0.4, 0.2, 0.1, mixed), behind, defaultContext(), 20);
    expect(first.x).toBeGreaterThan(62);
    const places = (await edgeWalk(flat(0.4, 0.2, 0.1, mixed), behind, defaultContext(), 20)).map((p) => concernOf(p));
    expect(places).toEqual([...places].sort((a, b) => b - a));
  });

  test('counts each loose speck and pinhole beside it once', async () => {
    const dirty = disc.data.slice();
    // Two beside the left of the edge, of two pixels each; one too large to be a speck.
    for (const p of [50 * width + 28, 50 * width + 29, 56 * width + 29, 57 * width + 29]) dirty[p] = 1;
    for (let y = 5; y < 15; y++) dirty.fill(1, y * width + 100, y * width + 110);
    const clean = await edgeWalk(flat(0.4, 0.2, 0.1, disc.data), behind, defaultContext(), 20);
    const places = await edgeWalk(flat(0.4, 0.2, 0.1, dirty), behind, defaultContext(), 20);
    expect(clean.every((p) => p.specks === 0)).toBe(true);
    const beside = places.filter((p) => Math.hypot(p.x - 32, p.y - 53) < 12).map((p) => p.specks);
    expect(beside.length).toBeGreaterThan(0);
    for (const specks of beside) expect(specks).toBeGreaterThan(0.7);
    expect(Math.max(...places.map((p) => p.specks))).toBeLessThan(4.1);
    for (const p of places.filter((q) => q.x > 70 && Math.hypot(q.x - 60, q.y - 50) < 32)) expect(p.specks).toBeLessThan(0.1);
  });

  test('is the same wherever in a larger picture the subject stands', async () => {
    const placed = (dx: number, dy: number): Picture => {
      const large = { width: 500, height: 400 };
      const a = new Float32Array(500 * 400);
      for (let y = 0; y < height; y++) a.set(disc.data.subarray(y * width, (y + 1) * width), (y + dy) * 500 + dx);
      const fill = (v: number): Float32Array => new Float32Array(a.length).fill(v);
      return { ...large, r: fill(0.4), g: fill(0.2), b: fill(0.1), a };
    };
    const back = { ...placed(0, 0), r: new Float32Array(200_000).fill(0.1) };
    const [one, other] = [
      await edgeWalk(placed(64, 64), back, defaultContext(), 20),
      await edgeWalk(placed(256, 192), back, defaultContext(), 20),
    ];
    expect(one.length).toBeGreaterThan(5);
    const order = (all: typeof one): typeof one => [...all].sort((p, q) => p.y - q.y || p.x - q.x);
    order(one).forEach((p, i) => {
      const q = order(other)[i];
      expect([q.x - p.x, q.y - p.y]).toEqual([192, 128]);
      expect(q.softness).toBeCloseTo(p.softness, 3);
    });
  });

  test('can be cancelled', async () => {
    const controller = new AbortController();
    controller.abort();
    const walk = edgeWalk(flat(0.4, 0.2, 0.1, disc.data), behind, defaultContext({ signal: controller.signal }));
    expect(isAbort(await walk.catch((error: unknown) => error))).toBe(true);
  });

  test('finds the old background in the edge’s colour, by its share', () => {
    const clean = flat(0.4, 0.2, 0.1, disc.data);
    const dirty = flat(0.4, 0.2, 0.1, disc.data);
    for (let p = 0; p < disc.data.length; p++) {
      const left = 1 - disc.data[p];
      dirty.r[p] += left * (0.1 - dirty.r[p]);
      dirty.g[p] += left * (0.5 - dirty.g[p]);
    }
    const mean = (s: Picture) => {
      const each = leftover(s, behind).data.filter((v) => v !== 0);
      return each.length === 0 ? 0 : each.reduce((a, b) => a + b, 0) / each.length;
    };
    expect(mean(clean)).toBe(0);
    expect(mean(dirty)).toBeGreaterThan(15);
  });
});
