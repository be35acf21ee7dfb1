import fc from 'fast-check';
import { defaultContext } from '../runtime/context';
import { type Picture, type Plane } from '../raster/plane';
import { gaussian } from '../raster/filter';
import { seeded } from '../raster/random';
import { pictureFrom, planeFrom, softDisc, sum } from '../testing/scenes';
import { holeOf } from './hole';
import { defaultPlate, plate } from './plate';
import { leftOutside, residueOf, swallowing } from './residue';

const context = defaultContext();
const [width, height] = [480, 320];

/** A ground with patches of light and dark everywhere, and the same subject as everywhere else. */
function ground(seed: number): Picture {
  const random = seeded(seed);
  const blots = { width, height, data: Float32Array.from({ length: width * height }, () => random()) };
  const soft = gaussian(blots, 14).data.map((v) => 0.25 + 3 * (v - 0.5));
  return pictureFrom(width, height, (x, y) => {
    const v = Math.min(0.6, Math.max(0.05, soft[y * width + x])) + 0.004 * random();
    return [0.6 * v, v, 0.8 * v];
  });
}
const front = pictureFrom(width, height, (x, y) => [0.55 + 0.1 * Math.sin(x / 9), 0.16, 0.08 + 0.03 * Math.cos(y / 7)]);
const disc = softDisc(width, height, 190, 160, 70, 2);
const shotOf = ({ data }: Plane, back: Picture): Picture => {
  const mixed = (c: 'r' | 'g' | 'b'): Float32Array => back[c].map((v, p) => v + data[p] * (front[c][p] - v));
  return { width, height, r: mixed('r'), g: mixed('g'), b: mixed('b') };
};

