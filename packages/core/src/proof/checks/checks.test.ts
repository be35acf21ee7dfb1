import { plainContext } from '../../context/context';
import { graded, plainGrade } from '../../grade/grade';
import { dithered, findBanding } from '../../match/banding';
import { measureGrain } from '../../match/grain';
import { measureTone } from '../../match/tone';
import { gaussian } from '../../raster/filter';
import { makePicture, pictureOf, planesOf, withOpacity, type Picture } from '../../raster/plane';
import { newRecipe, type Recipe } from '../../recipe/recipe';
import { dotted, fringed, grounded, laidOver, lowestOf, noisy, proofScene, smeared, torn, type ProofScene } from '../../testing/faults';
import { edgeWalk } from '../edgeWalk';
import {
  checkBanding,
  checkClipping,
  checkContact,
  checkEnlarged,
  checkFollowed,
  checkFrameOpen,
  checkHalo,
  checkIds,
  checkKinds,
  checkPlateResidue,
  checkRepeats,
  checkResidueInEdge,
  checkSides,
  checkSpecks,
  checkTorn,
  cureOf,
  isAccepted,
  judged,
  unknown,
  type Check,
} from './index';

/** So many pictures with the fault, and as many without. */
const seeds = Array.from({ length: 15 }, (_, i) => i);

interface Trial {
  check: Check;
  /** Where the fault is, px of the full size; nothing when it is everywhere. */
  at?: { x: number; y: number }[];
}

/** How often a fault is found and placed, and how often there is an alarm without one. */
async function tried(trial: (scene: ProofScene, seed: number, faulty: boolean) => Trial | Promise<Trial>) {
  let [found, alarms, placed, asked, told] = [0, 0, 0, 0, 0];
  for (const seed of seeds) {
    const scene = proofScene(seed);
    const { check, at } = await trial(scene, seed, true);
    const isFound = check.verdict === 'look' || check.verdict === 'wrong';
    found += isFound ? 1 : 0;
    told += check.verdict === 'unknown' ? 1 : 0;
    if (at && isFound) {
      asked++;
      const reach = 24;
      const near = check.places.filter((b) => at.some((q) => q.x > b.x - reach && q.y > b.y - reach && q.x < b.x + b.width + reach && q.y < b.y + b.height + reach)); // prettier-ignore
      if (near.length >= 0.7 * check.places.length && near.length > 0) placed++;
    }
    const clean = (await trial(scene, seed, false)).check;
    alarms += clean.verdict === 'look' || clean.verdict === 'wrong' ? 1 : 0;
  }
  return { recall: found / seeds.length, alarms: alarms / seeds.length, placed: asked ? placed / asked : 1, told };
}

