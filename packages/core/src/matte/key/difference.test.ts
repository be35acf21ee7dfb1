import { defaultContext } from '../../runtime/context';
import { makePicture, type Picture, type Plane } from '../../raster/plane';
import { seeded } from '../../raster/random';
import { ballScene, pictureFrom, planeFrom, sum } from '../../testing/scenes';
import { guessFromPairs } from '../opacity/colourPairs';
import { matteGround, matteOn } from '../matte';
import { surelyIn, surelyOut, undecided } from '../band/trimap';
import { noTrim } from '../edit/trim';

const context = defaultContext();
const meanError = (a: Plane, b: Plane): number => sum(a.data.map((v, p) => Math.abs(v - b.data[p]))) / a.data.length;
const byDifference = async (shot: Picture, plate: Picture): Promise<Plane> =>
  (await matteOn({ ground: await matteGround(shot, context), plate }, { cut: 'difference', marks: [], trim: noTrim }, context)).matte;

/** Light of a subject over a plate, with a little noise on each. */
function shotOf(front: Picture, back: Picture, opacity: Plane, seed: number): Picture {
  const random = seeded(seed);
  const out = makePicture(front.width, front.height);
  for (const c of ['r', 'g', 'b'] as const) {
    for (let p = 0; p < out[c].length; p++) {
      const a = opacity.data[p];
      out[c][p] = Math.max(0, a * front[c][p] + (1 - a) * back[c][p] + 0.004 * (random() - 0.5));
    }
  }
  return out;
}

/** A boarded floor with a wall of windows over it. */
const boards = pictureFrom(200, 150, (x, y) => {
  const v = y < 80 ? (((x >> 4) + (y >> 4)) % 2 ? 0.35 : 0.12) : 0.22 + 0.06 * Math.sin(x / 2.5);
  return [v, v * 0.85, v * 0.7];
});

