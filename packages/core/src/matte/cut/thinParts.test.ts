import fc from 'fast-check';
import { bytesFrom } from '../../runtime/arena';
import { defaultContext } from '../../runtime/context';
import { convexHull } from '../../raster/hull';
import { indicesWhere, maskOf } from '../../raster/mask';
import { seeded } from '../../raster/random';
import { pictureFrom } from '../../testing/scenes';
import { matte } from '../matte';
import { fitColourModel, type Features } from './colourModel';
import { noTrim } from '../edit/trim';
import { markedOutside } from './marks';
import type { RoughCut } from './roughCut';
import { withThinParts } from './thinParts';

const context = defaultContext();
const [width, height] = [120, 80];
const n = width * height;

type Shape = (x: number, y: number) => boolean;
const box =
  (x0: number, y0: number, x1: number, y1: number): Shape =>
  (x, y) =>
    x >= x0 && x < x1 && y >= y0 && y < y1;
const any =
  (...shapes: Shape[]): Shape =>
  (x, y) =>
    shapes.some((s) => s(x, y));
const maskOfShape = (shape: Shape): Uint8Array =>
  Uint8Array.from({ length: n }, (_, p) => (shape(p % width, Math.floor(p / width)) ? 1 : 0));

/** Two colours with a little unevenness, dark within a shape; and a cut that says another shape is the subject. */
function scene(dark: Shape, said: Shape, seeds = new Uint8Array(n)): { lab: Features; cut: RoughCut } {
  const inDark = maskOfShape(dark);
  const uneven = (p: number): number => 0.01 * Math.sin(12.9898 * p) + 0.01 * Math.cos(78.233 * p);
  const lab: Features = {
    ...{ width, height },
    l: Float32Array.from(inDark, (v, p) => (v ? 0.3 : 0.8) + uneven(p)),
    a: Float32Array.from(inDark, (_, p) => uneven(p + 7)),
    b: Float32Array.from(inDark, (_, p) => uneven(p + 13)),
  };
  const side = (wanted: number): ReturnType<typeof fitColourModel> =>
    fitColourModel(
      lab,
      indicesWhere(n, (p) => inDark[p] === wanted),
      2,
    );
  return { lab, cut: { label: maskOfShape(said), width, height, seeds, inside: side(1), outside: side(0) } };
}

/** The share of a shape's pixels that are the subject. */
function shareOf(label: Uint8Array, shape: Shape): number {
  const own = maskOfShape(shape);
  let [of, all] = [0, 0];
  for (let p = 0; p < n; p++) {
    all += own[p];
    of += own[p] & label[p];
  }
  return of / all;
}

/** The subject with its thin parts, and where slits may be. */
async function found(cut: RoughCut, lab: Features): Promise<{ label: Uint8Array; slits: Uint8Array }> {
  const { label, thin } = await withThinParts(cut, lab, context);
  return { label: maskOf(label, (v, p) => v !== 0 || thin?.parts[p] === 1), slits: thin?.slits ?? new Uint8Array(n) };
}

// A body below and one above, as of a cage, and what the cut has left out between them.
const bodies = any(box(20, 60, 100, 75), box(20, 5, 100, 12));
const bar = box(40, 12, 41, 60);
const thick = box(70, 30, 90, 50);
const apart = box(56, 25, 58, 45);

