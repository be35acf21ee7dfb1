import { perceived } from '../../colour/perceived';
import { defaultContext } from '../../runtime/context';
import type { Plane } from '../../raster/plane';
import { seeded } from '../../raster/random';
import { resizePlane } from '../../raster/resize';
import { widened } from '../../raster/widened';
import { largestDifference, pictureFrom, planeFrom } from '../../testing/scenes';
import { solveClosedForm } from './closedForm';
import { guessFromPairs } from './colourPairs';
import { learnedOpacity, type Known } from './learned';
import { surelyIn, surelyOut, undecided } from '../band/trimap';

const context = defaultContext();

/** Bright strands that stand out of an edge, before a darker, uneven ground, and what is solved of them where they are. */
async function strands(width: number, height: number) {
  const random = seeded(21);
  const edge = width / 3;
  const truth = planeFrom(width, height, (x) => (x < edge ? 1 : 0));
  for (let n = 0; n < height / 2; n++) {
    const y0 = random() * height;
    const slope = random() - 0.5;
    const end = Math.min(width - 1, edge + 10 + 30 * random());
    for (let x = Math.floor(edge); x < end; x++) {
      const y = y0 + slope * (x - edge);
      for (let v = Math.max(0, Math.floor(y) - 1); v <= Math.min(height - 1, Math.floor(y) + 2); v++) {
        const cover = Math.max(0, 0.9 - Math.abs(v + 0.5 - y));
        truth.data[v * width + x] = Math.max(truth.data[v * width + x], cover);
      }
    }
  }
  const front = planeFrom(width, height, () => 0.7 + 0.6 * random());
  const back = planeFrom(width, height, (x, y) => 0.8 + 0.3 * Math.sin(x / 9) * Math.cos(y / 7) + 0.1 * random());
  const shot = pictureFrom(width, height, (x, y) => {
    const p = y * width + x;
    const [f, b] = [truth.data[p] * front.data[p], (1 - truth.data[p]) * back.data[p]];
    return [0.5 * f + 0.1 * b, 0.36 * f + 0.12 * b, 0.22 * f + 0.16 * b];
  });
  const trimap = new Uint8Array(width * height);
  for (let p = 0; p < trimap.length; p++) trimap[p] = p % width < edge - 4 ? surelyIn : p % width > edge + 45 ? surelyOut : undecided;
  const { light } = await perceived(shot, context);
  const solved = await solveClosedForm(light, trimap, await guessFromPairs(light, trimap, context), {}, context);
  return { shot, truth, solved, known: { matte: solved, trimap } };
}

const squaredError = (a: Plane, b: Plane): number => a.data.reduce((sum, v, i) => sum + (v - b.data[i]) ** 2, 0) / a.data.length;

test('strands come nearer to what they are than they were solved', async () => {
  const { shot, truth, solved, known } = await strands(220, 160);
  const { opacity } = await learnedOpacity(shot, solved, known, context);
  expect(squaredError(opacity, truth)).toBeLessThan(0.9 * squaredError(solved, truth));
});

test('only what is undecided, and the pixel beside it, is corrected; opacity stays opacity', async () => {
  const { shot, solved, known } = await strands(180, 90);
  const { opacity } = await learnedOpacity(shot, solved, known, context);
  const open = widened(
    known.trimap.map((s) => (s === undecided ? 1 : 0)),
    180,
    90,
    3,
  );
  const kept = (plane: Plane): Float32Array => plane.data.filter((_, p) => open[p] === 0);
  expect(kept(opacity)).toEqual(kept(solved));
  expect(opacity.data.every((v) => v >= 0 && v <= 1)).toBe(true);
  const decided = await learnedOpacity(shot, solved, { ...known, trimap: known.trimap.map(() => surelyOut) }, context);
  expect(decided.opacity.data).toEqual(solved.data);
});

