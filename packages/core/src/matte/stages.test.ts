import { encodeSrgb } from '../colour/srgb';
import { oklabPlanes } from '../colour/oklab';
import { defaultContext } from '../runtime/context';
import type { Picture, Plane } from '../raster/plane';
import { resizePicture } from '../raster/resize';
import { seeded } from '../raster/random';
import { ballScene, largestDifference, pictureFrom, softDisc, sum } from '../testing/scenes';
import { carryUp } from './band/carryUp';
import { guessFromPairs } from './opacity/colourPairs';
import { geodesicDistance } from '../colour/geodesic';
import type { Mark } from './cut/marks';
import { fringeReach, matte, matteGround, matteOn } from './matte';
import { borderOf, enlarge, roughCut } from './cut/roughCut';
import { noTrim } from './edit/trim';
import { surelyIn, surelyOut, undecided, trimapOf } from './band/trimap';

const context = defaultContext();

/** A picture in encoded light that mixes two colours by a matte. */
function mixed(opacity: Plane, front: readonly number[], back: readonly number[]): Picture {
  const at = (k: number) => opacity.data.map((a) => a * front[k] + (1 - a) * back[k]);
  return { width: opacity.width, height: opacity.height, r: at(0), g: at(1), b: at(2) };
}

test('fringes are looked for as far out on a photograph of any size, by what it shows', () => {
  const level = { width: 900, height: 600 };
  expect(fringeReach(level, 0.5)).toBe(10.5);
  expect(fringeReach(level, 0.15)).toBe(10.5);
  expect(fringeReach({ width: 600, height: 400 }, 1)).toBe(21);
});

describe('opacity guessed from colour pairs', () => {
  const truth = softDisc(80, 60, 40, 30, 18, 10);
  const trimap = Uint8Array.from(truth.data, (a) => (a <= 0 ? surelyOut : a >= 1 ? surelyIn : undecided));

  test('is exact for two plain colours, and trusted', async () => {
    const guess = await guessFromPairs(mixed(truth, [0.8, 0.3, 0.2], [0.1, 0.4, 0.6]), trimap, context);
    for (let p = 0; p < trimap.length; p++) {
      if (trimap[p] !== undecided) continue;
      expect(guess.opacity.data[p]).toBeCloseTo(truth.data[p], 4);
      expect(guess.trust.data[p]).toBeGreaterThan(0.9);
    }
  });

  test('is not trusted where both sides look alike', async () => {
    const guess = await guessFromPairs(mixed(truth, [0.3, 0.3, 0.3], [0.31, 0.3, 0.3]), trimap, context);
    expect(Math.max(...guess.trust.data)).toBeLessThan(0.2);
  });

  test('leaves alone what is decided, and does not stumble where nothing is known', async () => {
    const light = mixed(truth, [1, 0, 0], [0, 0, 1]);
    const guess = await guessFromPairs(light, trimap, context);
    trimap.forEach((s, p) => s !== undecided && expect(guess.trust.data[p]).toBe(0));
    const open = await guessFromPairs(light, new Uint8Array(trimap.length).fill(undecided), context);
    expect(sum(open.trust.data)).toBe(0);
  });
});

describe('carrying a small matte up', () => {
  const large = softDisc(160, 120, 80, 60, 36, 3);
  const shot = pictureFrom(160, 120, (x, y) => {
    const a = large.data[y * 160 + x];
    return [0.05 + 0.6 * a, 0.3 - 0.2 * a, 0.4 - 0.3 * a];
  });
  const reduced = resizePicture(shot, 80, 60);
  const light: Picture = { ...reduced, r: reduced.r.map(encodeSrgb), g: reduced.g.map(encodeSrgb), b: reduced.b.map(encodeSrgb) };
  const small: Plane = { width: 80, height: 60, data: resizePicture({ ...shot, r: large.data, g: large.data, b: large.data }, 80, 60).r };
  const open = Uint8Array.from(small.data, (a) => (a > 0 && a < 1 ? 1 : 0));

  test('brings the large picture’s edge back', async () => {
    const found = await carryUp(light, shot, small, open, context);
    const enlarged = resizePicture({ width: 80, height: 60, r: small.data, g: small.data, b: small.data }, 160, 120).r;
    const error = (data: Float32Array): number => sum(data.map((v, i) => Math.abs(v - large.data[i])));
    expect(error(found.data)).toBeLessThan(0.6 * error(enlarged));
    expect(found.data.every((v) => v >= 0 && v <= 1)).toBe(true);
  });

  test('where nothing was solved the matte is simply enlarged', async () => {
    const found = await carryUp(light, shot, small, new Uint8Array(open.length), context);
    for (let p = 0; p < found.data.length; p++) {
      const [x, y] = [p % 160, Math.floor(p / 160)];
      const [sx, sy] = [Math.max(0, Math.floor((x + 0.5) / 2 - 0.5)), Math.max(0, Math.floor((y + 0.5) / 2 - 0.5))];
      expect(found.data[p]).toBe(small.data[sy * 80 + sx]);
    }
  });
});

