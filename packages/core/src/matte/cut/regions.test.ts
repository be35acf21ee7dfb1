import { defaultContext } from '../../runtime/context';
import type { Kernel } from '../../runtime/parallelFor';
import { halfPool } from '../../testing/pool';
import { seeded } from '../../raster/random';
import type { Features } from './colourModel';
import { contourBand, contoursOf, type Contours } from './contours';
import { chanceOfInside, walkGraphOf } from './randomWalk';
import { regionsOf, type RegionGraph } from './regions';

const context = defaultContext();

/** Lightness by place, without colour. */
function grey(width: number, height: number, light: (x: number, y: number) => number): Features {
  const l = Float32Array.from({ length: width * height }, (_, p) => light(p % width, Math.floor(p / width)));
  return { width, height, l, a: new Float32Array(l.length), b: new Float32Array(l.length) };
}

describe('contours', () => {
  const [w, h] = [61, 40];
  const strength = ({ across }: Contours, d: number, x: number, y: number): number => across[d * w * h + y * w + x];

  test('stand where two plain sides meet, in the direction across, and nowhere else', async () => {
    const found = await contoursOf(
      grey(w, h, (x) => (x < 30 ? 0.4 : 0.6)),
      context,
    );
    const at = (d: number): number => Math.max(strength(found, d, 29, 20), strength(found, d, 30, 20));
    expect(at(0)).toBeGreaterThan(3);
    expect(at(2)).toBeLessThan(0.02);
    expect(strength(found, 0, 10, 20)).toBeLessThan(1e-3);
    // Thinned: the strongest place is much stronger than three pixels beside it.
    expect(strength(found, 0, 26, 20)).toBeLessThan(0.4 * at(0));
  });

  test('turn with the picture', async () => {
    const upright = await contoursOf(
      grey(40, 40, (x) => (x < 20 ? 0.3 : 0.7)),
      context,
    );
    const level = await contoursOf(
      grey(40, 40, (_, y) => (y < 20 ? 0.3 : 0.7)),
      context,
    );
    const strongest = (line: (k: number) => number): number => Math.max(...Array.from({ length: 40 }, (_, k) => line(k)));
    const [down, right] = [strongest((k) => level.across[2 * 1600 + k * 40 + 17]), strongest((k) => upright.across[17 * 40 + k])];
    expect(down).toBeCloseTo(right, 2);
    expect(right).toBeGreaterThan(3);
  });

  test('texture gives little where a plain step of the same size gives much', async () => {
    const random = seeded(3);
    const noise = await contoursOf(
      grey(w, h, () => 0.5 + 0.2 * (random() - 0.5)),
      context,
    );
    const step = await contoursOf(
      grey(w, h, (x) => (x < 30 ? 0.45 : 0.55)),
      context,
    );
    const inside = noise.across.slice(0, w * h).filter((_, p) => p % w > 8 && p % w < 52 && p > 8 * w && p < 32 * w);
    const mean = inside.reduce((a, b) => a + b, 0) / inside.length;
    expect(mean).toBeLessThan(0.15 * Math.max(strength(step, 0, 29, 20), strength(step, 0, 30, 20)));
  });

  test('come out the same bytes with a pool', async () => {
    const random = seeded(9);
    const lab = grey(70, 90, (x, y) => (((x >> 3) + (y >> 4)) % 2 ? 0.3 + 0.1 * random() : 0.7));
    const pool = halfPool([contourBand as Kernel<never>]);
    expect(await contoursOf(lab, { ...context, pool })).toEqual(await contoursOf(lab, context));
    expect(pool.done.contourBand).toBeGreaterThan(0);
  });
});

async function graphOf(lab: Features): Promise<RegionGraph> {
  return regionsOf(lab, await contoursOf(lab, context));
}

