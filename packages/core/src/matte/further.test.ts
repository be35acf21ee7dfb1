import { defaultContext } from '../runtime/context';
import type { Plane } from '../raster/plane';
import { seeded } from '../raster/random';
import { ballScene, largestDifference, pictureFrom, planeFrom, softDisc } from '../testing/scenes';
import { solveClosedForm } from './opacity/closedForm';
import { guessFromPairs } from './opacity/colourPairs';
import type { Mark } from './cut/marks';
import { matteGround, matteOn } from './matte';
import { cutMemory } from './cut/roughCut';
import { noTrim } from './edit/trim';
import { surelyIn, surelyOut, undecided } from './band/trimap';

const context = defaultContext();

/** A tuft before stripes: large enough for every step from the first cut to carrying up. */
function tuftScene(width: number, height: number) {
  const random = seeded(11);
  return pictureFrom(width, height, (x, y) => {
    const radius = 0.3 * height + 0.04 * height * Math.sin(9 * Math.atan2(y - height / 2, x - width / 2));
    const a = Math.min(1, Math.max(0, (radius - Math.hypot(x - width / 2, y - height / 2)) / 5 + 0.5));
    const back = (x >> 4) % 2 ? 0.25 : 0.4;
    const noise = 0.03 * (random() - 0.5);
    return [Math.max(0, a * 0.55 + (1 - a) * back + noise), Math.max(0, a * 0.4 + (1 - a) * 0.3 + noise), Math.max(0, 0.2 + noise)];
  });
}

const dot = (kind: Mark['kind'], x: number, y: number, radius = 5): Mark => ({ kind, radius, points: [[x, y]] });

describe('a further mark gives what all marks give from nothing', () => {
  const shot = tuftScene(930, 280);
  const first = [dot('inside', 465, 140, 40), dot('outside', 60, 40, 20), dot('outside', 880, 247, 20)];
  /** What is marked, one after the other; some of it is taken back. */
  const steps: [string, Mark[]][] = [
    ['far from the edge', [...first, dot('outside', 100, 227)]],
    ['beside the edge', [...first, dot('outside', 465, 51)]],
    ['an edge mark', [...first, dot('outside', 465, 51), dot('edge', 549, 140, 16)]],
    ['over the edge mark', [...first, dot('outside', 465, 51), dot('edge', 549, 140, 16), dot('inside', 549, 140, 8)]],
    ['outside over inside', [...first, dot('outside', 465, 120, 12)]],
    ['nothing but the first again', first],
  ];

  test('to the bit, whatever was marked before', async () => {
    const ground = await matteGround(shot, context);
    await matteOn({ ground }, { marks: first, trim: noTrim }, context);
    for (const [what, marks] of steps) {
      const further = await matteOn({ ground }, { marks, trim: noTrim }, context);
      const forgetful = { ...ground, last: {}, cuts: await cutMemory(ground.levels, context) };
      const fresh = await matteOn({ ground: forgetful }, { marks, trim: noTrim }, context);
      expect([what, largestDifference(further.matte.data, fresh.matte.data)]).toEqual([what, 0]);
      expect(further.band).toEqual(fresh.band);
    }
  });

  test('also on a shot larger than opacity is corrected at', async () => {
    const large = tuftScene(1890, 400);
    const about = [dot('inside', 945, 200, 60), dot('outside', 120, 60, 40), dot('outside', 1780, 350, 40)];
    const ground = await matteGround(large, context);
    expect(ground.fine.width).toBe(1800);
    const before = await matteOn({ ground }, { marks: about, trim: noTrim }, context);
    const marks = [...about, dot('edge', 945, 76, 20)];
    const further = await matteOn({ ground }, { marks, trim: noTrim }, context);
    const fresh = await matteOn(
      { ground: { ...ground, last: {}, cuts: await cutMemory(ground.levels, context) } },
      { marks, trim: noTrim },
      context,
    );
    expect([further.matte.width, further.matte.height]).toEqual([1890, 400]);
    expect(largestDifference(further.matte.data, fresh.matte.data)).toBe(0);
    expect(largestDifference(further.matte.data, before.matte.data)).toBeGreaterThan(0.05);
    expect([further.matte.data[200 * 1890 + 945], further.matte.data[20 * 1890 + 20]]).toEqual([1, 0]);
  });

  test('also after one that was broken off', async () => {
    const ground = await matteGround(shot, context);
    await matteOn({ ground }, { marks: first, trim: noTrim }, context);
    const controller = new AbortController();
    const broken = matteOn({ ground }, { marks: steps[1][1], trim: noTrim }, defaultContext({ signal: controller.signal }));
    controller.abort();
    await expect(broken).rejects.toThrow(/abort/i);
    const [further, fresh] = await Promise.all([
      matteOn({ ground }, { marks: steps[2][1], trim: noTrim }, context),
      matteOn(
        { ground: { ...ground, last: {}, cuts: await cutMemory(ground.levels, context) } },
        { marks: steps[2][1], trim: noTrim },
        context,
      ),
    ]);
    expect(largestDifference(further.matte.data, fresh.matte.data)).toBe(0);
  });
});