describe('the rough cut', () => {
  const { shot, matte: truth } = ballScene(120, 90, 2);
  const marks: Mark[] = [
    {
      kind: 'inside',
      radius: 5,
      points: [
        [55, 45],
        [65, 45],
      ],
    },
    {
      kind: 'outside',
      radius: 4,
      points: [
        [10, 10],
        [110, 10],
      ],
    },
  ];
  const lab = oklabPlanes(shot);

  test('separates the ball, and its narrow band keeps to it on a larger picture', async () => {
    const once = await roughCut([lab], [1], marks, context);
    const wrong = (label: Uint8Array, t: Plane): number => label.reduce((n, l, p) => n + (Math.abs(l - t.data[p]) > 0.5 ? 1 : 0), 0);
    expect(wrong(once.label, truth)).toBeLessThan(0.015 * truth.data.length);
    const half = resizePicture(shot, 60, 45);
    const twice = await roughCut([oklabPlanes(half), lab], [0.5, 1], marks, context);
    expect(twice.width).toBe(120);
    expect(wrong(twice.label, truth)).toBeLessThan(0.015 * truth.data.length);
  });

  test('an enlarged label keeps its area and its sides', () => {
    const label = Uint8Array.from(softDisc(40, 30, 20, 15, 9, 0.01).data, (v) => (v > 0.5 ? 1 : 0));
    const large = enlarge({ label, width: 40, height: 30 }, 120, 90);
    expect(sum(large) / 9).toBeCloseTo(sum(label), -1.3);
    expect(large[45 * 120 + 60]).toBe(1);
    expect(large[0]).toBe(0);
  });

  test('the border has pixels of both sides', () => {
    const label = Uint8Array.from({ length: 36 }, (_, p) => (p % 6 < 3 ? 1 : 0));
    expect(Array.from(borderOf(label, 6, 6).subarray(0, 6))).toEqual([0, 0, 1, 1, 0, 0]);
  });
});

describe('the undecided band', () => {
  const { shot } = ballScene(120, 90, 2);
  const lab = oklabPlanes(shot);
  const marks: Mark[] = [
    { kind: 'inside', radius: 6, points: [[60, 45]] },
    { kind: 'outside', radius: 6, points: [[10, 10]] },
    {
      kind: 'edge',
      radius: 6,
      points: [
        [60, 14],
        [90, 14],
      ],
    },
  ];

  test('is narrow along a crisp border, wide under edge marks, and never under hard ones', async () => {
    const cut = await roughCut([lab], [1], marks, context);
    const trimap = await trimapOf(cut, lab, 8, context);
    const at = (x: number, y: number): number => trimap[y * 120 + x];
    expect(at(75, 14)).toBe(undecided);
    expect(at(60, 45)).toBe(surelyIn);
    expect(at(10, 10)).toBe(surelyOut);
    let open = 0;
    for (let x = 60; x < 120; x++) if (at(x, 45) === undecided) open++;
    expect(open).toBeGreaterThan(1);
    expect(open).toBeLessThan(10);
  });
});

