import { defaultContext } from '../runtime/context';
import { pictureFrom, planeFrom, softDisc, largestDifference } from '../testing/scenes';
import { contamination } from './contamination';
import { settle } from './membrane';
import { findRepeats } from './repeats';
import { moveRegions, retouch, type RetouchStroke } from './retouch';
import { findShadow } from './shadow';
import { showing } from './showing';

const context = defaultContext();

describe('retouching', () => {
  /** Bright checks on a ramp; the right half is darker. */
  const ground = pictureFrom(120, 80, (x, y) => {
    const v = (x < 60 ? 0.5 : 0.2) + ((Math.floor(x / 4) + Math.floor(y / 4)) % 2 ? 0.06 : 0);
    return [v, v, v];
  });
  const stroke = (part: Partial<RetouchStroke>): RetouchStroke => ({ tip: 'clone', radius: 8, hardness: 1, opacity: 1, points: [[90, 40]], ...part }); // prettier-ignore

  test('clone copies from elsewhere to the bit, and touches nothing beside', async () => {
    const out = await retouch(ground, [stroke({ source: [30, 40] })], context);
    expect(out.r[40 * 120 + 90]).toBeCloseTo(ground.r[40 * 120 + 30], 6);
    expect(out.r[40 * 120 + 93]).toBeCloseTo(ground.r[40 * 120 + 33], 6);
    expect(out.r[40 * 120 + 101]).toBe(ground.r[40 * 120 + 101]);
  });

  test('flip mirrors and size enlarges what is copied', async () => {
    const ramp = pictureFrom(120, 80, (x) => [x / 200, 0, 0]);
    const at = (p: typeof ramp, dx: number): number => p.r[40 * 120 + 90 + dx];
    const flipped = await retouch(ramp, [stroke({ source: [30, 40], flip: true })], context);
    expect(at(flipped, 4) - at(flipped, -4)).toBeCloseTo(-8 / 200, 3);
    const large = await retouch(ramp, [stroke({ source: [30, 40], size: 2 })], context);
    expect(at(large, 4) - at(large, -4)).toBeCloseTo(4 / 200, 3);
  });

  test('heal keeps the local tone and takes the texture', async () => {
    const [cloned, healed] = await Promise.all(
      (['clone', 'heal'] as const).map((tip) => retouch(ground, [stroke({ tip, source: [30, 40] })], context)),
    );
    const mean = (p: typeof ground): number => {
      let sum = 0;
      for (let y = 36; y < 44; y++) for (let x = 86; x < 94; x++) sum += p.r[y * 120 + x] / 64;
      return sum;
    };
    expect(mean(cloned)).toBeGreaterThan(0.45);
    expect(mean(healed)).toBeGreaterThan(0.15);
    expect(mean(healed)).toBeLessThan(0.32);
    const steps = (p: typeof ground): number =>
      Math.abs(p.r[40 * 120 + 91] - p.r[40 * 120 + 92]) + Math.abs(p.r[40 * 120 + 87] - p.r[40 * 120 + 88]);
    expect(steps(healed)).toBeCloseTo(steps(cloned), 1);
  });

  test('healing a place from itself changes nothing', async () => {
    const healed = await retouch(ground, [stroke({ tip: 'heal', source: [90, 40] })], context);
    expect(largestDifference(healed.r, ground.r)).toBeLessThan(2e-3);
  });

  test('paint lays a colour with the stroke’s strength, at any scale', async () => {
    const full = await retouch(ground, [stroke({ tip: 'paint', colour: '#ff0000', opacity: 0.5 })], context);
    expect(full.r[40 * 120 + 90]).toBeCloseTo(0.5 + 0.5 * ground.r[40 * 120 + 90], 3);
    const half = await retouch(ground, [stroke({ tip: 'paint', colour: '#ff0000', points: [[180, 80]], radius: 16 })], defaultContext({ scale: 0.5 })); // prettier-ignore
    expect(half.r[40 * 120 + 90]).toBeCloseTo(1, 3);
    expect(half.g[40 * 120 + 90]).toBeCloseTo(0, 3);
  });

  test('strokes and regions beyond the border are harmless', async () => {
    const out = await retouch(ground, [stroke({ points: [[-50, -50]], source: [500, 500] }), stroke({ source: [-40, 200] })], context); // prettier-ignore
    expect(out.r.every((v) => Number.isFinite(v))).toBe(true);
  });

  test('a region is lifted, put down elsewhere, larger, and stays where it was', async () => {
    const mark = pictureFrom(120, 80, (x, y) => (Math.abs(x - 30) < 5 && Math.abs(y - 40) < 5 ? [0.8, 0.1, 0.1] : [0.3, 0.3, 0.3]));
    const region = { radius: 1, filled: true, points: [[18, 28], [42, 28], [42, 52], [18, 52]] as [number, number][] }; // prettier-ignore
    const out = await moveRegions(mark, [{ region, x: 55, y: 0, size: 1.5, feather: 2 }], context);
    const red = (x: number): boolean => out.r[40 * 120 + x] > 0.5;
    expect([red(85), red(91), red(95), red(30)]).toEqual([true, true, false, true]);
    expect(out.r[40 * 120 + 112]).toBe(mark.r[40 * 120 + 112]);
  });
});