test('a further correction is the same to the bit as one from nothing', async () => {
  const { shot, solved, known } = await strands(300, 260);
  const before = await learnedOpacity(shot, solved, known, context);
  const random = seeded(3);
  for (let n = 0; n < 6; n++) {
    const [cx, cy, reach] = [90 + random() * 60, random() * 260, 3 + random() * 20];
    const near = (p: number): boolean => Math.hypot((p % 300) - cx, Math.floor(p / 300) - cy) < reach;
    const other = { ...solved, data: solved.data.map((v, p) => (near(p) ? 1 - v : v)) };
    const trimap = known.trimap.map((s, p) => (n % 2 && near(p) ? surelyIn : s));
    const further = await learnedOpacity(shot, other, { matte: other, trimap }, context, before);
    const fresh = await learnedOpacity(shot, other, { matte: other, trimap }, context);
    expect(largestDifference(further.opacity.data, fresh.opacity.data)).toBe(0);
    expect(largestDifference(further.opacity.data, before.opacity.data)).toBeGreaterThan(0);
  }
});

test('states of half the size say the same as those of the whole', async () => {
  const { shot, solved, known } = await strands(240, 120);
  const small: Known = { matte: resizePlane(solved, 120, 60), trimap: new Uint8Array(120 * 60) };
  const large: Known = { ...known, trimap: new Uint8Array(240 * 120) };
  for (let p = 0; p < small.trimap.length; p++) small.trimap[p] = known.trimap[2 * (Math.floor(p / 120) * 240 + (p % 120))];
  for (let p = 0; p < large.trimap.length; p++) large.trimap[p] = small.trimap[(Math.floor(p / 240) >> 1) * 120 + ((p % 240) >> 1)];
  const [one, other] = [await learnedOpacity(shot, solved, small, context), await learnedOpacity(shot, solved, large, context)];
  const well = Array.from(solved.data.keys()).filter((p) => large.trimap[p] === undecided);
  expect(Math.max(...well.map((p) => Math.abs(one.opacity.data[p] - other.opacity.data[p])))).toBe(0);
});

test.each([
  [1, 1],
  [2, 1],
  [1, 7],
  [65, 3],
])('a picture of %d × %d px has an answer', async (width, height) => {
  const shot = pictureFrom(width, height, () => [0.3, 0.2, 0.1]);
  const trimap = new Uint8Array(width * height).fill(undecided);
  const half = planeFrom(width, height, () => 0.5);
  const { opacity } = await learnedOpacity(shot, half, { matte: half, trimap }, context);
  expect(opacity.data).toHaveLength(width * height);
  expect(opacity.data.every((v) => v >= 0 && v <= 1)).toBe(true);
});

test('nothing farther away than the network looks has a say', async () => {
  const [width, height] = [300, 220];
  const { shot, solved, known } = await strands(width, height);
  const whole = await learnedOpacity(shot, solved, known, context);
  // A part that begins at a whole place: 11 places, and the one that is corrected, are all that is looked at.
  const [left, top, w, h] = [60, 40, 120, 130];
  const cut = (data: Float32Array): Float32Array => planeFrom(w, h, (x, y) => data[(top + y) * width + left + x]).data;
  const part = { width: w, height: h, r: cut(shot.r), g: cut(shot.g), b: cut(shot.b) };
  const trimap = Uint8Array.from(cut(Float32Array.from(known.trimap)));
  const matte = { width: w, height: h, data: cut(solved.data) };
  const { opacity } = await learnedOpacity(part, matte, { matte, trimap }, context);
  let compared = 0;
  for (let y = 24; y < h - 24; y++) {
    for (let x = 24; x < w - 24; x++) {
      expect(opacity.data[y * w + x]).toBe(whole.opacity.data[(top + y) * width + left + x]);
      if (trimap[y * w + x] === undecided) compared++;
    }
  }
  expect(compared).toBeGreaterThan(1000);
});

test('a correction that is broken off gives nothing, and the next one is whole', async () => {
  const { shot, solved, known } = await strands(300, 260);
  const controller = new AbortController();
  const broken = learnedOpacity(shot, solved, known, defaultContext({ signal: controller.signal }));
  controller.abort();
  await expect(broken).rejects.toThrow(expect.objectContaining({ name: 'AbortError' }));
  const [one, other] = [await learnedOpacity(shot, solved, known, context), await learnedOpacity(shot, solved, known, context)];
  expect(largestDifference(one.opacity.data, other.opacity.data)).toBe(0);
  expect(largestDifference(one.opacity.data, solved.data)).toBeGreaterThan(0.1);
});
