import fc from 'fast-check';
import { defaultContext } from '../runtime/context';
import { maskOf } from '../raster/mask';
import type { Plane } from '../raster/plane';

import { seeded } from '../raster/random';
import { ballScene, largestDifference, pictureFrom, planeFrom, softDisc, sum } from '../testing/scenes';
import { solveClosedForm } from './opacity/closedForm';
import { fitColourModel, unlikeliness, type ColourModel, type Features } from './cut/colourModel';
import { edgeColour, type Unmixed } from './foreground/edgeColour';
import { unmix } from './foreground/unmix';
import { markedEdge, markedInside, markedOutside, rasterMarks, unmarked, type Mark } from './cut/marks';
import { matte } from './matte';
import { minimumCut, type PixelGraph } from './cut/minimumCut';
import { noTrim, trimMatte } from './edit/trim';
import { surelyIn, surelyOut, undecided } from './band/trimap';

const context = defaultContext();
/** Steps to the eight neighbours, clockwise from the right. */
const stepX = [1, 1, 0, -1, -1, -1, 0, 1];
const stepY = [0, 1, 1, 1, 0, -1, -1, -1];

describe('marks', () => {
  test('cover their tip and nothing else; later ones win', () => {
    const marks: Mark[] = [
      {
        kind: 'inside',
        radius: 4,
        points: [
          [5, 10],
          [25, 10],
        ],
      },
      { kind: 'outside', radius: 2, points: [[15, 10]] },
    ];
    const seeds = rasterMarks(marks, 30, 20, 1);
    expect(seeds[10 * 30 + 8]).toBe(markedInside);
    expect(seeds[10 * 30 + 15]).toBe(markedOutside);
    expect(seeds[16 * 30 + 15]).toBe(unmarked);
    expect(seeds.filter((c) => c === markedInside).length).toBeGreaterThan(150);
  });

  test('a fine mark still covers something when the picture is reduced', () => {
    expect(rasterMarks([{ kind: 'edge', radius: 1, points: [[100, 100]] }], 20, 20, 0.1).includes(markedEdge)).toBe(true);
  });

  test('pressure narrows the tip', () => {
    const area = (pressure: number) => sum(rasterMarks([{ kind: 'inside', radius: 8, points: [[20, 20, pressure]] }], 40, 40, 1));
    expect(area(0.5) / area(1)).toBeCloseTo(0.25, 1);
  });
});

/** The cheapest separation by trying all of them. */
function bestByTrial(graph: PixelGraph): number {
  let best = Infinity;
  for (let choice = 0; choice < 1 << graph.count; choice++)
    best = Math.min(
      best,
      costOf(graph, (p) => (choice >> p) & 1),
    );
  return best;
}

function costOf(graph: PixelGraph, side: (p: number) => number): number {
  let cost = 0;
  for (let p = 0; p < graph.count; p++) {
    const unary = graph.unary[p];
    if (side(p) === 1 && unary < 0) cost -= unary;
    if (side(p) === 0 && unary > 0) cost += unary;
    for (let d = 0; d < 4; d++) {
      const q = graph.beside[p * 8 + d];
      if (q >= 0 && side(p) !== side(q)) cost += graph.pairwise[p * 8 + d];
    }
  }
  return cost;
}

function gridGraph(width: number, height: number, random: () => number): PixelGraph {
  const count = width * height;
  const graph = { count, beside: new Int32Array(count * 8).fill(-1), pairwise: new Int32Array(count * 8), unary: new Int32Array(count) };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      graph.unary[p] = Math.floor(random() * 41) - 20;
      for (let d = 0; d < 4; d++) {
        const [nx, ny] = [x + stepX[d], y + stepY[d]];
        if (nx < 0 || nx >= width || ny < 0 || ny >= height) continue;
        const q = ny * width + nx;
        const cost = Math.floor(random() * 12);
        graph.beside[p * 8 + d] = q;
        graph.beside[q * 8 + (d ^ 4)] = p;
        graph.pairwise[p * 8 + d] = graph.pairwise[q * 8 + (d ^ 4)] = cost;
      }
    }
  }
  return graph;
}

test('the minimum cut costs as little as the best of all separations', async () => {
  for (let seed = 0; seed < 60; seed++) {
    const random = seeded(seed);
    const [width, height] = [2 + (seed % 3), 2 + (seed % 2)];
    const graph = gridGraph(width, height, random);
    const copy = { ...graph, pairwise: graph.pairwise.slice(), unary: graph.unary.slice() };
    const label = await minimumCut(graph, context);
    expect(costOf(copy, (p) => label[p])).toBe(bestByTrial(copy));
  }
});

function unlikely(model: ColourModel, { l, a, b, busy }: Features, p: number): number {
  return unlikeliness(model, l[p], a[p], b[p], busy ? busy[p] : 0, Infinity);
}