describe('what shows', () => {
  const hole = planeFrom(60, 40, (x) => (x >= 20 && x < 40 ? 1 : 0));

  test('nothing behind an opaque subject, all of it where nothing stands before', () => {
    const behind = showing(hole, planeFrom(60, 40, () => 0), 1); // prettier-ignore
    expect([behind.share, behind.ofPicture, behind.places.length]).toEqual([0, 0, 0]);
    const open = showing(hole, planeFrom(60, 40, () => 1), 1); // prettier-ignore
    expect(open.share).toBe(1);
    expect(open.ofPicture).toBeCloseTo(1 / 3, 6);
  });

  test('the share is the mean of what is let through, and places are the most visible', () => {
    const through = planeFrom(60, 40, (x, y) => (x >= 20 && x < 30 && y < 20 ? 0.8 : 0.1));
    const part = showing(hole, through, 0.1);
    expect(part.share).toBeCloseTo((200 * 0.8 + 600 * 0.1) / 800, 5);
    expect(part.places[0].x).toBeLessThan(310);
    expect(part.places[0].y).toBeLessThan(210);
  });
});

test('a larger photograph that shows the same has the same places, as far apart', () => {
  const wide = planeFrom(1800, 60, () => 1);
  const [usual, large] = [showing(wide, wide, 1), showing(wide, wide, 0.25)];
  expect(usual.places.length).toBeGreaterThan(15);
  expect(large.places.map((p) => [p.x, p.y])).toEqual(usual.places.map((p) => [4 * p.x, 4 * p.y]));
});

describe('repeats', () => {
  test('a piece that is used twice is named at both places, texture of single pixels is not', () => {
    const [width, height] = [120, 80];
    const from = new Int32Array(width * height).fill(-1);
    for (let y = 0; y < 20; y++) {
      for (let x = 0; x < 20; x++) {
        from[(10 + y) * width + 30 + x] = (50 + y) * width + x;
        from[(40 + y) * width + 70 + x] = (50 + y) * width + x;
        from[(40 + y) * width + 95 + x] = (3 * x + 7 * y) % 500;
      }
    }
    const found = findRepeats({ width, height, from }, 0.5);
    expect(found).toHaveLength(2);
    expect(found[0]).toEqual({ x: 62, y: 22, width: 36, height: 36, times: 2 });
  });
});

