import type { Context } from '../runtime/context';
import { parallelFor, sharedBytes, sharedFloats, type Kernel } from '../runtime/parallelFor';
import { evidenceOf, type Comparison } from '../matte/key/comparison';
import { comparedWith, guessBeforePlate, openOrSure } from '../matte/key/difference';
import {
  fringeReach,
  guessBySmall,
  opacityGround,
  opacityIn,
  defaultDifference,
  type MatteProduct,
  type OpacityGround,
} from '../matte/matte';
import { borderOf, enlarge, type RoughCut } from '../matte/cut/roughCut';
import { undecided, trimapOf } from '../matte/band/trimap';
import { grownMask } from '../raster/morphology';
import { makePlane, type Picture, type Plane } from '../raster/plane';
import { resizePicture, resizePlane } from '../raster/resize';
import { cutAround, type Told } from './carry';
import type { CameraPath } from './camera';
import { groundInFrame, type ClipGround, type GroundInFrame } from './clipPlate';
import { maskOfRuns } from './runs';
import type { FrameMark, Sweep } from './sweep';

/** What is known of a subject after it was followed, as plain data. */
export interface Followed {
  marks: readonly FrameMark[];
  path: CameraPath;
  /** The ground, where enough frames show it to be of use. */
  ground?: ClipGround;
  cut: Sweep;
}

/** A frame's opacity, in memory that the pool sees. */
interface Room {
  matte: Float32Array;
  behind?: Float32Array[];
  /** Share that was solved, and the size of the band, which stands at the beginning of its room; 0 without one. */
  numbers: Float32Array;
  band: Uint8Array;
}

interface SolveJob {
  shots: Picture[];
  frames: readonly number[];
  followed: Followed;
  scale: number;
  seed: number;
  rooms: Room[];
}

/** Solves one frame by itself. */
export const solveFrame: Kernel<SolveJob> = {
  name: 'solveFrame',
  begin:
    ({ shots, frames, followed, scale, seed, rooms }, context) =>
    async (k) => {
      const product = await matteAlone(shots[k], followed, frames[k], { ...context, scale, seed });
      const { matte, behind, numbers, band } = rooms[k];
      matte.set(product.matte.data);
      if (product.behind) [product.behind.r, product.behind.g, product.behind.b].forEach((plane, c) => behind?.[c].set(plane));
      numbers.set([product.solved, product.band?.width ?? 0, product.band?.height ?? 0]);
      if (product.band) band.set(product.band.data);
    },
};

/**
 * Opacity of some frames, each by itself and by one thread.
 *
 * @param shots the frames, in memory that the pool sees
 * @throws AbortError
 */
export async function solvedFrames(
  { marks, path, ground, cut }: Followed,
  frames: readonly number[],
  shots: Picture[],
  context: Context,
): Promise<MatteProduct[]> {
  const { width, height } = path;
  const n = width * height;
  const rooms = frames.map((): Room => {
    const behind = ground && [0, 1, 2].map(() => sharedFloats(n, context));
    return { matte: sharedFloats(n, context), ...(behind && { behind }), numbers: sharedFloats(3, context), band: sharedBytes(n, context) };
  });
  // Of all that is known only what these frames need is sent to other threads.
  const of = <T>(all: T[]): T[] => frames.map((i) => all[i]);
  const followed: Followed = {
    marks: marks.flatMap((m) => frames.flatMap((i, k) => (m.frame === i ? [{ ...m, frame: k }] : []))),
    path: { ...path, toReference: of(path.toReference), gain: of(path.gain), fits: of(path.fits) },
    ...(ground && { ground }),
    cut: { ...cut, labels: of(cut.labels), certainty: of(cut.certainty) },
  };
  const { scale, seed } = context;
  const own = frames.map((_, k) => k);
  await parallelFor(solveFrame, { shots, frames: own, followed, scale, seed, rooms }, frames.length, context);
  return rooms.map(({ matte, behind, numbers: [solved, w, h], band }) => ({
    ...{ matte: { width, height, data: matte }, solved },
    ...(w > 0 && { band: { width: w, height: h, data: band.subarray(0, w * h) } }),
    ...(behind && { behind: { width, height, r: behind[0], g: behind[1], b: behind[2] } }),
  }));
}