describe('opacity beside what was solved', () => {
  const { shot, matte: truth } = ballScene(120, 90, 8);
  const stateOf = (m: Plane): Uint8Array => Uint8Array.from(m.data, (a) => (a <= 0 ? surelyOut : a >= 1 ? surelyIn : undecided));
  const flat = (value: number): Plane => planeFrom(120, 90, () => value);

  test('reaches two pixels a round and no farther', async () => {
    const trimap = stateOf(truth);
    const solve = (opacity: Plane, rounds: number): Promise<Plane> =>
      solveClosedForm(shot, trimap, { opacity, trust: flat(1) }, { rounds }, context);
    const touched = flat(0.5);
    const at = trimap.findIndex((s) => s === undecided);
    touched.data[at] = 0.9;
    for (const rounds of [1, 3, 6]) {
      const [plain, other] = [await solve(flat(0.5), rounds), await solve(touched, rounds)];
      let farthest = 0;
      plain.data.forEach((v, p) => {
        if (v !== other.data[p])
          farthest = Math.max(farthest, Math.abs((p % 120) - (at % 120)), Math.abs(Math.floor(p / 120) - Math.floor(at / 120)));
      });
      expect(farthest).toBeGreaterThan(0);
      expect(farthest).toBeLessThanOrEqual(2 * rounds);
    }
  });

  test('comes nearer to the answer the longer it is worked on', async () => {
    const trimap = stateOf(truth);
    const guess = { opacity: flat(0.5), trust: flat(0) };
    const end = await solveClosedForm(shot, trimap, guess, { rounds: 800 }, context);
    let before = Infinity;
    for (const rounds of [4, 16, 64]) {
      const some = await solveClosedForm(shot, trimap, guess, { rounds }, context);
      const away = some.data.reduce((s, v, p) => s + Math.abs(v - end.data[p]), 0);
      expect(away).toBeLessThan(0.7 * before);
      before = away;
    }
  });

  test('the same question again is the same answer, not another like it', async () => {
    const question = { trimap: stateOf(truth), guess: { opacity: flat(0.5), trust: flat(1) } };
    const matte = await solveClosedForm(shot, question.trimap, question.guess, { rounds: 5 }, context);
    const last = { ...question, matte };
    expect(await solveClosedForm(shot, question.trimap.slice(), question.guess, { rounds: 5 }, context, last)).toBe(matte);
  });

  test('pairs are looked for again wherever a changed place can be seen', async () => {
    const random = seeded(5);
    let last = await guessFromPairs(shot, stateOf(truth), context);
    for (let round = 0; round < 6; round++) {
      const spot = softDisc(120, 90, 20 + 80 * random(), 15 + 60 * random(), 3 + 6 * random(), 0.01);
      const trimap = last.trimap.map((s, p) => (spot.data[p] > 0.5 ? Math.floor(3 * random()) : s));
      const fresh = await guessFromPairs(shot, trimap, context);
      last = await guessFromPairs(shot, trimap, context, last);
      expect(last).toEqual(fresh);
    }
  });
});
