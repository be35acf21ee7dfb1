import { cielabOf } from '../../colour/cielab';
import { premultipliedOver, straightened } from '../../colour/premultiplied';
import { oklabOf, oklabPlanes } from '../../colour/oklab';
import { hexOf, linearOfHex, type Samples } from '../../colour/srgb';
import { defaultContext } from '../../runtime/context';
import { makePicture, type Picture, type Plane } from '../../raster/plane';
import { seeded } from '../../raster/random';
import { resizePlane } from '../../raster/resize';
import { ballScene, largestDifference, pictureFrom, planeFrom, softDisc, sum } from '../../testing/scenes';
import { markedInside, markedOutside, type Mark } from './marks';
import { matte, matteGround, defaultScreen } from '../matte';
import { busyness } from './busyness';
import { findSubject } from './findSubject';
import { screenKey } from '../key/screen';
import { findScreen } from '../key/screenColour';
import { contoursOf, type Contours } from './contours';
import { contrastSteepness, WholeGraph } from './wholeGraph';
import { noTrim } from '../edit/trim';
import { ownBalance, putLight, takeSpill, unmix } from '../foreground/unmix';

const context = defaultContext();
const meanError = (a: Plane, b: Plane): number => sum(a.data.map((v, p) => Math.abs(v - b.data[p]))) / a.data.length;

describe('a whole graph cut again and again', () => {
  const { shot } = ballScene(60, 44, 3);
  const lab = oklabPlanes(shot);
  const n = 60 * 44;
  let contours: Contours;
  beforeAll(async () => (contours = await contoursOf(lab, context)));
  const wholeOf = (): WholeGraph => new WholeGraph(lab, contrastSteepness(lab), contours);
  const seeds = (seed: number): Uint8Array => {
    const random = seeded(seed);
    const out = new Uint8Array(n);
    for (let k = 0; k < 12; k++) out[Math.floor(random() * n)] = k % 2 ? markedInside : markedOutside;
    return out;
  };
  const noise = (seed: number, size: number): Float32Array => {
    const random = seeded(seed);
    return new Float32Array(n).map(() => size * (random() - 0.5));
  };
  const fresh = (seed: number): Promise<Uint8Array> => wholeOf().cut(seeds(seed), noise(seed + 50, 12), noise(seed + 90, 6), context);

  test('answers as if it were cut for the first time', async () => {
    const whole = wholeOf();
    for (let seed = 1; seed < 12; seed++) {
      const again = await whole.cut(seeds(seed), noise(seed + 50, 12), noise(seed + 90, 6), context);
      expect(again).toEqual(await fresh(seed));
    }
  });

  test('takes one question after the other, and survives one that is broken off', async () => {
    const whole = wholeOf();
    const ask = (seed: number, c = context): Promise<Uint8Array> => whole.cut(seeds(seed), noise(seed + 50, 12), noise(seed + 90, 6), c);
    const controller = new AbortController();
    controller.abort();
    const [a, , c] = await Promise.all([
      ask(1),
      expect(ask(2, defaultContext({ signal: controller.signal }))).rejects.toThrow(/abort/i),
      ask(3),
    ]);
    expect(a).toEqual(await fresh(1));
    expect(c).toEqual(await fresh(3));
  });
});

/** A warm subject of known opacity before an unevenly lit, folded green cloth. */
function screenScene(width = 160, height = 120): { shot: Picture; truth: Plane; front: [number, number, number]; field: Picture } {
  const random = seeded(5);
  const truth = softDisc(width, height, 80, 60, 30, 8);
  // A translucent panel in the middle.
  for (let y = 50; y < 70; y++) for (let x = 70; x < 90; x++) truth.data[y * width + x] = 0.4;
  const front: [number, number, number] = [0.5, 0.32, 0.16];
  const field = pictureFrom(width, height, (x, y) => {
    const light = 0.7 + 0.3 * (x / width) + 0.08 * Math.sin(x / 9) - 0.15 * (y / height);
    return [0.05 * light, 0.4 * light, 0.08 * light];
  });
  const shot = makePicture(width, height);
  (['r', 'g', 'b'] as const).forEach((c, k) => {
    for (let p = 0; p < truth.data.length; p++) {
      shot[c][p] = Math.max(0, truth.data[p] * front[k] + (1 - truth.data[p]) * field[c][p] + 0.004 * (random() - 0.5));
    }
  });
  return { shot, truth, front, field };
}