describe('thin parts', () => {
  test('a bar that leads to the subject is taken; a thing that does not, and a broad one, are left', async () => {
    const { lab, cut } = scene(any(bodies, bar, thick, apart), bodies);
    const { label } = await found(cut, lab);
    expect(shareOf(label, bar)).toBe(1);
    expect(shareOf(label, thick)).toBe(0);
    expect(shareOf(label, apart)).toBe(0);
    expect(shareOf(label, box(42, 13, 55, 59))).toBe(0);
    expect(shareOf(label, bodies)).toBe(1);
  });

  test('a bar with a gap of two pixels goes on, with one of six it does not', async () => {
    const upTo = (gap: number): Shape => any(box(40, 40, 41, 60), box(40, 15, 41, 40 - gap));
    for (const [gap, share] of [
      [2, 1],
      [6, 0],
    ]) {
      const { lab, cut } = scene(any(bodies, upTo(gap)), bodies);
      const { label } = await found(cut, lab);
      expect(shareOf(label, box(40, 15, 41, 40 - gap))).toBe(share);
    }
  });

  test('a slit is left undecided with its rim; a speck of the other colour and the middle of a broad hole are not', async () => {
    const slit = box(30, 62, 32, 75);
    const speck = box(50, 66, 52, 69);
    const hole = box(60, 62, 85, 74);
    const gaps = any(slit, speck, hole);
    const { lab, cut } = scene((x, y) => bodies(x, y) && !gaps(x, y), bodies);
    const { label, slits } = await found(cut, lab);
    expect(shareOf(slits, box(28, 62, 34, 75))).toBe(1);
    expect(shareOf(slits, box(36, 62, 58, 75))).toBe(0);
    expect(shareOf(slits, box(68, 66, 77, 70))).toBe(0);
    expect(shareOf(label, bodies)).toBe(1);
  });

  test('a pattern of short lines is left, though they hang together and lead to the subject', async () => {
    const treads = [0, 1, 2, 3, 4].map((k) => box(60 + 4 * k, 12 + 8 * k, 61 + 4 * k, 20 + 8 * k));
    const steps = [0, 1, 2, 3].map((k) => box(60 + 4 * k, 19 + 8 * k, 65 + 4 * k, 20 + 8 * k));
    const stairs = any(...treads, ...steps);
    const { lab, cut } = scene(any(bodies, stairs), bodies);
    expect(shareOf((await found(cut, lab)).label, stairs)).toBe(0);
  });

  test('what is marked stays as it is marked', async () => {
    const seeds = maskOfShape(bar).map((v) => (v ? markedOutside : 0));
    const { lab, cut } = scene(any(bodies, bar), bodies, seeds);
    expect(shareOf((await found(cut, lab)).label, bar)).toBe(0);
  });

  test('what is too short to be a line is left: texture is full of it', async () => {
    for (const [length, share] of [
      [24, 1],
      [16, 0],
    ]) {
      const spur = box(40, 60 - length, 41, 60);
      const { lab, cut } = scene(any(bodies, spur), bodies);
      expect(shareOf((await found(cut, lab)).label, spur)).toBe(share);
    }
  });

  test('where lines are as common beside the subject as among chance, none is taken', async () => {
    const random = seeded(5);
    const dots = Array.from({ length: n }, () => random() < 0.3);
    const { lab, cut } = scene((x, y) => bodies(x, y) || bar(x, y) || dots[y * width + x], bodies);
    expect([...(await found(cut, lab)).label]).toEqual([...cut.label]);
  });

  test('flanked is what has lower on both sides, in one of four directions', () => {
    const planes = fc.array(fc.integer({ min: -3, max: 3 }), { minLength: 12 * 9, maxLength: 12 * 9 });
    const ways = [
      [1, 0],
      [1, 1],
      [0, 1],
      [-1, 1],
    ];
    fc.assert(
      fc.property(planes, fc.constantFrom(1, -1), fc.integer({ min: 1, max: 3 }), fc.nat(4), (values, sign, steps, drop) => {
        const at = (x: number, y: number): number => (x < 0 || y < 0 || x > 11 || y > 8 ? NaN : sign * values[12 * y + x]);
        const found = bytesFrom(108, (arena, out) => {
          const given = arena.copiesIn(Float32Array.from(values), new Uint8Array(108).fill(1));
          arena.run.flanked(12, 9, ...given, sign, 0.5, 1, drop, steps, out);
        });
        const within = Array.from({ length: steps }, (_, k) => k + 1);
        const expected = maskOf(found, (_, p) => {
          const [x, y] = [p % 12, Math.floor(p / 12)];
          const end = Math.min(-1, at(x, y) - drop);
          const ends = ([dx, dy]: number[]): boolean => within.some((k) => at(x + k * dx, y + k * dy) < end);
          return at(x, y) > 0.5 && ways.some(([dx, dy]) => ends([dx, dy]) && ends([-dx, -dy]));
        });
        expect([...found]).toEqual([...expected]);
      }),
    );
  });

  test('a path opening keeps what lies on a long path, over gaps, and nothing else', () => {
    const [w, h] = [9, 7];
    const masks = fc.array(fc.boolean(), { minLength: w * h, maxLength: w * h });
    const ways = [
      [0, 1],
      [1, 0],
      [1, 1],
      [-1, 1],
    ];
    fc.assert(
      fc.property(masks, fc.integer({ min: 2, max: 8 }), fc.integer({ min: 0, max: 2 }), (set, least, gap) => {
        const found = bytesFrom(w * h, (arena, out) =>
          arena.run.onPaths(w, h, arena.copyIn(Uint8Array.from(set, Number)), least, gap, arena.alloc(16 * w * h), out),
        );
        const has = (x: number, y: number): boolean => x >= 0 && y >= 0 && x < w && y < h && set[y * w + x];
        /** Pixels of the longest path that leaves a pixel one way, what it goes over counted: after a step to a side the next is straight. */
        const beyond = (x: number, y: number, [dx, dy]: number[], turned: boolean): number => {
          for (let k = 1; k <= 1 + gap; k++) {
            // A step to a side is along the row where the path goes down, down the column where it goes along a row.
            const at = (o: number): [number, number] => (dy === 0 ? [x + k * dx, y + o] : [x + k * dx + o, y + k * dy]);
            const next = [-1, 0, 1].filter((o) => has(...at(o)));
            if (next.length > 0)
              return Math.max(0, ...next.filter((o) => o === 0 || !turned).map((o) => k + beyond(...at(o), [dx, dy], o !== 0)));
          }
          return 0;
        };
        const expected = set.map((v, p) => {
          const [x, y] = [p % w, Math.floor(p / w)];
          const through = (d: number[]): number => 1 + beyond(x, y, d, false) + beyond(x, y, [-d[0], -d[1]], false);
          return v && ways.some((d) => through(d) >= least) ? 1 : 0;
        });
        expect([...found]).toEqual(expected);
      }),
    );
  });

  test('a cage is cut with its bars by a stroke on its floor and one beside it', async () => {
    const bars = (x: number, y: number): boolean => y >= 40 && y < 200 && x >= 60 && x < 260 && (x - 60) % 20 < 2;
    const body = (x: number, y: number): boolean => x >= 55 && x < 267 && ((y >= 200 && y < 230) || (y >= 30 && y < 40));
    const [w, h] = [320, 250];
    const shot = pictureFrom(w, h, (x, y) => {
      if (bars(x, y) || body(x, y)) return [0.12, 0.08, 0.05];
      return [0.5 + 0.1 * Math.sin(x / 40), 0.55, 0.4 + (0.2 * y) / h];
    });
    const stroke = (kind: 'inside' | 'outside', points: [number, number][]) => ({ kind, radius: 4, points });
    const marks = [
      stroke('inside', [
        [80, 215],
        [240, 215],
      ]),
      stroke('inside', [
        [80, 35],
        [240, 35],
      ]),
      stroke('outside', [
        [25, 30],
        [25, 220],
      ]),
    ];
    const { matte: found } = await matte(shot, { marks, trim: noTrim }, context);
    let [barsSeen, barsAll, gapsSeen, gapsAll] = [0, 0, 0, 0];
    for (let y = 42; y < 198; y++) {
      for (let x = 60; x < 260; x++) {
        const v = found.data[y * w + x];
        if (bars(x, y)) {
          barsAll++;
          if (v > 0.5) barsSeen++;
        } else if ((x - 60) % 20 > 3 && (x - 60) % 20 < 18) {
          gapsAll++;
          if (v > 0.5) gapsSeen++;
        }
      }
    }
    expect(barsSeen / barsAll).toBeGreaterThan(0.95);
    expect(gapsSeen / gapsAll).toBeLessThan(0.02);
  });
});