describe('a difference', () => {
  const { shot, back, matte: truth } = ballScene(200, 150, 3);
  const prepared = matteGround(shot, context);

  test('to a photographed plate of another exposure gives the subject', async () => {
    const brighter = { ...back, r: back.r.map((v) => v * 1.3), g: back.g.map((v) => v * 1.3), b: back.b.map((v) => v * 1.3) };
    const product = await matteOn({ ground: await prepared, plate: brighter }, { cut: 'difference', marks: [], trim: noTrim }, context);
    expect(meanError(product.matte, truth)).toBeLessThan(0.02);
    expect(product.fits).toBeGreaterThan(0.5);
    expect(product.note).toBeUndefined();
  });

  test('a shadow of the plate is no subject', async () => {
    const shaded = { ...shot, r: shot.r.slice(), g: shot.g.slice(), b: shot.b.slice() };
    for (let y = 120; y < 140; y++) {
      for (let x = 20; x < 180; x++) {
        for (const [c, f] of [['r', 0.5], ['g', 0.55], ['b', 0.62]] as const) shaded[c][y * 200 + x] *= f; // prettier-ignore
      }
    }
    const product = await matteOn(
      { ground: await matteGround(shaded, context), plate: back },
      { cut: 'difference', marks: [], trim: noTrim },
      context,
    );
    let dark = 0;
    for (let y = 122; y < 138; y++) for (let x = 24; x < 176; x++) dark += product.matte.data[y * 200 + x];
    expect(dark / (16 * 152)).toBeLessThan(0.05);
  });

  test('is a sentence without a plate, or with nothing that differs', async () => {
    expect((await matteOn({ ground: await prepared }, { cut: 'difference', marks: [], trim: noTrim }, context)).note).toMatch(
      /plate is missing/,
    );
    const same = await matteOn({ ground: await prepared, plate: shot }, { cut: 'difference', marks: [], trim: noTrim }, context);
    expect(same.note).toMatch(/Nothing in the shot differs/);
  });

  test.each([
    ['one pixel', 1, 1],
    ['one row', 40, 1],
    ['one colour', 40, 30],
  ])('of a shot of %s is defined', async (_, width, height) => {
    const plain = pictureFrom(width, height, () => [0.3, 0.4, 0.5]);
    const other = pictureFrom(width, height, () => [0.8, 0.1, 0.1]);
    for (const plate of [plain, other]) {
      const found = await byDifference(plain, plate);
      expect(found.data.every((v) => v >= 0 && v <= 1)).toBe(true);
    }
  });

  test('is broken off when asked', async () => {
    const controller = new AbortController();
    controller.abort();
    const stopped = defaultContext({ signal: controller.signal });
    const inputs = { ground: await prepared, plate: back };
    await expect(matteOn(inputs, { cut: 'difference', marks: [], trim: noTrim }, stopped)).rejects.toThrow(/abort/i);
  });

  test('sees the plate through wool', async () => {
    const random = seeded(31);
    const depth = (x: number, y: number): number => 52 - Math.hypot(x - 100, y - 75);
    // Fewer and fewer strands over twelve pixels.
    const wool = planeFrom(200, 150, (x, y) => (random() < depth(x, y) / 12 ? 1 : 0));
    const front = pictureFrom(200, 150, () => {
      const v = 0.25 + 0.5 * random();
      return [v, v * 0.8, v * 0.55];
    });
    const found = await byDifference(shotOf(front, boards, wool, 5), boards);
    let [error, rim, deep, inside] = [0, 0, 0, 0];
    for (let y = 0; y < 150; y++) {
      for (let x = 0; x < 200; x++) {
        const p = y * 200 + x;
        if (depth(x, y) > 0 && depth(x, y) < 12) {
          rim++;
          error += Math.abs(found.data[p] - wool.data[p]);
        } else if (depth(x, y) > 16) {
          inside++;
          deep += found.data[p];
        }
      }
    }
    expect(error / rim).toBeLessThan(0.25);
    expect(deep / inside).toBeGreaterThan(0.97);
  });

  test('a shadow that touches the subject goes on behind its edge', async () => {
    const block = planeFrom(200, 150, (x, y) => (x >= 60 && x < 120 && y >= 50 && y < 110 ? 1 : 0));
    const front = pictureFrom(200, 150, () => [0.5, 0.1, 0.08]);
    const shaded = pictureFrom(200, 150, (x, y) => {
      const s = x >= 60 && x < 180 && y >= 96 && y < 116 ? 0.4 : 1;
      const p = y * 200 + x;
      return [boards.r[p] * s, boards.g[p] * s * (s < 1 ? 1.1 : 1), boards.b[p] * s * (s < 1 ? 1.25 : 1)];
    });
    const found = await byDifference(shotOf(front, shaded, block, 6), boards);
    const mean = (x0: number, y0: number, x1: number, y1: number): number => {
      let total = 0;
      for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) total += found.data[y * 200 + x];
      return total / ((x1 - x0) * (y1 - y0));
    };
    expect(mean(122, 98, 178, 114)).toBeLessThan(0.05);
    expect(mean(62, 111, 118, 114)).toBeLessThan(0.1);
    expect(mean(62, 52, 118, 108)).toBeGreaterThan(0.97);
  });

  test('a dark smooth subject is not riddled with holes, and outside marks take away what they cover', async () => {
    const plain = pictureFrom(200, 150, (x) => [0.4 + x / 900, 0.38, 0.36]);
    const block = planeFrom(200, 150, (x, y) => (x >= 60 && x < 130 && y >= 40 && y < 110 ? 1 : 0));
    // Its middle is the plate in the shade, its rim a colour of its own.
    const front = pictureFrom(200, 150, (x, y) =>
      x > 84 && x < 106 && y > 64 && y < 86 ? [0.2 + x / 1800, 0.19, 0.18] : [0.3, 0.05, 0.05],
    );
    const shot = shotOf(front, plain, block, 9);
    const found = await byDifference(shot, plain);
    let inside = 0;
    for (let y = 42; y < 108; y++) for (let x = 62; x < 128; x++) inside += found.data[y * 200 + x];
    expect(inside / (66 * 66)).toBeGreaterThan(0.97);
    const marks = [{ kind: 'outside' as const, radius: 6, points: [[95, 75]] as [number, number][] }];
    const ground = await matteGround(shot, context);
    const less = await matteOn({ ground, plate: plain }, { cut: 'difference', marks, trim: noTrim }, context);
    expect(less.matte.data[75 * 200 + 95]).toBeLessThan(0.05);
    expect(sum(less.matte.data)).toBeLessThan(sum(found.data) - 80);
  });

  test('a colour that the subject has nowhere else covers the plate', async () => {
    const rod = (x: number, y: number): boolean => x >= 120 && x < 170 && y >= 70 && y < 73;
    const body = planeFrom(200, 150, (x, y) => (Math.hypot(x - 90, y - 72) < 40 || rod(x, y) ? 1 : 0));
    const front = pictureFrom(200, 150, (x, y) => (rod(x, y) ? [0.02, 0.5, 0.6] : [0.6, 0.45, 0.3]));
    const found = await byDifference(shotOf(front, boards, body, 8), boards);
    let covered = 0;
    for (let x = 135; x < 165; x++) covered += found.data[71 * 200 + x];
    expect(covered / 30).toBeGreaterThan(0.9);
  });
});

describe('colour pairs before a known background', () => {
  const random = seeded(12);
  const behind = pictureFrom(60, 40, () => [random(), random(), random()]);
  const truth = planeFrom(60, 40, (x) => Math.min(1, Math.max(0, (x - 20) / 20)));
  const trimap = Uint8Array.from(truth.data, (a) => (a <= 0 ? surelyOut : a >= 1 ? surelyIn : undecided));
  const front = [0.9, 0.2, 0.1];
  const light = pictureFrom(60, 40, (x, y) => {
    const p = y * 60 + x;
    const a = truth.data[p];
    return (['r', 'g', 'b'] as const).map((c, k) => a * front[k] + (1 - a) * behind[c][p]) as [number, number, number];
  });

  test('are exact however rough it is, and leave nothing unexplained', async () => {
    const guess = await guessFromPairs(light, trimap, context, undefined, behind);
    for (let p = 0; p < trimap.length; p++) {
      if (trimap[p] !== undecided) continue;
      expect(guess.opacity.data[p]).toBeCloseTo(truth.data[p], 4);
      expect(guess.left![p]).toBeCloseTo(0, 4);
    }
  });

  test('leave a colour unexplained that no mixture comes near', async () => {
    const other = { ...light, b: light.b.slice(), g: light.g.slice() };
    const at = 20 * 60 + 30;
    [other.g[at], other.b[at]] = [1.5, 1.5];
    const guess = await guessFromPairs(other, trimap, context, undefined, behind);
    expect(guess.left![at]).toBeGreaterThan(0.5);
    expect(guess.trust.data[at]).toBeLessThan(0.01);
  });
});