describe('a coloured screen', () => {
  const { shot, truth, front, field } = screenScene();

  test('is found by itself, and is none where there is none', () => {
    const found = findScreen(shot)!;
    expect(found.share).toBeGreaterThan(0.5);
    expect(found.colour[1]).toBeGreaterThan(3 * found.colour[0]);
    expect(findScreen(pictureFrom(60, 40, (x) => [0.3 + x / 300, 0.3, 0.28]))).toBeUndefined();
  });

  test('gives opacity, uneven light and translucent parts included', async () => {
    const { colour } = findScreen(shot)!;
    const key = await screenKey(shot, colour, { clear: 0, opaque: 0 }, context);
    expect(meanError(key.matte, truth)).toBeLessThan(0.015);
    expect(Math.abs(key.matte.data[60 * 160 + 80] - 0.4)).toBeLessThan(0.1);
    // The field under the subject is the cloth that is hidden there.
    expect(Math.abs(key.field.g[60 * 160 + 80] - field.g[60 * 160 + 80])).toBeLessThan(0.05);
  });

  test('leaves nothing of itself in the subject’s colour', async () => {
    const product = await matte(shot, { cut: 'screen', marks: [], trim: noTrim }, context);
    const { subject, behind } = await unmix(shot, product, 1, context);
    expect(behind).toBe(product.behind);
    const [, wantedA, wantedB] = cielabOf(...front);
    let worst = 0;
    for (let p = 0; p < truth.data.length; p++) {
      if (truth.data[p] < 0.15) continue;
      const [, a, b] = cielabOf(subject.r[p], subject.g[p], subject.b[p]);
      worst = Math.max(worst, (wantedA - a) * Math.SQRT1_2 + (b - wantedB) * Math.SQRT1_2);
    }
    expect(worst).toBeLessThan(6);
    const before = cielabOf(shot.r[60 * 160 + 80], shot.g[60 * 160 + 80], shot.b[60 * 160 + 80]);
    expect(wantedA - before[1]).toBeGreaterThan(15);
  });

  test('marks hold in and hold out', async () => {
    const marks: Mark[] = [
      { kind: 'inside', radius: 5, points: [[10, 10]] },
      { kind: 'outside', radius: 5, points: [[80, 60]] },
    ];
    const { matte: held } = await matte(shot, { cut: 'screen', marks, trim: noTrim }, context);
    expect(held.data[10 * 160 + 10]).toBe(1);
    expect(held.data[60 * 160 + 80]).toBe(0);
  });

  test.each([
    ['auto', /No coloured screen/],
    ['#777777', /too grey/],
  ])('%s on a picture without a screen is a sentence', async (colour, words) => {
    const grey = pictureFrom(40, 30, () => [0.4, 0.4, 0.4]);
    const product = await matte(grey, { cut: 'screen', marks: [], screen: { ...defaultScreen, colour }, trim: noTrim }, context);
    expect(product.note).toMatch(words);
    expect(sum(product.matte.data)).toBe(0);
  });
});

describe('spill', () => {
  const green: [number, number, number] = [0.05, 0.4, 0.08];

  test('is taken down to what the subject has, at equal luminance', () => {
    const p = pictureFrom(2, 1, (x) => (x === 0 ? [0.3, 0.35, 0.1] : [0.4, 0.2, 0.1]));
    const before = [0, 1].map((i) => cielabOf(p.r[i], p.g[i], p.b[i])[0]);
    const taken = takeSpill(p, green, 0, 1);
    expect(taken[0]).toBeGreaterThan(0);
    expect(taken[1]).toBe(0);
    [0, 1].forEach((i) => expect(cielabOf(p.r[i], p.g[i], p.b[i])[0]).toBeCloseTo(before[i], 3));
    expect(p.g[0]).toBeLessThan(p.r[0]);
    expect(
      takeSpill(
        pictureFrom(1, 1, () => [0.3, 0.35, 0.1]),
        green,
        0,
        0,
      )[0],
    ).toBe(0);
  });

  test('half-covered pixels take the hue of the subject farther in, not one between it and the screen', async () => {
    const [w, h] = [120, 90];
    const cover = softDisc(w, h, 60, 45, 30, 14);
    const brown: [number, number, number] = [0.3, 0.16, 0.07];
    // The rim reflects the screen.
    const shot = pictureFrom(w, h, (x, y) => {
      const a = cover.data[y * w + x];
      const spill = a < 0.95 ? 0.25 : 0;
      return [0, 1, 2].map((c) => a * (brown[c] + spill * green[c]) + (1 - a) * green[c]) as [number, number, number];
    });
    const product = { matte: cover, solved: 0, behind: pictureFrom(w, h, () => green), screen: green };
    const { subject } = await unmix(shot, product, 1, context);
    const hue = (r: number, g: number, b: number): number => {
      const [, oa, ob] = oklabOf(r, g, b);
      return (Math.atan2(ob, oa) * 180) / Math.PI;
    };
    for (let x = 60; x < 95; x++) {
      const p = 45 * w + x;
      if (cover.data[p] < 0.1) continue;
      expect(Math.abs(hue(subject.r[p], subject.g[p], subject.b[p]) - hue(...brown))).toBeLessThan(cover.data[p] < 0.7 ? 12 : 35);
    }
  });

  test('its place is given to the new background’s light', () => {
    const p = pictureFrom(1, 1, () => [0.3, 0.3, 0.3]);
    const lit = putLight(p, Float32Array.of(0.15), [0.5, 0.3, 0.1]);
    expect(lit.r[0]).toBeGreaterThan(0.3);
    expect(lit.b[0]).toBeLessThan(0.3);
    expect(cielabOf(lit.r[0], lit.g[0], lit.b[0])[0]).toBeCloseTo(cielabOf(0.3, 0.3, 0.3)[0], 3);
    expect(putLight(p, Float32Array.of(0), [0.5, 0.3, 0.1]).r[0]).toBeCloseTo(0.3, 6);
  });

  test('the subject’s own balance is learnt from its opaque pixels', () => {
    const solid = planeFrom(20, 20, () => 1);
    expect(
      ownBalance(
        pictureFrom(20, 20, () => [0.6, 0.4, 0.2]),
        solid,
        green,
      ),
    ).toBeCloseTo(0, 5);
    expect(
      ownBalance(
        pictureFrom(20, 20, () => [0.6, 0.6, 0.2]),
        solid,
        green,
      ),
    ).toBeCloseTo(1, 5);
    expect(
      ownBalance(
        pictureFrom(2, 2, () => [0.6, 0.6, 0.2]),
        planeFrom(2, 2, () => 1),
        green,
      ),
    ).toBe(0.5);
  });
});

