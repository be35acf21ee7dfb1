import { defaultContext } from '../../runtime/context';
import { graded, defaultGrade } from '../../grade/grade';
import { dithered, findBanding } from '../../match/banding';
import { measureGrain } from '../../match/grain';
import { measureTone } from '../../match/tone';
import { gaussian } from '../../raster/filter';
import { makePicture, pictureOf, planesOf, withOpacity, type Picture } from '../../raster/plane';
import { newRecipe, type Recipe } from '../../recipe/recipe';
import { dotted, fringed, grounded, laidOver, lowestOf, noisy, proofScene, smeared, torn, type ProofScene } from '../../testing/faults';
import { edgeWalk } from '../edgeWalk';
import type { Check, CheckId } from './check';
import { checkContact, checkHalo, checkTorn } from './outline';
import { checkBanding, checkClipping, checkResidueInEdge, checkSides, checkSpecks } from './pictures';
import { checkEnlarged, checkFrameOpen } from './framing';

/** So many pictures with the fault, and as many without, when a check is measured. */
export const allSeeds = Array.from({ length: 15 }, (_, i) => i);

interface Trial {
  check: Check;
  /** Where the fault is, px of the full size; nothing when it is everywhere. */
  at?: { x: number; y: number }[];
}

/** How a check did: shares of the faulty that it found, of the sound that it took for faulty, and of the found that it placed within 24 px. */
export interface Tried {
  recall: number;
  alarms: number;
  placed: number;
}

/** How often a fault is found and placed, and how often there is an alarm without one, in the pictures of these seeds. */
export async function tried(
  trial: (scene: ProofScene, seed: number, faulty: boolean) => Trial | Promise<Trial>,
  seeds: readonly number[],
): Promise<Tried> {
  let [found, alarms, placed, asked] = [0, 0, 0, 0];
  for (const seed of seeds) {
    const scene = proofScene(seed);
    const { check, at } = await trial(scene, seed, true);
    const isFound = check.verdict === 'look' || check.verdict === 'wrong';
    found += isFound ? 1 : 0;
    if (at && isFound) {
      asked++;
      const reach = 24;
      const near = check.places.filter((b) => at.some((q) => q.x > b.x - reach && q.y > b.y - reach && q.x < b.x + b.width + reach && q.y < b.y + b.height + reach)); // prettier-ignore
      if (near.length >= 0.7 * check.places.length && near.length > 0) placed++;
    }
    const clean = (await trial(scene, seed, false)).check;
    alarms += clean.verdict === 'look' || clean.verdict === 'wrong' ? 1 : 0;
  }
  return { recall: found / seeds.length, alarms: alarms / seeds.length, placed: asked ? placed / asked : 1 };
}

const context = defaultContext({ scale: 0.5 });
/** Each check with made-up pictures that have its fault, and the same without. */
export const trials: [CheckId, (s: ProofScene, seed: number, faulty: boolean) => Trial | Promise<Trial>][] = [
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
      const bright = { ...defaultGrade, exposure: faulty ? 1.7 + (seed % 3) : 0.05 };
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
      const warm = await graded(grey, { ...defaultGrade, temperature: faulty ? 70 + 5 * seed : 8 }, context);
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
export const plain = newRecipe('Trial', 'shot', 900, 600);
export const sizeOf = () => ({ width: 900, height: 600 });
export const shifted = (by: number): Recipe => ({ ...plain, frame: { ...plain.frame, x: by } });
const scaled = (by: number): Recipe => ({ ...plain, cards: plain.cards.map((c) => (c.kind === 'subject' ? { ...c, placement: { ...c.placement, scale: by } } : { ...c, hidden: true })) }); // prettier-ignore
