import { defaultContext } from '../runtime/context';
import { ballScene, largestDifference, pictureFrom, planeFrom, softDisc, sum } from '../testing/scenes';
import { holeOf, suggestGrow } from './hole';
import { defaultPlate, hasSmoothParts, plate, smoothParts } from './plate';
import { membrane, pyramid } from './membrane';
import { smoothFill } from './smooth';

const context = defaultContext();

describe('the hole', () => {
  const matte = softDisc(100, 100, 50, 50, 20, 2);

  test('grows by the wanted length and falls off over the feather', () => {
    const hole = holeOf(matte, 8, 6);
    const along = (x: number) => hole.data[50 * 100 + x];
    expect(along(50 + 20 + 6)).toBe(1);
    expect(along(50 + 20 + 10)).toBeGreaterThan(0);
    expect(along(50 + 20 + 10)).toBeLessThan(1);
    expect(along(50 + 20 + 17)).toBe(0);
  });

  test('no subject, no hole; all subject, all hole', () => {
    expect(
      sum(
        holeOf(
          planeFrom(10, 10, () => 0),
          5,
          2,
        ).data,
      ),
    ).toBe(0);
    expect(
      sum(
        holeOf(
          planeFrom(10, 10, () => 1),
          5,
          2,
        ).data,
      ),
    ).toBe(100);
  });

  test('where the subject stands in the picture changes neither the hole around it nor the growth', () => {
    const [left, right] = [softDisc(220, 120, 50, 60, 30, 6), softDisc(220, 120, 170, 60, 30, 6)];
    const [a, b] = [holeOf(left, 4, 3), holeOf(right, 4, 3)];
    for (let y = 0; y < 120; y += 7) {
      for (let x = 0; x < 220; x += 3) expect(b.data[y * 220 + 219 - x]).toBeCloseTo(a.data[y * 220 + x], 5);
    }
    expect(suggestGrow(right).grow).toBeCloseTo(suggestGrow(left).grow, 5);
  });

  test('a softer edge asks for more', () => {
    const crisp = suggestGrow(softDisc(200, 200, 100, 100, 50, 2));
    const soft = suggestGrow(softDisc(200, 200, 100, 100, 50, 30));
    expect(soft.softness).toBeGreaterThan(crisp.softness + 20);
    expect(soft.softness).toBeCloseTo(30, -1);
    expect(soft.grow).toBeGreaterThan(crisp.grow + 0.4);
    expect(suggestGrow(planeFrom(10, 10, () => 0)).grow).toBeGreaterThan(0);
  });

  test('what is half clear over a wide field is glass and no edge', () => {
    // Opaque only at its left end: most of the pane is far from anything opaque.
    const pane = planeFrom(400, 120, (x, y) => (x < 20 || x >= 380 || y < 20 || y >= 100 ? 0 : x < 40 ? 1 : 0.5));
    const { softness } = suggestGrow(pane);
    expect(softness).toBeGreaterThan(30);
    expect(softness).toBeLessThan(130);
  });
});

describe('the membrane', () => {
  test.each([
    ['a plane', (x: number, y: number) => 0.3 + x / 200 - y / 300],
    ['a saddle', (x: number, y: number) => 0.5 + ((x - 70) ** 2 - (y - 60) ** 2) / 20000],
  ])('is exact for %s, which is harmonic', async (_, f) => {
    const [width, height] = [141, 123];
    const truth = planeFrom(width, height, f);
    const open = Uint8Array.from(truth.data, (_v, i) => (Math.hypot((i % width) - 70, Math.floor(i / width) - 60) < 45 ? 1 : 0));
    const known = truth.data.map((v, i) => (open[i] ? 99 : v));
    const solved = await membrane(known, pyramid(open, new Float32Array(open.length), width, height), context);
    expect(largestDifference(solved, truth.data)).toBeLessThan(2e-3);
  });

  test('stays within what its rim holds', async () => {
    const { shot, matte } = ballScene(90, 70);
    const filled = await smoothFill(shot, holeOf(matte, 4, 0), context);
    const hole = holeOf(matte, 4, 0);
    const rim = shot.g.filter((_, i) => hole.data[i] === 0);
    expect(Math.max(...filled.g)).toBeLessThanOrEqual(Math.max(...rim) + 1e-4);
    expect(Math.min(...filled.g)).toBeGreaterThanOrEqual(Math.min(...rim) - 1e-4);
  });
});