describe('busyness', () => {
  const random = seeded(9);
  const noise = Float32Array.from({ length: 80 * 60 }, () => random());
  const at = (value: (x: number, y: number) => number): number => {
    const l = new Float32Array(80 * 60);
    for (let p = 0; p < l.length; p++) l[p] = value(p % 80, Math.floor(p / 80));
    const plain = new Float32Array(l.length);
    const out = busyness({ width: 80, height: 60, l, a: plain, b: plain }, 80, 60);
    return out[30 * 80 + 40];
  };

  test('is in wool, not in boards or at an edge', () => {
    const wool = at((x, y) => 0.5 + 0.1 * (noise[y * 80 + x] - 0.5));
    expect(at(() => 0.5)).toBe(0);
    expect(at((x) => 0.5 + 0.1 * Math.sin(x))).toBeLessThan(0.05 * wool);
    expect(at((x, y) => (x + y < 70 ? 0.3 : 0.7))).toBeLessThan(0.1 * wool);
  });

  test('is the same in the sun and nearly the same in the shade', () => {
    const wool = (light: number): number => at((x, y) => light * (0.9 + 0.2 * (noise[y * 80 + x] - 0.5)));
    expect(wool(0.3) / wool(0.9)).toBeGreaterThan(0.7);
    expect(wool(0.3) / wool(0.9)).toBeLessThan(1);
  });
});

/** What two mattes have in common at one half, as a share of what either has. */
function inCommon(a: ArrayLike<number>, b: ArrayLike<number>): number {
  let [both, any] = [0, 0];
  for (let p = 0; p < a.length; p++) {
    both += a[p] > 0.5 && b[p] > 0.5 ? 1 : 0;
    any += a[p] > 0.5 || b[p] > 0.5 ? 1 : 0;
  }
  return both / any;
}

describe('a subject without marks', () => {
  test('is proposed as marks that give it', async () => {
    const { shot, matte: truth } = ballScene(240, 180, 3);
    const [best] = await findSubject(await matteGround(shot, context), context);
    expect(new Set(best.marks.map((m) => m.kind))).toEqual(new Set(['inside', 'outside']));
    const { matte: cut } = await matte(shot, { marks: best.marks, trim: noTrim }, context);
    expect(inCommon(cut.data, truth.data)).toBeGreaterThan(0.9);
  });

  test('is proposed as well where the frame cuts it off and something else stands in the middle', async () => {
    const [width, height] = [300, 200];
    const random = seeded(4);
    const wool = softDisc(width, height, 0, 110, 75, 2);
    const shot = pictureFrom(width, height, (x, y) => {
      if (wool.data[y * width + x] > 0.5) return [0.3 + 0.3 * random(), 0.25 + 0.25 * random(), 0.2 + 0.2 * random()];
      if (x > 110 && x < 210 && y > 40 && y < 160) return [0.5 + 0.02 * random(), 0.1, 0.08 + 0.02 * random()];
      return [0.3, 0.3 + 0.1 * (y / height), 0.3];
    });
    const found = await findSubject(await matteGround(shot, context), context);
    const shares = found.map((f) => inCommon(f.label, resizePlane(wool, f.width, f.height).data));
    expect(Math.max(...shares)).toBeGreaterThan(0.8);
    for (let i = 1; i < found.length; i++) expect(found[i].score).toBeLessThanOrEqual(found[i - 1].score);
  });

  test.each([
    ['one colour', pictureFrom(60, 40, () => [0.3, 0.4, 0.5])],
    ['one pixel', pictureFrom(1, 1, () => [0.3, 0.4, 0.5])],
  ])('a picture of %s proposes nothing and does not hang', async (_, shot) => {
    expect(await findSubject(await matteGround(shot, context), context)).toEqual([]);
  });
});