describe('what is left of the subject', () => {
  test('nothing is clearly left beside a right matte, whatever the ground', async () => {
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 1, max: 1000 }), async (seed) => {
        const found = await residueOf(shotOf(disc, ground(seed)), disc, context);
        expect(leftOutside(found, holeOf(disc, 1, 1), 1).width).toBeLessThan(0.1);
      }),
      { numRuns: 8 },
    );
  });

  test('a soft rim outside the matte is seen all around, and the proposed hole swallows it', async () => {
    const back = ground(3);
    const soft = gaussian(disc, 5);
    const shot = shotOf(soft, back);
    const matte = { ...soft, data: soft.data.map((v) => Math.min(1, Math.max(0, (v - 0.5) / 0.3))) };
    const found = await residueOf(shot, matte, context);
    expect(found.clear).toContain('rim');
    const crisp = holeOf(matte, 1, 1);
    const left = leftOutside(found, crisp, 1);
    expect(left.width).toBeGreaterThan(1);
    expect(left.places[0].kind).toBe('rim');
    const made = await plate({ shot, behind: shot, matte }, { ...defaultPlate, fill: { kind: 'smooth' } }, context);
    expect(made.grow).toBeGreaterThan(4);
    expect(made.left.width).toBeLessThan(0.2);
    // Grown by hand to nothing, it says so.
    const bare = await plate({ shot, behind: shot, matte }, { ...defaultPlate, fill: { kind: 'smooth' }, grow: 0 }, context);
    expect(bare.left.width).toBeGreaterThan(1);
    expect(sum(made.hole.data)).toBeGreaterThan(sum(bare.hole.data));
  });

  test('a strand and a part that the matte lacks are named where they are', async () => {
    const back = ground(5);
    const strand = planeFrom(width, height, (x, y) =>
      Math.min(1, Math.max(0, 1.2 - Math.abs(y - 160 + 0.3 * (x - 260))) * (x > 250 && x < 285 ? 1 : 0)),
    );
    const hairy = { ...disc, data: disc.data.map((v, p) => Math.max(v, strand.data[p])) };
    const hair = await residueOf(shotOf(hairy, back), disc, context);
    const hairs = leftOutside(hair, holeOf(disc, 1, 1), 1).places.filter((p) => p.kind === 'strand');
    expect(hairs.length).toBeGreaterThan(0);
    expect(Math.hypot(hairs[0].x - 270, hairs[0].y - 157)).toBeLessThan(12);
    const bite = { ...disc, data: disc.data.map((v, p) => (Math.hypot((p % width) - 255, Math.floor(p / width) - 160) < 22 ? 0 : v)) };
    const part = await residueOf(shotOf(disc, back), bite, context);
    const parts = leftOutside(part, holeOf(bite, 1, 1), 1).places.filter((p) => p.kind === 'part');
    expect(parts.length).toBeGreaterThan(0);
    expect(Math.hypot(parts[0].x - 248, parts[0].y - 160)).toBeLessThan(20);
    const grown = swallowing(holeOf(bite, 1, 1), part, 1);
    expect(leftOutside(part, grown, 1).places.filter((p) => p.kind === 'part')).toEqual([]);
  });

  test('a contact shadow is told on its side, and the hole does not swallow it: it belongs to the ground', async () => {
    const back = ground(7);
    const below = { ...disc, data: disc.data.map((_, p) => (p >= 10 * width ? disc.data[p - 10 * width] : 0)) };
    const shade = gaussian(below, 6).data;
    const dark = (c: Float32Array): Float32Array => c.map((v, p) => v * (1 - 0.5 * shade[p]));
    const shot = shotOf(disc, { ...back, r: dark(back.r), g: dark(back.g), b: dark(back.b) });
    const found = await residueOf(shot, disc, context);
    expect(found.clear).toEqual(['shade']);
    const hole = holeOf(disc, 1, 1);
    const { places } = leftOutside(found, hole, 1);
    expect(places.length).toBeGreaterThan(0);
    for (const { y } of places) expect(y).toBeGreaterThan(160);
    expect(swallowing(hole, found, 1)).toBe(hole);
    expect((await residueOf(shotOf(disc, back), disc, context)).clear).toEqual([]);
  });

  test('a reflection below the subject is told, and is none when it is not the subject’s own', async () => {
    const back = ground(11);
    const box = planeFrom(width, height, (x, y) => (x > 150 && x < 330 && y > 60 && y < 250 ? 1 : 0));
    const random = seeded(4);
    const spots = Float32Array.from({ length: width * height }, () => (random() < 0.02 ? 1 : 0));
    const pattern = gaussian({ width, height, data: spots }, 2).data;
    const subject = pictureFrom(width, height, (x, y) => [0.1 + 9 * pattern[y * width + x], 0.2, 0.3]);
    const over = (mirrored: Picture): Picture => {
      const mixed = (c: 'r' | 'g' | 'b'): Float32Array => mirrored[c].map((v, p) => v + box.data[p] * (subject[c][p] - v));
      return { width, height, r: mixed('r'), g: mixed('g'), b: mixed('b') };
    };
    const mirroredAt = (aside: number): Picture => {
      const out = { ...back, r: back.r.slice(), g: back.g.slice(), b: back.b.slice() };
      for (let y = 250; y < 280; y++) {
        for (let x = 151; x < 330; x++) {
          const [p, q] = [y * width + x, (498 - y) * width + 151 + ((x - 151 + aside) % 179)];
          for (const c of ['r', 'g', 'b'] as const) out[c][p] += 0.3 * (1 - (y - 250) / 30) * (subject[c][q] - out[c][p]);
        }
      }
      return out;
    };
    const found = await residueOf(over(mirroredAt(0)), box, context);
    expect(found.clear).toContain('mirror');
    expect(leftOutside(found, holeOf(box, 1, 1), 1).places.some((p) => p.kind === 'mirror' && p.y > 249 && p.y < 282)).toBe(true);
    expect((await residueOf(over(mirroredAt(90)), box, context)).clear).not.toContain('mirror');
    expect((await residueOf(over(back), box, context)).clear).toEqual([]);
  });

  test('where there is no room to lay the outline elsewhere it is not known; without a subject nothing is left', async () => {
    const all = planeFrom(width, height, (x, y) => (x > 3 && y > 3 && x < width - 4 && y < height - 4 ? 1 : 0));
    expect(leftOutside(await residueOf(shotOf(all, ground(1)), all, context), holeOf(all, 1, 1), 1).width).toBeUndefined();
    const none = planeFrom(width, height, () => 0);
    const found = await residueOf(ground(1), none, context);
    expect(leftOutside(found, none, 1).places).toEqual([]);
  });

  test('is broken off when asked, between one look and the next', async () => {
    const controller = new AbortController();
    const progress = (_: string, done: number): void => {
      if (done > 0.3) controller.abort();
    };
    const stopped = { ...context, signal: controller.signal, progress };
    await expect(residueOf(shotOf(disc, ground(1)), disc, stopped)).rejects.toThrow(/abort/i);
  });

  test('sizes must be the same', async () => {
    await expect(residueOf(ground(1), softDisc(10, 10, 5, 5, 2, 1), context)).rejects.toThrow(RangeError);
  });
});
