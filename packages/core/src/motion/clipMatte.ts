import type { Context } from '../runtime/context';
import { guessBeforePlate, plateEvidence, stateBeforePlate } from '../matte/key/difference';
import { guessBySmall, opacityGround, opacityIn, defaultDifference, type MatteProduct, type OpacityGround } from '../matte/matte';
import { borderOf, enlarge, type RoughCut } from '../matte/cut/roughCut';
import { undecided, trimapOf } from '../matte/band/trimap';
import { cutAround, type Told } from './carry';
import { grownMask } from '../raster/morphology';
import { makePlane, type Picture, type Plane } from '../raster/plane';
import { maskAt, numbersOf } from '../raster/mask';
import { resizePicture, resizePlane } from '../raster/resize';
import { cameraPath, type CameraPath } from './camera';
import { clipGround, groundInFrame, type ClipGround, type GroundInFrame } from './clipPlate';
import { brightnessOf, broughtBy, roundTrip } from './flow';
import type { Frames } from './frames';
import { maskOfRuns } from './runs';
import { KnownFlows, sweep, type FrameMark, type Sweep } from './sweep';

/** A clip whose subject has been followed: opacity of any frame can be had. */
export interface FollowedClip {
  frames: Frames;
  marks: readonly FrameMark[];
  path: CameraPath;
  /** The ground, where enough frames show it to be of use. */
  ground?: ClipGround;
  cut: Sweep;
  /** Frames that were solved last. */
  solved: Map<number, Promise<Alone>>;
  /** Flow between frames beside each other at their own size, of the pairs that were looked at last: each is asked for from both sides. */
  flows: KnownFlows;
}

/** Longest side at which a subject is followed, px: its border is found at the frame's own size. */
const roughSide = 360;
/** What is hidden is grown by this share of the longer side: the first sweep is rough. */
const hiddenShare = 0.02;
/** How far frames may be apart where they show the same ground, encoded. */
const sameGround = 0.05;
/** A ground that so few of the looked-at pixels' frames agree on is of no use, code values. */
const mostDisagreement = 6;

/**
 * Follows a subject through a clip: once roughly, which tells where the ground is hidden; then with the ground that the frames show
 * themselves.
 *
 * @param marks strokes in pixels of a frame, on any frame
 * @returns nothing when no mark says where the subject is
 * @throws AbortError
 */
export async function followClip(frames: Frames, marks: readonly FrameMark[], context: Context): Promise<FollowedClip | undefined> {
  const flows = new KnownFlows();
  const rough = await sweep(frames, marks, roughSide, context, flows);
  if (!rough) return undefined;
  const size = await frames.load(0);
  const hides = async (i: number): Promise<Uint8Array> => hiddenBy(rough, i, size);
  const path = await cameraPath(frames, context, hides);
  const found = await clipGround(frames, path, hides, context);
  const ground = found.disagreement < mostDisagreement ? found : undefined;
  if (!ground) return { frames, marks, path, cut: rough, solved: new Map(), flows: new KnownFlows(pairsKept) };
  const told = async (i: number, own: OpacityGround): Promise<Told> => toldBy(own, groundInFrame(ground, path, i), context);
  const cut = await sweep(frames, marks, roughSide, context, flows, told);
  return { frames, marks, path, ground, cut: cut!, solved: new Map(), flows: new KnownFlows(pairsKept) };
}

/** What the subject of a rough sweep hides of a frame. */
function hiddenBy({ width, height, labels }: Sweep, i: number, frame: { width: number; height: number }): Uint8Array {
  const mask = maskAt(maskOfRuns(labels[i]), width, height, frame.width, frame.height);
  return grownMask(mask, frame.width, frame.height, hiddenShare * Math.max(frame.width, frame.height));
}

/** How far the ground is known, 0 to 1: where several frames show the same. */
function known({ seen, looks, apart }: GroundInFrame): Plane {
  const data = numbersOf(seen.data, (s, p) => s * Math.min(1, looks.data[p] / 3) * Math.exp(-((apart.data[p] / sameGround) ** 2)));
  return { ...seen, data };
}

/** What the ground tells in a frame: itself, and how far it is known, at the size at which opacity is solved. */
interface ToldByGround extends Told {
  behind: Picture;
  trust: Float32Array;
}

async function toldBy({ light }: OpacityGround, ground: GroundInFrame, context: Context): Promise<ToldByGround> {
  const { width, height } = light;
  const trust = resizePlane(known(ground), width, height);
  const behind = resizePicture(ground.picture, width, height);
  const evidence = await plateEvidence(light, behind, trust, defaultDifference, context);
  const { data } = trust;
  return { behind, trust: data, evidence: numbersOf(evidence, (e, p) => e * data[p]), rest: numbersOf(data, (t) => 1 - mostTold * t) };
}