describe('colour models', () => {
  test('a model finds its own colours likelier than another’s', () => {
    const p = pictureFrom(40, 40, (x) => (x < 20 ? [0.6, 0.1, 0.1] : [0.1, 0.1, 0.6]));
    const features = { width: 40, height: 40, l: p.r, a: p.g, b: p.b };
    const half = (left: boolean) => Array.from({ length: 1600 }, (_, i) => i).filter((i) => i % 40 < 20 === left);
    const red = fitColourModel(features, half(true), 3);
    const blue = fitColourModel(features, half(false), 3);
    expect(unlikely(red, features, 5)).toBeLessThan(unlikely(blue, features, 5) - 100);
    expect(unlikely(blue, features, 35)).toBeLessThan(unlikely(red, features, 35) - 100);
  });

  test('a few pixels more change what a model finds likely only a little', () => {
    const random = seeded(3);
    const tones = Float32Array.from({ length: 40_000 }, (_, i) => [0.2, 0.35, 0.5, 0.8][i % 4] + 0.1 * (random() + random() - 1));
    const features = { width: 200, height: 200, l: tones, a: tones.map((v) => 0.1 - 0.1 * v), b: tones.map(() => 0.04 * (random() - 0.5)) };
    const pixels = Array.from({ length: 30_000 }, (_, i) => i);
    const before = fitColourModel(features, pixels, 6);
    let [changed, spread] = [0, 0];
    for (const extra of [5, 40, 200]) {
      const after = fitColourModel(features, [...pixels, ...Array.from({ length: extra }, (_, i) => 30_000 + i)], 6);
      for (let p = 35_000; p < 36_000; p++) {
        changed += Math.abs(unlikely(after, features, p) - unlikely(before, features, p)) / 3000;
        spread += Math.abs(unlikely(before, features, p) - unlikely(before, features, p + 1)) / 3000;
      }
    }
    expect(changed).toBeLessThan(0.05 * spread);
  });

  test('colours that lie apart get parts of their own, the same ones each time', () => {
    const features = { width: 4, height: 300, l: new Float32Array(1200), a: new Float32Array(1200), b: new Float32Array(1200) };
    for (let p = 0; p < 1200; p++) [features.l[p], features.a[p]] = [[0.1, 0], [0.1, 0.2], [0.7, 0], [0.9, -0.2]][p % 4]; // prettier-ignore
    const all = Array.from({ length: 1200 }, (_, i) => i);
    const model = fitColourModel(features, all, 6);
    // Four colours: no more parts than that, each certain of its own.
    expect(model.parts.length).toBe(4 * 15);
    const [a, b, c, d] = [0, 1, 2, 3].map((p) => unlikely(model, features, p));
    expect(Math.max(a, b, c, d) - Math.min(a, b, c, d)).toBeLessThan(1e-6);
    expect(fitColourModel(features, all, 6).parts).toEqual(model.parts);
  });

  test('no pixels give an empty model that finds everything unlikely', () => {
    const features = { width: 1, height: 1, l: new Float32Array(1), a: new Float32Array(1), b: new Float32Array(1) };
    expect(unlikely(fitColourModel(features, [], 5), features, 0)).toBe(Infinity);
  });
});

/** Known in the middle and far outside, open between. */
function openRim(truth: Plane): Uint8Array {
  return Uint8Array.from(truth.data, (a) => (a >= 1 ? surelyIn : a <= 0 ? surelyOut : undecided));
}

describe('closed-form opacity', () => {
  const { shot, matte: truth } = ballScene(96, 80, 10);

  test('recovers a soft rim of two colours', async () => {
    const guess = { opacity: planeFrom(96, 80, () => 0.5), trust: planeFrom(96, 80, () => 0) };
    const solved = await solveClosedForm(shot, openRim(truth), guess, { rounds: 300 }, context);
    const errors = solved.data.map((a, i) => Math.abs(a - truth.data[i]));
    expect(sum(errors) / openRim(truth).filter((s) => s === undecided).length).toBeLessThan(0.03);
  });

  test('known pixels are never touched', async () => {
    const trimap = openRim(truth);
    const guess = { opacity: planeFrom(96, 80, () => 0.3), trust: planeFrom(96, 80, () => 1) };
    const solved = await solveClosedForm(shot, trimap, guess, {}, context);
    expect(solved.data.filter((a, i) => trimap[i] !== undecided && a !== (trimap[i] === surelyIn ? 1 : 0))).toHaveLength(0);
  });
});