describe('a convex hull', () => {
  test('is what lies between pixels of the mask, and nothing else', () => {
    const masks = fc.array(fc.tuple(fc.nat(11), fc.nat(8)), { minLength: 0, maxLength: 6 });
    fc.assert(
      fc.property(masks, (points) => {
        const mask = new Uint8Array(108);
        for (const [x, y] of points) mask[12 * y + x] = 1;
        const hull = convexHull(mask, 12, 9);
        const cross = (o: number[], p: number[], q: number[]): number => (p[0] - o[0]) * (q[1] - o[1]) - (p[1] - o[1]) * (q[0] - o[0]);
        // A point lies in the hull when it lies in a triangle of three of them.
        const inTriangle = (p: number[], a: number[], b: number[], c: number[]): boolean => {
          const turns = [cross(a, b, p), cross(b, c, p), cross(c, a, p)];
          const within = (i: number): boolean => p[i] >= Math.min(a[i], b[i], c[i]) && p[i] <= Math.max(a[i], b[i], c[i]);
          return within(0) && within(1) && (turns.every((t) => t >= 0) || turns.every((t) => t <= 0));
        };
        const expected = maskOf(hull, (_, i) => {
          const p = [i % 12, Math.floor(i / 12)];
          return points.some((a) => points.some((b) => points.some((c) => inTriangle(p, a, b, c))));
        });
        expect([...hull]).toEqual([...expected]);
      }),
    );
  });
});