describe('the half-seen', () => {
  test('pulls the membrane the more the less is to be invented', async () => {
    const flat = pictureFrom(41, 41, (x, y) => (Math.hypot(x - 20, y - 20) < 6 ? [0.8, 0.8, 0.8] : [0.2, 0.2, 0.2]));
    const middle = async (h: number) => {
      const hole = planeFrom(41, 41, (x, y) => (Math.hypot(x - 20, y - 20) < 6 ? h : 0));
      return (await smoothFill(flat, hole, context)).g[20 * 41 + 20];
    };
    const [all, most, little] = [await middle(1), await middle(0.7), await middle(0.1)];
    expect(all).toBeCloseTo(0.2, 3);
    expect(most).toBeGreaterThan(0.25);
    expect(little).toBeGreaterThan(most + 0.1);
    expect(little).toBeLessThanOrEqual(0.8);
  });
});

describe('the plate', () => {
  const { shot, matte, back } = ballScene(160, 120, 6);

  test('holds none of the subject, and the untouched part to the bit', async () => {
    const seen = (of: 'r' | 'g' | 'b') => shot[of].map((v, i) => (matte.data[i] < 1 ? back[of][i] : v));
    const behind = { ...shot, r: seen('r'), g: seen('g'), b: seen('b') };
    const product = await plate({ shot, behind, matte }, { ...defaultPlate, fill: { kind: 'smooth' } }, context);
    expect(product.plate.r.filter((v, i) => product.hole.data[i] === 0 && v !== behind.r[i])).toHaveLength(0);
    const worst = largestDifference(product.plate.r, back.r);
    expect(worst).toBeLessThan(0.03);
    expect(largestDifference(shot.r, back.r)).toBeGreaterThan(0.4);
  });

  test('its lengths are full-size pixels at any scale', async () => {
    const inputs = { shot, behind: shot, matte };
    const smooth = { ...defaultPlate, fill: { kind: 'smooth' as const }, feather: 0 };
    const half = await plate(inputs, { ...smooth, grow: 10 }, defaultContext({ scale: 0.5 }));
    const full = await plate(inputs, { ...smooth, grow: 5 }, context);
    expect(largestDifference(half.hole.data, full.hole.data)).toBe(0);
  });

  test.each([
    ['everything', () => 1],
    ['nothing', () => 0],
    ['half of it, over the border', (x: number) => (x < 10 ? 1 : 0)],
  ])('a hole that is %s is defined', async (_, f) => {
    const p = pictureFrom(20, 12, (x, y) => [x / 20, y / 12, 0.4]);
    const product = await plate(
      { shot: p, behind: p, matte: planeFrom(20, 12, f) },
      { ...defaultPlate, fill: { kind: 'smooth' }, grow: 1, feather: 2 },
      context,
    );
    for (const channel of [product.plate.r, product.plate.g, product.plate.b]) expect(channel.every((v) => v >= 0 && v <= 1)).toBe(true);
  });

  test('what of it is invented without texture is told part by part', () => {
    const hole = planeFrom(20, 12, () => 1);
    const part = { region: { radius: 2, points: [[5, 6]] as [number, number][] }, fill: { kind: 'smooth' as const } };
    const patch = { kind: 'patch' as const, tries: 1, taken: 1 };
    expect(hasSmoothParts({ fill: patch, parts: [] })).toBe(false);
    expect(hasSmoothParts({ fill: patch, parts: [part] })).toBe(true);
    const inPatches = smoothParts(hole, { fill: patch, parts: [part] }, 1).data;
    expect([inPatches[6 * 20 + 5], inPatches[6 * 20 + 15]]).toEqual([1, 0]);
    const inSmooth = smoothParts(hole, { fill: { kind: 'smooth' }, parts: [{ ...part, fill: patch }] }, 1).data;
    expect([inSmooth[6 * 20 + 5], inSmooth[6 * 20 + 15]]).toEqual([0, 1]);
  });
});