describe('edge colour', () => {
  const { shot, matte: truth, front } = ballScene(120, 90, 8);

  test('removes most of the old background from half-covered pixels', async () => {
    const found = (await edgeColour(shot, truth, context)).subject;
    let [left, before] = [0, 0];
    truth.data.forEach((a, i) => {
      if (a < 0.2 || a > 0.8) return;
      left += Math.abs(found.r[i] - front.r[i]) + Math.abs(found.g[i] - front.g[i]);
      before += Math.abs(shot.r[i] - front.r[i]) + Math.abs(shot.g[i] - front.g[i]);
    });
    expect(left / before).toBeLessThan(0.25);
  });

  test('opaque pixels keep the shot’s colour to the bit, clear ones behind it', async () => {
    const { subject, behind } = await edgeColour(shot, truth, context);
    expect(subject.g.filter((v, i) => truth.data[i] >= 1 && v !== shot.g[i])).toHaveLength(0);
    expect(behind.g.filter((v, i) => truth.data[i] <= 0 && v !== shot.g[i])).toHaveLength(0);
  });

  test('opacity that is too low leads beyond the subject’s colour, less so when it is trusted less', async () => {
    const low: Plane = { ...truth, data: truth.data.map((a) => (a >= 1 ? a : 0.6 * a)) };
    const error = ({ subject }: Unmixed): number =>
      truth.data.reduce((sum, a, i) => sum + (a > 0.2 && a < 0.9 ? Math.abs(subject.g[i] - front.g[i]) : 0), 0);
    const whole = await edgeColour(shot, low, context);
    const part = await edgeColour(shot, low, context, 0.75);
    expect(error(part)).toBeLessThan(0.9 * error(whole));
    // What is behind, and what is wholly opaque or clear, does not depend on it.
    expect(part.behind).toEqual(whole.behind);
    expect(part.subject.g.filter((v, i) => (low.data[i] >= 1 || low.data[i] <= 0) && v !== whole.subject.g[i])).toHaveLength(0);
    // Not trusted at all, the shot's colour stays.
    const none = await edgeColour(shot, low, context, 0);
    expect(
      largestDifference(
        none.subject.g,
        low.data.map((a, i) => (a > 0 ? shot.g[i] : none.subject.g[i])),
      ),
    ).toBeLessThan(1e-6);
  });

  test('a matte solved from marks is trusted less than one that is given', async () => {
    const given = await unmix(shot, { matte: truth, solved: 0 }, 1, context);
    const solved = await unmix(
      shot,
      { matte: truth, solved: 0.1, band: { ...truth, data: maskOf(truth.data, (a) => a > 0 && a < 1) } },
      1,
      context,
    );
    const moved = (u: Unmixed): number =>
      truth.data.reduce((sum, a, i) => sum + (a > 0 && a < 1 ? Math.abs(u.subject.r[i] - shot.r[i]) : 0), 0);
    expect(moved(solved) / moved(given)).toBeGreaterThan(0.3);
    expect(moved(solved) / moved(given)).toBeLessThan(0.75);
    // Less so the thinner the cover.
    const thin = (u: Unmixed, from: number, to: number): number =>
      truth.data.reduce((sum, a, i) => sum + (a > from && a < to ? Math.abs(u.subject.r[i] - shot.r[i]) : 0), 0);
    expect(thin(solved, 0.05, 0.3) / thin(given, 0.05, 0.3)).toBeLessThan(0.8 * (thin(solved, 0.7, 0.95) / thin(given, 0.7, 0.95)));
  });

  test('the two sides mixed by opacity are the shot again', async () => {
    const { subject, behind } = await edgeColour(shot, truth, context);
    const mixed = truth.data.map((a, i) => a * subject.r[i] + (1 - a) * behind.r[i]);
    expect(largestDifference(mixed, shot.r)).toBeLessThan(0.02);
  });

  test('the subject alone is the same to the bit, with nothing held of what is behind', async () => {
    const both = await edgeColour(shot, truth, context, 0.75, 0.5);
    const { subject, behind } = await edgeColour(shot, truth, context, 0.75, 0.5, 'subject');
    expect(subject).toEqual(both.subject);
    expect([behind.r, behind.g, behind.b].map((c) => c.length)).toEqual([0, 0, 0]);
  });
});