describe('the subject’s trace around it', () => {
  const scene = (smear: number) => {
    const matte = softDisc(160, 160, 80, 80, 40, 1);
    const shot = pictureFrom(160, 160, (x, y) => {
      const out = Math.hypot(x - 80, y - 80) - 40;
      const a = out <= 0 ? 1 : smear > 0 ? 0.4 * Math.exp(-out / smear) : 0;
      return [0.1 + 0.8 * a, 0.1, 0.3 - 0.2 * a];
    });
    return { shot, matte };
  };

  test('is measured where there is one, and none where there is none', () => {
    const clean = scene(0);
    expect(contamination(clean.shot, clean.matte)).toBeLessThanOrEqual(1);
    const some = scene(3);
    const more = scene(6);
    expect(contamination(some.shot, some.matte)).toBeGreaterThan(2);
    expect(contamination(more.shot, more.matte)).toBeGreaterThan(contamination(some.shot, some.matte));
  });
});

describe('the subject’s shadow', () => {
  test('is found beside its foot, and only there', () => {
    const [width, height] = [200, 140];
    const matte = planeFrom(width, height, (x, y) => (Math.abs(x - 80) < 20 && y > 40 && y < 100 ? 1 : 0));
    const inShadow = (x: number, y: number): boolean => x >= 99 && x < 140 && y > 88 && y < 102;
    const shot = pictureFrom(width, height, (x, y) => (inShadow(x, y) ? [0.1, 0.1, 0.1] : y < 10 ? [0.02, 0.02, 0.02] : [0.4, 0.4, 0.4]));
    const found = findShadow(shot, matte, context);
    expect(found).toHaveLength(1);
    const xs = found[0].points.map((p) => p[0]);
    const ys = found[0].points.map((p) => p[1]);
    expect(Math.min(...xs)).toBeGreaterThan(90);
    expect(Math.max(...xs)).toBeGreaterThan(132);
    expect(Math.min(...ys)).toBeGreaterThan(80);
    expect(findShadow(pictureFrom(width, height, () => [0.4, 0.4, 0.4]), matte, context)).toEqual([]); // prettier-ignore
    expect(findShadow(shot, planeFrom(width, height, () => 0), context)).toEqual([]); // prettier-ignore
  });
});

describe('a membrane settled at full size', () => {
  const [width, height] = [80, 60];
  const truth = pictureFrom(width, height, (x, y) => [0.2 + x / 200, 0.3 + y / 200, 0.25 + (x + y) / 400]);
  const hole = planeFrom(width, height, (x, y) => (Math.hypot(x - 40, y - 30) < 15 ? 1 : 0));
  const off = (): typeof truth => ({ ...truth, r: truth.r.map((v, p) => (hole.data[p] ? v + 0.02 * ((p % 2) - 0.5) : v)) });
  const wrong = (p: typeof truth, inside: (d: number) => boolean): number =>
    p.r.reduce((sum, v, i) => {
      const away = 15 - Math.hypot((i % width) - 40, Math.floor(i / width) - 30);
      return sum + (hole.data[i] && inside(away) ? Math.abs(v - truth.r[i]) : 0);
    }, 0);

  test('loses its roughness near the rim, and nothing moves outside or deep inside', async () => {
    const picture = off();
    const before = off();
    await settle(picture, before, hole, { sweeps: 6 }, context);
    expect(wrong(picture, (d) => d < 3)).toBeLessThan(0.3 * wrong(before, (d) => d < 3));
    expect(wrong(picture, (d) => d > 9)).toBeCloseTo(
      wrong(before, (d) => d > 9),
      6,
    );
    expect(picture.r.filter((v, p) => hole.data[p] === 0 && v !== truth.r[p])).toHaveLength(0);
  });

  test('a smooth ramp is left as it is', async () => {
    const picture = { ...truth, r: truth.r.slice(), g: truth.g.slice(), b: truth.b.slice() };
    await settle(picture, truth, hole, { sweeps: 6 }, context);
    expect(largestDifference(picture.r, truth.r)).toBeLessThan(1e-5);
    expect(largestDifference(picture.g, truth.g)).toBeLessThan(1e-5);
  });
});