const context = plainContext({ scale: 0.5 });
const cases: [string, (s: ProofScene, seed: number, faulty: boolean) => Trial | Promise<Trial>][] = [
  ['edge-halo', (s, seed, faulty) => ({ check: checkHalo(laidOver(s, faulty ? smeared(s, seed) : s.back), s.matte, s.scale) })],
  [
    'edge-residue',
    async (s, seed, faulty) => {
      const old = proofScene(seed + 3, s.width, s.height).back;
      // Ground that is much lighter or darker than the thing: what is left of it is seen.
      const loud = { ...old, r: old.r.map((v) => (seed % 2 ? 0.02 * v : 0.5 + v)), g: old.g.map((v) => (seed % 2 ? 0.02 * v : 0.6 + v)), b: old.b.map((v) => (seed % 2 ? 0.03 * v : 0.6 + v)) }; // prettier-ignore
      const subject = faulty ? fringed(s, loud) : withOpacity(s.front, s.matte);
      return { check: checkResidueInEdge(await edgeWalk(subject, loud, context)) };
    },
  ],
  ['edge-torn', (s, seed, faulty) => ({ check: checkTorn(faulty ? torn(s, seed).matte : s.matte, s.scale), ...(faulty && { at: torn(s, seed).places }) })], // prettier-ignore
  ['matte-specks', (s, seed, faulty) => ({ check: checkSpecks(faulty ? dotted(s, seed, 1).matte : s.matte, s.scale, 'specks'), ...(faulty && { at: dotted(s, seed, 1).places }) })], // prettier-ignore
  ['matte-holes', (s, seed, faulty) => ({ check: checkSpecks(faulty ? dotted(s, seed, 0).matte : s.matte, s.scale, 'holes'), ...(faulty && { at: dotted(s, seed, 0).places }) })], // prettier-ignore
  ['contact', (s, _seed, faulty) => ({ check: checkContact(laidOver(s, faulty ? s.back : grounded(s)), s.matte, s.scale), ...(faulty && { at: [{ x: s.x / s.scale, y: lowestOf(s) / s.scale }] }) })], // prettier-ignore
  [
    'clipping',
    async (s, seed, faulty) => {
      const bright = { ...plainGrade, exposure: faulty ? 1.7 + (seed % 3) : 0.05 };
      const plain = laidOver(s);
      return { check: checkClipping(await graded(plain, bright, context), plain, s.scale) };
    },
  ],
  [
    'banding',
    (s, seed, faulty) => {
      const sky = makePicture(s.width, s.height);
      for (let p = 0; p < sky.r.length; p++) sky.r[p] = sky.g[p] = sky.b[p] = 0.03 + (0.02 + 0.004 * seed) * (Math.floor(p / s.width) / s.height); // prettier-ignore
      return { check: checkBanding(findBanding(faulty ? sky : dithered(sky, seed))) };
    },
  ],
  [
    'grain-gap',
    (s, seed, faulty) => {
      const flat = blurred(s.back, 12);
      const sides = [noisy(flat, 0.02, seed), noisy(flat, faulty ? 0.004 : 0.02, seed + 50)].map(sideOf);
      return { check: checkSides(sides[0], sides[1], false).find((c) => c.id === 'grain-gap')! };
    },
  ],
  [
    'cast-gap',
    async (s, seed, faulty) => {
      const grey = greyed(s.back);
      const warm = await graded(grey, { ...plainGrade, temperature: faulty ? 70 + 5 * seed : 8 }, context);
      return { check: checkSides(sideOf(grey), sideOf(warm), false).find((c) => c.id === 'cast-gap')! };
    },
  ],
  ['frame-open', (_s, seed, faulty) => ({ check: checkFrameOpen(shifted(faulty ? 12 + 9 * seed : 0), sizeOf) })],
  ['enlarged', (_s, seed, faulty) => ({ check: checkEnlarged(scaled(faulty ? 1.4 + 0.1 * seed : 0.6 + 0.04 * seed), sizeOf, () => 0) })],
];

function blurred(p: Picture, sigma: number): Picture {
  return pictureOf(planesOf(p).map((plane) => gaussian(plane, sigma)) as [never, never, never]);
}
function greyed(p: Picture): Picture {
  const light = p.r.map((v, i) => (v + p.g[i] + p.b[i]) / 3);
  return { ...p, r: light, g: light.slice(), b: light.slice() };
}
function sideOf(p: Picture) {
  const grain = measureGrain(p);
  return { tone: measureTone(p), ...(grain && { grain }) };
}
const plain = newRecipe('Trial', 'shot', 900, 600);
const sizeOf = () => ({ width: 900, height: 600 });
const shifted = (by: number): Recipe => ({ ...plain, frame: { ...plain.frame, x: by } });
const scaled = (by: number): Recipe => ({ ...plain, cards: plain.cards.map((c) => (c.kind === 'subject' ? { ...c, placement: { ...c.placement, scale: by } } : { ...c, hidden: true })) }); // prettier-ignore

describe.each(cases)('%s on made-up pictures', (_id, trial) => {
  test('is found in at least nine of ten with the fault, and in at most one of ten without; its places are right', async () => {
    const { recall, alarms, placed } = await tried(trial);
    expect(recall).toBeGreaterThanOrEqual(0.9);
    expect(alarms).toBeLessThanOrEqual(0.1);
    expect(placed).toBeGreaterThanOrEqual(0.9);
  });
});