describe('a picture multiplied by its opacity', () => {
  const ramp = (over: [number, number, number] | undefined): Samples => {
    const data = new Uint8Array(64 * 30 * 4);
    for (let i = 0; i < 64 * 30; i++) {
      const a = Math.round(255 * Math.min(1, (i % 64) / 44)) / 255;
      [230, 150 + (i % 7), 40].forEach((v, c) => (data[i * 4 + c] = Math.round(over ? v * a + over[c] * (1 - a) : v)));
      data[i * 4 + 3] = Math.round(a * 255);
    }
    return { width: 64, height: 30, channels: 4, data };
  };

  test.each<[string, [number, number, number]]>([
    ['#000000', [0, 0, 0]],
    ['#ffffff', [255, 255, 255]],
  ])('over %s is noticed and made straight', (hex, over) => {
    expect(premultipliedOver(ramp(over))).toBe(hex);
    const straight = straightened(ramp(over), hex);
    for (let i = 0; i < 64 * 30; i++) {
      if (straight.data[i * 4 + 3] < 20_000) continue;
      expect(Math.abs(straight.data[i * 4] / 257 - 230)).toBeLessThan(4);
      expect(Math.abs(straight.data[i * 4 + 2] / 257 - 40)).toBeLessThan(4);
    }
  });

  test('a straight one, and one without opacity, are left alone', () => {
    expect(premultipliedOver(ramp(undefined))).toBeUndefined();
    const opaque: Samples = { width: 1, height: 1, channels: 3, data: Uint8Array.of(1, 2, 3) };
    expect(premultipliedOver(opaque)).toBeUndefined();
    expect(straightened(opaque, '#000000')).toBe(opaque);
  });

  test('colours are written and read as #rrggbb', () => {
    expect(hexOf(...linearOfHex('#45aa52'))).toBe('#45aa52');
    expect(() => linearOfHex('green')).toThrow(/#rrggbb/);
  });
});

test('cutting by screen and by difference is the same twice', async () => {
  const { shot } = screenScene();
  const once = await matte(shot, { cut: 'screen', marks: [], trim: noTrim }, context);
  const twice = await matte(shot, { cut: 'screen', marks: [], trim: noTrim }, context);
  expect(largestDifference(once.matte.data, twice.matte.data)).toBe(0);
});

describe('what a mark says of the regions it lies on', () => {
  const [width, height] = [160, 110];
  // A ball before two walls; the outside stroke lies on the left one alone.
  const truth = softDisc(width, height, 80, 55, 26, 2);
  const shot = pictureFrom(width, height, (x, y) => {
    const a = truth.data[y * width + x];
    const wall = x < 70 ? 0.12 : 0.3;
    return [a * 0.6 + (1 - a) * wall, a * 0.16 + (1 - a) * wall, a * 0.1 + (1 - a) * wall];
  });
  const marks: Mark[] = [
    { kind: 'inside', radius: 6, points: [[70, 55], [90, 55]] },
    { kind: 'outside', radius: 5, points: [[20, 20], [20, 90]] },
  ]; // prettier-ignore
  const cutBy = async (...more: Mark[]): Promise<Plane> => (await matte(shot, { marks: [...marks, ...more], trim: noTrim }, context)).matte;
  const wall = (found: Plane): number => found.data.reduce((sum, a, p) => sum + (p % width > 115 ? a : 0), 0) / (44 * height);

  test('a few pixels at the rim of a wide region do not take all of it along', async () => {
    const before = await cutBy();
    const dab: Mark = { kind: 'inside', radius: 0.8, points: [[108, 55]] };
    const after = await cutBy(dab);
    expect(wall(before)).toBeLessThan(0.02);
    expect(wall(after)).toBeLessThan(0.02);
    expect(meanError(after, truth)).toBeLessThan(meanError(before, truth) + 0.002);
    // What is marked itself is in.
    expect(after.data[55 * width + 108]).toBeGreaterThan(0.5);
  });

  test('a dab of the usual size does', async () => {
    expect(wall(await cutBy({ kind: 'inside', radius: 7, points: [[135, 55]] }))).toBeGreaterThan(0.9);
  });
});