describe('trim', () => {
  const disc = softDisc(80, 80, 40, 40, 20, 4);
  const radius = (m: Plane) => Math.sqrt(sum(m.data) / Math.PI);

  test('nothing asked for returns the very matte', () => {
    expect(trimMatte(disc, noTrim, 1)).toBe(disc);
  });

  test.each([-2.5, -0.4, 0.4, 1.5])('a shift of %d px moves the edge by that much', (shift) => {
    expect(radius(trimMatte(disc, { ...noTrim, shift }, 1)) - radius(disc)).toBeCloseTo(shift, 0.5 > Math.abs(shift) ? 1 : 0);
  });

  test('specks and pinholes go, larger parts stay', () => {
    const dirty = { ...disc, data: disc.data.slice() };
    dirty.data[5 * 80 + 5] = 1;
    dirty.data[40 * 80 + 40] = 0;
    const clean = trimMatte(dirty, { ...noTrim, specks: 4 }, 1);
    expect(clean.data[5 * 80 + 5]).toBe(0);
    expect(clean.data[40 * 80 + 40]).toBe(1);
    expect(radius(clean)).toBeCloseTo(radius(disc), 1);
  });

  test('where nothing is small enough the plane itself comes back, and a given one is never changed', () => {
    expect(trimMatte(disc, { ...noTrim, specks: 4 }, 1)).toBe(disc);
    const dirty = { ...disc, data: disc.data.slice() };
    dirty.data[5 * 80 + 5] = 1;
    const before = dirty.data.slice();
    trimMatte(dirty, { ...noTrim, specks: 4 }, 1);
    expect(dirty.data).toEqual(before);
  });

  test('firmness steepens around one half and keeps the ends', () => {
    const firm = trimMatte(disc, { ...noTrim, firmness: 100 }, 1);
    expect(
      largestDifference(
        firm.data.filter((_, i) => disc.data[i] === 1),
        disc.data.filter((a) => a === 1),
      ),
    ).toBe(0);
    const partial = (m: Plane) => m.data.filter((a) => a > 0 && a < 1).length;
    expect(partial(firm)).toBeLessThan(partial(disc) / 2);
  });
});

describe('matte from marks', () => {
  const { shot, matte: truth } = ballScene(160, 120, 5);
  const marks: Mark[] = [
    {
      kind: 'inside',
      radius: 6,
      points: [
        [70, 60],
        [90, 60],
      ],
    },
    {
      kind: 'outside',
      radius: 6,
      points: [
        [10, 10],
        [150, 10],
      ],
    },
  ];

  test('finds a ball from two strokes', async () => {
    const product = await matte(shot, { marks, trim: noTrim }, context);
    const errors = product.matte.data.map((a, i) => (a - truth.data[i]) ** 2);
    expect(sum(errors) / errors.length).toBeLessThan(0.005);
    expect(product.note).toBeUndefined();
  });

  test('the same marks give the same bytes', async () => {
    const [a, b] = [await matte(shot, { marks, trim: noTrim }, context), await matte(shot, { marks, trim: noTrim }, context)];
    expect(largestDifference(a.matte.data, b.matte.data)).toBe(0);
  });

  test('marks are obeyed', async () => {
    const odd: Mark[] = [...marks, { kind: 'outside', radius: 5, points: [[80, 45]] }];
    const product = await matte(shot, { marks: odd, trim: noTrim }, context);
    expect(product.matte.data[45 * 160 + 80]).toBe(0);
    expect(product.matte.data[60 * 160 + 80]).toBe(1);
  });

  test('without marks nothing is subject, and a sentence says so', async () => {
    const product = await matte(shot, { marks: [], trim: noTrim }, context);
    expect(sum(product.matte.data)).toBe(0);
    expect(product.note).toMatch(/Nothing is marked/);
    expect((await matte(shot, { marks: [marks[1]], trim: noTrim }, context)).note).toMatch(/inside mark/);
  });

  test('a picture’s own opacity is its matte until something is marked', async () => {
    const cut = { ...shot, a: truth.data };
    expect((await matte(cut, { marks: [], trim: noTrim }, context)).matte.data).toBe(truth.data);
  });

  test('is defined, without NaN, for any marks on any small picture', async () => {
    const mark = fc.record({
      kind: fc.constantFrom('inside' as const, 'outside' as const, 'edge' as const),
      radius: fc.double({ min: 0.1, max: 60, noNaN: true }),
      points: fc.array(fc.tuple(fc.double({ min: -50, max: 80, noNaN: true }), fc.double({ min: -50, max: 80, noNaN: true })), {
        minLength: 1,
        maxLength: 4,
      }),
    });
    const sizes = fc.tuple(fc.integer({ min: 1, max: 24 }), fc.integer({ min: 1, max: 24 }));
    await fc.assert(
      fc.asyncProperty(sizes, fc.array(mark, { maxLength: 4 }), fc.boolean(), async ([w, h], some, flat) => {
        const p = flat ? pictureFrom(w, h, () => [0.2, 0.2, 0.2]) : pictureFrom(w, h, (x, y) => [x / w, y / h, 0.5]);
        const product = await matte(p, { marks: some, trim: noTrim }, context);
        expect(product.matte.data.every((a) => a >= 0 && a <= 1)).toBe(true);
        const coloured = await edgeColour(p, product.matte, context);
        expect(coloured.subject.g.every(Number.isFinite)).toBe(true);
      }),
      { numRuns: 40 },
    );
  });

  test('stops when it is told to', async () => {
    const controller = new AbortController();
    controller.abort();
    await expect(matte(shot, { marks, trim: noTrim }, defaultContext({ signal: controller.signal }))).rejects.toThrow(/abort/i);
  });
});