describe('what is not known', () => {
  test('is never good, and says why', () => {
    const scene = proofScene(1);
    const nothing = { ...scene.matte, data: new Float32Array(scene.matte.data.length) };
    for (const check of [
      checkHalo(scene.back, nothing, 0.5),
      checkTorn(nothing, 0.5),
      checkContact(scene.back, nothing, 0.5),
      checkResidueInEdge([]),
      checkPlateResidue({ places: [] }, undefined),
      checkFollowed(undefined),
      checkFollowed([0.9, 0.95]),
      ...checkSides({ tone: measureTone(scene.back) }, { tone: measureTone(scene.back) }, true).filter((c) => c.id !== 'blur-gap'),
    ]) {
      expect([check.id, check.verdict]).toEqual([check.id, 'unknown']);
      expect(check.why).toMatch(/^[A-Z].*\.$/);
    }
  });

  test('feet outside of the frame cannot be judged', () => {
    const scene = proofScene(2);
    const low = { ...scene.matte, height: lowestOf(scene) + 4, data: scene.matte.data.slice(0, scene.width * (lowestOf(scene) + 4)) };
    expect(checkContact(scene.back, low, 0.5).why).toMatch(/frame ends too close/);
  });
});

describe('judging', () => {
  test('every check has words, a unit and a reason, and says when it is wrong only above when it is worth a look', () => {
    for (const id of checkIds) {
      const { what, unit, reason, tolerance, wrong } = checkKinds[id];
      expect(what && unit && reason).toBeTruthy();
      if (wrong !== undefined) expect(wrong).toBeGreaterThan(tolerance);
    }
    expect(judged('banding', 0.5).verdict).toBe('good');
    expect(judged('banding', 0.6).verdict).toBe('look');
    expect(judged('banding', 5).verdict).toBe('wrong');
  });

  test('what was accepted stays so until it becomes worse by more than its tolerance', () => {
    const accepted = [{ check: 'edge-residue' as const, word: 'wool', figure: 10 }];
    expect(isAccepted(judged('edge-residue', 10), accepted)).toBe(true);
    expect(isAccepted(judged('edge-residue', 14.4), accepted)).toBe(true);
    expect(isAccepted(judged('edge-residue', 14.6), accepted)).toBe(false);
    expect(isAccepted(judged('banding', 1), accepted)).toBe(false);
    expect(isAccepted(unknown('edge-residue', 'Not known.'), accepted)).toBe(false);
  });

  test('pieces that are there twice count only where they are seen', () => {
    const weight = proofScene(0).matte;
    const repeat = (x: number) => ({ x, y: 250, width: 40, height: 40, times: 2 });
    const { x, scale } = proofScene(0);
    expect(checkRepeats([repeat(x / scale - 20)], { weight }, scale).figure).toBe(1);
    expect(checkRepeats([repeat(4)], { weight }, scale).verdict).toBe('good');
  });
});

describe('cures', () => {
  test('mend what they are for', () => {
    const open = shifted(60);
    const cure = cureOf(checkFrameOpen(open, sizeOf), open, sizeOf)!;
    expect(checkFrameOpen(cure.edit(open), sizeOf).verdict).toBe('good');
    const turned: Recipe = { ...plain, frame: { ...plain.frame, turn: 8 } };
    expect(checkFrameOpen(cureOf(checkFrameOpen(turned, sizeOf), turned, sizeOf)!.edit(turned), sizeOf).verdict).toBe('good');
  });

  test('are only offered where something is wrong, and are whole sentences', () => {
    for (const id of checkIds) {
      expect(cureOf(judged(id, 0), plain, sizeOf)).toBeUndefined();
      expect(cureOf(unknown(id, 'Not known.'), plain, sizeOf)).toBeUndefined();
      const cure = cureOf({ ...judged(id, 99), verdict: 'wrong' }, plain, sizeOf);
      if (cure) {
        expect(cure.says).toMatch(/^[A-Z]/);
        expect(cure.edit(plain)).not.toEqual(plain);
      }
    }
  });
});