/** How far frames may be apart where they show the same ground, encoded. */
const sameGround = 0.05;

/** How far the ground is known, 0 to 1: where several frames show the same. */
function known({ seen, looks, apart }: GroundInFrame): Plane {
  const data = new Float32Array(seen.data.length);
  for (let p = 0; p < data.length; p++) {
    if (seen.data[p]) data[p] = Math.min(1, looks.data[p] / 3) * Math.exp(-((apart.data[p] / sameGround) ** 2));
  }
  return { ...seen, data };
}

/** What the ground tells in a frame: itself, and how far it is known, at the size at which opacity is solved. */
interface ToldByGround extends Told {
  comparison: Comparison;
  trust: Float32Array;
}

export async function toldBy({ light }: OpacityGround, ground: GroundInFrame, context: Context): Promise<ToldByGround> {
  const { width, height } = light;
  const trust = resizePlane(known(ground), width, height);
  const comparison = await comparedWith(light, resizePicture(ground.picture, width, height), trust, context);
  const evidence = evidenceOf(comparison, trust, defaultDifference.threshold);
  const rest = new Float32Array(evidence.length);
  for (let p = 0; p < rest.length; p++) {
    evidence[p] *= trust.data[p];
    rest[p] = 1 - mostTold * trust.data[p];
  }
  return { comparison, trust: trust.data, evidence, rest };
}

/** Where the ground is fully known, so much less counts what was carried. */
const mostTold = 0.8;

/** Opacity of a frame without those beside it. */
async function matteAlone(
  shot: Picture,
  { marks, path, ground, cut: rough }: Followed,
  frame: number,
  context: Context,
): Promise<MatteProduct> {
  const own = await opacityGround(shot, context);
  const lab = own.levels[own.levels.length - 1];
  const { width, height } = lab;
  const n = width * height;
  const here = ground && (await groundInFrame(ground, path, frame, context));
  const label = enlarge({ label: maskOfRuns(rough.labels[frame]), width: rough.width, height: rough.height }, width, height);
  if (!label.includes(1)) return { matte: makePlane(shot.width, shot.height), solved: 0, ...(here && { behind: here.picture }) };
  const told = here && (await toldBy(own, here, context));
  const still = { free: new Uint8Array(n), evidence: new Float32Array(n) };
  const drawn = marks.filter((m) => m.frame === frame);
  const cut = await cutAround(own, rough.sides, label, still, drawn, context, told);
  const reach = fringeReach(lab, own.ratios[own.ratios.length - 1] * context.scale);
  const state = await trimapOf(cut, lab, reach, context);
  const guess = await guessBySmall(own, state, context);
  if (!here || !told) return opacityIn(own, state, guess, { rounds: 8 }, context);
  const { comparison, trust } = told;
  openBefore(state, cut, told, openOrSure(comparison, cut.label), reach);
  const before = await guessBeforePlate(comparison, state, context);
  for (let p = 0; p < trust.length; p++) {
    before.opacity.data[p] = guess.opacity.data[p] + trust[p] * (before.opacity.data[p] - guess.opacity.data[p]);
    before.trust.data[p] = before.trust.data[p] * trust[p] + 0.01;
  }
  return { ...(await opacityIn(own, state, before, { dataWeight: 1 }, context)), behind: here.picture };
}

/** Where the ground is known it tells, not colour, what is open: gaps inside that show it, and strands outside that do not. */
function openBefore(
  state: Uint8Array,
  { label, seeds, width, height }: RoughCut,
  { evidence, trust }: ToldByGround,
  before: Uint8Array,
  reach: number,
): void {
  const near = grownMask(borderOf(label, width, height), width, height, reach);
  const against = new Uint8Array(label.length);
  for (let p = 0; p < label.length; p++) {
    const e = evidence[p];
    if (label[p] ? e < -gap : near[p] && e > strand) against[p] = 1;
  }
  const doubtful = grownMask(against, width, height, 1.5);
  for (let p = 0; p < label.length; p++) {
    if (trust[p] < 0.5 || seeds[p]) continue;
    state[p] = doubtful[p] ? undecided : before[p];
  }
}

/** Evidence of the ground that speaks against the cut. */
const gap = 3;
const strand = 2;