describe('regions', () => {
  test('follow plain areas: a square on a ground is one region, and the ground another', async () => {
    const lab = grey(60, 48, (x, y) => (x >= 20 && x < 40 && y >= 14 && y < 34 ? 0.8 : 0.3));
    const { region, count, area, rim, length, strength } = await graphOf(lab);
    expect(count).toBe(2);
    const [square, ground] = [region[24 * 60 + 30], region[0]];
    expect(Math.abs(area[square] - 400)).toBeLessThan(90);
    expect(area[square] + area[ground]).toBe(60 * 48);
    expect([rim[square], rim[ground]]).toEqual([0, 2 * 60 + 2 * 46]);
    expect(Math.abs(length[0] - 80)).toBeLessThan(20);
    expect(strength[0]).toBeGreaterThan(1);
  });

  test('every pixel has one, their numbers have no gaps, and areas add up', async () => {
    const random = seeded(4);
    const lab = grey(80, 60, (x, y) => 0.4 + 0.2 * Math.sin(x / 7) * Math.cos(y / 5) + 0.05 * random());
    const { region, count, area, from, to } = await graphOf(lab);
    expect(new Set(region).size).toBe(count);
    const counted = new Float64Array(count);
    for (const r of region) counted[r]++;
    expect(counted).toEqual(area);
    from.forEach((i, e) => expect(i).toBeLessThan(to[e]));
    expect(new Set(from.map((i, e) => i * count + to[e])).size).toBe(from.length);
  });
});

describe('a random walk', () => {
  /** Three regions in a row with borders of these strengths. */
  const row = (...strengths: [number, number]): RegionGraph => {
    const three = (v = 1): Float64Array => new Float64Array(3).fill(v);
    return {
      ...{ count: 3, region: Int32Array.of(0, 1, 2), area: three(), l: three(0.5), a: three(0), b: three(0), busy: three(0) },
      ...{ x: Float64Array.of(0, 1, 2), y: three(0), rim: three(0) },
      ...{ from: Int32Array.of(0, 1), to: Int32Array.of(1, 2), length: Float64Array.of(1, 1), strength: Float64Array.from(strengths) },
    };
  };
  const tie = (...values: number[]): Float64Array => Float64Array.from(values);

  test('between two ends the middle has the chance of a voltage divider', () => {
    const graph = { regions: row(0, 0), from: Int32Array.of(0, 1), to: Int32Array.of(1, 2), conductance: tie(3, 1) };
    const chance = chanceOfInside(graph, { inside: tie(1e6, 0, 0), outside: tie(0, 0, 1e6) });
    expect(chance[0]).toBeCloseTo(1, 3);
    expect(chance[1]).toBeCloseTo(0.75, 3);
    expect(chance[2]).toBeCloseTo(0, 3);
  });

  test('does not cross a strong border when a weak one is there', () => {
    const chance = chanceOfInside(walkGraphOf(row(0.1, 3), 200), { inside: tie(1000, 0, 0), outside: tie(0, 0, 1000) });
    expect(chance[1]).toBeGreaterThan(0.5);
  });

  test('a further mark never lowers a chance of its own side, and order does not matter', () => {
    const random = seeded(8);
    const n = 40;
    const values = (of: () => number): Float64Array => new Float64Array(n).map(of);
    const pairs = Array.from({ length: 120 }, () => [Math.floor(random() * n), Math.floor(random() * n)]).filter(([i, j]) => i !== j);
    const graph = {
      regions: { ...row(0, 0), count: n },
      from: Int32Array.from(pairs, ([i]) => i),
      to: Int32Array.from(pairs, ([, j]) => j),
      conductance: Float64Array.from(pairs, () => random()),
    };
    const outside = values(() => 0.05 * random());
    const inside = values(() => 0);
    inside[3] = 1000;
    const before = chanceOfInside(graph, { inside, outside });
    inside[17] = 1000;
    const after = chanceOfInside(graph, { inside, outside });
    after.forEach((c, i) => expect(c).toBeGreaterThan(before[i] - 1e-3));
    expect(chanceOfInside(graph, { inside: inside.slice(), outside: outside.slice() })).toEqual(after);
  });
});