/** Where the ground is fully known, so much less counts what was carried. */
const mostTold = 0.8;

/** A frame's opacity as it is solved by itself, and what flow is found on. */
interface Alone {
  index: number;
  product: MatteProduct;
  brightness: Plane;
}

/** Solved frames that are kept, so that a step along the clip solves one, and pairs of them. */
const kept = 4;
const pairsKept = 3;
/** How much the frames beside a frame count in it, both together, where flow leads to them and opacity is not quite another there. */
const besideShare = 0.67;
const another = 1.0;
/** A pixel that misses itself by more after going there and back is not believed, px. */
const missed = 1;

/**
 * Opacity of the subject in one frame, 0 to 1, of the frame's size, and the ground behind it where the clip shows it. Opacity is
 * steadied by that of the frames beside it, brought here by flow: an edge does not boil. Any frame can be had on its own, and comes out the same.
 *
 * @throws AbortError
 */
export async function frameMatte(clip: FollowedClip, frame: number, context: Context): Promise<MatteProduct> {
  const alone = (i: number): Promise<Alone> => {
    const { solved } = clip;
    const held = solved.get(i) ?? solvedAlone(clip, i, context);
    solved.delete(i);
    solved.set(i, held);
    held.catch(() => solved.delete(i));
    for (const old of solved.keys()) if (solved.size > kept) solved.delete(old);
    return held;
  };
  const here = await alone(frame);
  const others: Alone[] = [];
  for (const i of [frame - 1, frame + 1]) if (i >= 0 && i < clip.frames.count) others.push(await alone(i));
  const { matte } = here.product;
  const data = matte.data.slice();
  const weight = new Float32Array(data.length).fill(1);
  for (const other of others) {
    const { product } = other;
    const [there, back] = await clip.flows.between(here, other, context);
    const was = broughtBy(there, product.matte).data;
    const trip = roundTrip(there, back);
    for (let p = 0; p < data.length; p++) {
      const off = Math.abs(was[p] - matte.data[p]) / another;
      if (trip[p] > missed || off >= 1 || off === 0) continue;
      const w = (besideShare / 2 / (1 - besideShare)) * (1 - off * off);
      data[p] += w * was[p];
      weight[p] += w;
    }
  }
  for (let p = 0; p < data.length; p++) data[p] /= weight[p];
  return { ...here.product, matte: { ...matte, data } };
}

async function solvedAlone(clip: FollowedClip, frame: number, context: Context): Promise<Alone> {
  const shot = await clip.frames.load(frame);
  return { index: frame, brightness: brightnessOf(shot, context), product: await matteAlone(shot, clip, frame, context) };
}

/** Opacity of a frame without those beside it. */
async function matteAlone(
  shot: Picture,
  { marks, path, ground, cut: rough }: FollowedClip,
  frame: number,
  context: Context,
): Promise<MatteProduct> {
  const own = await opacityGround(shot, context);
  const lab = own.levels[own.levels.length - 1];
  const { width, height } = lab;
  const n = width * height;
  const here = ground && groundInFrame(ground, path, frame);
  const label = enlarge({ label: maskOfRuns(rough.labels[frame]), width: rough.width, height: rough.height }, width, height);
  if (!label.includes(1)) return { matte: makePlane(shot.width, shot.height), solved: 0, ...(here && { behind: here.picture }) };
  const told = here && (await toldBy(own, here, context));
  const still = { free: new Uint8Array(n), evidence: new Float32Array(n) };
  const drawn = marks.filter((m) => m.frame === frame);
  const cut = await cutAround(own, rough.sides, label, still, drawn, context, told);
  const reach = Math.max(3, 21 * own.ratios[own.ratios.length - 1] * context.scale);
  const state = await trimapOf(cut, lab, reach, context);
  const guess = await guessBySmall(own, state, context);
  if (!here || !told) return opacityIn(own, state, guess, { rounds: 8 }, context);
  const { behind, trust } = told;
  openBefore(state, cut, told, await stateBeforePlate(own.light, behind, cut.label, context), reach);
  const before = await guessBeforePlate(own.light, behind, state, context);
  for (let p = 0; p < trust.length; p++) {
    guess.opacity.data[p] += trust[p] * (before.opacity.data[p] - guess.opacity.data[p]);
  }
  const weighed = { opacity: guess.opacity, trust: { ...before.trust, data: numbersOf(before.trust.data, (t, p) => t * trust[p] + 0.01) } };
  return { ...(await opacityIn(own, state, weighed, { dataWeight: 1 }, context)), behind: here.picture };
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