describe('the way over the picture', () => {
  const flat = { width: 30, height: 20, l: new Float32Array(600), a: new Float32Array(600), b: new Float32Array(600) };
  const from = (x: number, y: number): Float32Array => {
    const d = new Float32Array(600).fill(Infinity);
    d[y * 30 + x] = 0;
    return d;
  };

  test('over an even ground grows with the distance', () => {
    const d = geodesicDistance(flat, from(2, 10), new Float32Array(600));
    for (let x = 3; x < 30; x++) expect(d[300 + x]).toBeGreaterThan(d[300 + x - 1]);
  });

  test('a step in lightness or a toll makes it longer', () => {
    const wall = { ...flat, l: Float32Array.from({ length: 600 }, (_, p) => (p % 30 >= 15 ? 1 : 0)) };
    const even = geodesicDistance(flat, from(2, 10), new Float32Array(600));
    const stepped = geodesicDistance(wall, from(2, 10), new Float32Array(600));
    expect(stepped[300 + 20]).toBeGreaterThan(even[300 + 20] + 0.5);
    expect(stepped[300 + 10]).toBeCloseTo(even[300 + 10], 5);
    const toll = Float32Array.from({ length: 600 }, (_, p) => (p % 30 === 15 ? 2 : 0));
    expect(geodesicDistance(flat, from(2, 10), toll)[300 + 20]).toBeGreaterThan(even[300 + 20] + 1);
  });

  test('by squares an edge costs far more than shading of the same height', () => {
    const ramp = { ...flat, l: Float32Array.from({ length: 600 }, (_, p) => ((p % 30) - 2) / 50) };
    const edge = { ...flat, l: Float32Array.from({ length: 600 }, (_, p) => (p % 30 < 15 ? 0 : 0.5)) };
    const going = { flat: 0.001, edges: 60 };
    const across = (lab: typeof flat): number => geodesicDistance(lab, from(2, 10), new Float32Array(600), going)[300 + 27];
    expect(across(edge)).toBeCloseTo(60 * 0.25 + 0.025, 3);
    expect(across(ramp)).toBeLessThan(0.1 * across(edge));
  });
});

test('a prepared shot gives the same mattes, mark after mark', async () => {
  const { shot } = ballScene(140, 100, 6);
  const ground = await matteGround(shot, context);
  const marks: Mark[] = [{ kind: 'inside', radius: 6, points: [[70, 50]] }];
  for (const more of [marks, [...marks, { kind: 'outside', radius: 5, points: [[12, 12]] } as Mark]]) {
    const prepared = await matteOn({ ground: ground }, { marks: more, trim: noTrim }, context);
    const fresh = await matte(shot, { marks: more, trim: noTrim }, context);
    expect(largestDifference(prepared.matte.data, fresh.matte.data)).toBe(0);
  }
});

test('noise alone is not taken for a subject', async () => {
  for (const seed of [1, 2, 3, 4, 5]) {
    const random = seeded(seed);
    const noise = pictureFrom(60, 40, () => [random(), random(), random()]);
    const product = await matte(noise, { marks: [{ kind: 'inside', radius: 4, points: [[30, 20]] }], trim: noTrim }, context);
    const away = [...product.matte.data].filter((_, p) => Math.hypot((p % 60) - 30, Math.floor(p / 60) - 20) > 12);
    expect(away.filter((v) => v > 0.5).length / away.length).toBeLessThan(0.05);
    expect(product.matte.data[0]).toBeLessThan(0.15);
  }
});

test('two marks tell wool from boards of the same colours', async () => {
  const random = seeded(17);
  const disc = softDisc(300, 200, 150, 100, 60, 1);
  const shot = pictureFrom(300, 200, (x, y) => {
    const boards = 0.25 + 0.12 * Math.sin(x * 1.1);
    const wool = 0.1 + 0.3 * random();
    const v = disc.data[y * 300 + x] > 0.5 ? wool : boards;
    return [v, 0.8 * v, 0.6 * v];
  });
  const marks: Mark[] = [
    { kind: 'inside', radius: 6, points: [[130, 100], [170, 100]] }, // prettier-ignore
    { kind: 'outside', radius: 6, points: [[20, 20], [280, 20]] }, // prettier-ignore
  ];
  const ground = await matteGround(shot, context);
  const found = (await matteOn({ ground }, { marks, trim: noTrim }, context)).matte;
  const shared = (plane: Plane): number => {
    let [both, any] = [0, 0];
    plane.data.forEach((v, p) => {
      both += v > 0.5 && disc.data[p] > 0.5 ? 1 : 0;
      any += v > 0.5 || disc.data[p] > 0.5 ? 1 : 0;
    });
    return both / any;
  };
  expect(shared(ground.last.solved!.matte)).toBeGreaterThan(0.85);
  // The darkest single pixels of such a noise look like gaps between strands.
  expect(shared(found)).toBeGreaterThan(0.83);
});
