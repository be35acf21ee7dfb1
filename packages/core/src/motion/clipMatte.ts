import { isAbort, type Context } from '../runtime/context';
import type { MatteProduct, OpacityGround } from '../matte/matte';
import type { Told } from './carry';
import { grownMask } from '../raster/morphology';
import { seenPicture, type Plane } from '../raster/plane';
import { maskAt, maskOf } from '../raster/mask';
import { cameraPath } from './camera';
import { clipGround, groundInFrame } from './clipPlate';
import { broughtBy, flowAt, roundTrip } from './flow';
import { brightnessOf } from '../colour/perceived';
import type { Frames } from './frames';
import { solvedFrames, toldBy, type Followed } from './frameSolve';
import { maskOfRuns } from './runs';
import { KnownFlows, seenAt, sweep, type FrameMark, type Sweep } from './sweep';

/** A clip whose subject has been followed: opacity of any frame can be had. */
export interface FollowedClip extends Followed {
  frames: Frames;
  /** Frames that were solved last. */
  solved: Map<number, Promise<Alone>>;
  /** Flow between frames beside each other, at the size at which the subject was followed. */
  flows: KnownFlows;
}

/** Longest side at which a subject is followed, px: its border is found at the frame's own size. And at which it is to see what it hides. */
const sweepSide = 360;
const roughSide = 240;
/** What is hidden is grown by this share of the longer side: the first sweep is rough. */
const hiddenShare = 0.02;
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
  const rough = await sweep(frames, marks, roughSide, context, new KnownFlows());
  if (!rough) return undefined;
  const size = await frames.load(0);
  const hides = async (i: number): Promise<Uint8Array> => hiddenBy(rough, i, size);
  const path = await cameraPath(frames, context, hides);
  const found = await clipGround(frames, path, hides, context);
  const ground = found.disagreement < mostDisagreement ? found : undefined;
  const told = async (i: number, own: OpacityGround): Promise<Told | undefined> =>
    ground && toldBy(own, await groundInFrame(ground, path, i, context), context);
  const flows = new KnownFlows();
  const cut = await sweep(frames, marks, sweepSide, context, flows, told);
  return { frames, marks, path, ...(ground && { ground }), cut: cut!, solved: new Map(), flows };
}

/** What the subject of a rough sweep hides of a frame. */
function hiddenBy({ width, height, labels }: Sweep, i: number, frame: { width: number; height: number }): Uint8Array {
  const mask = maskAt(maskOfRuns(labels[i]), width, height, frame.width, frame.height);
  return grownMask(mask, frame.width, frame.height, hiddenShare * Math.max(frame.width, frame.height));
}

/** A frame's opacity as it is solved by itself, and what flow is found on. */
interface Alone {
  index: number;
  product: MatteProduct;
  brightness: Plane;
}

/** Solved frames that are kept besides those solved together, so that a step along the clip solves one; and pixels of all that are solved together, at most. */
const kept = 4;
const mostTogether = 4.5e6;
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
  const [here, ...others] = await solvedAround(clip, frame, context);
  const { matte } = here.product;
  const data = matte.data.slice();
  const weight = new Float32Array(data.length).fill(1);
  for (const other of others) {
    const { product } = other;
    const { width, height } = matte;
    const [there, back] = await clip.flows.between(here, other, context);
    const was = broughtBy(flowAt(there, width, height), product.matte).data;
    const farthest = missed * (there.width / width);
    const home = maskOf(roundTrip(there, back), (trip) => trip <= farthest);
    const believed = maskAt(home, there.width, there.height, width, height);
    for (let p = 0; p < data.length; p++) {
      const off = Math.abs(was[p] - matte.data[p]) / another;
      if (!believed[p] || off >= 1 || off === 0) continue;
      const w = (besideShare / 2 / (1 - besideShare)) * (1 - off * off);
      data[p] += w * was[p];
      weight[p] += w;
    }
  }
  for (let p = 0; p < data.length; p++) data[p] /= weight[p];
  return { ...here.product, matte: { ...matte, data } };
}

/** A frame and those beside it as each is solved by itself; where one goes along the clip, as many as there are threads are solved together. */
async function solvedAround(clip: FollowedClip, frame: number, context: Context): Promise<Alone[]> {
  const { solved, frames, path } = clip;
  const wanted = [frame, frame - 1, frame + 1].filter((i) => i >= 0 && i < frames.count);
  const missing = wanted.filter((i) => !solved.has(i));
  const together = Math.max(1, Math.min(1 + (context.pool?.size ?? 0), Math.floor(mostTogether / (path.width * path.height))));
  if (missing.length > 0 && missing.length < wanted.length) {
    const step = Math.sign(missing[0] - frame) || 1;
    for (let i = missing[missing.length - 1] + step; missing.length < together && i >= 0 && i < frames.count; i += step) {
      if (!solved.has(i)) missing.push(i);
    }
  }
  const loading = missing.map(async (i) => seenPicture(await frames.load(i), context));
  const made = Promise.all(loading).then((shots) => solvedFrames(clip, missing, shots, context));
  // A frame that cannot be read is told by itself, below.
  made.catch(() => undefined);
  for (const [k, i] of missing.entries()) {
    const alone = async (): Promise<Alone> => {
      const brightness = brightnessOf(seenAt(await loading[k], sweepSide), context);
      return { index: i, brightness, product: (await made)[k] };
    };
    const held = alone();
    solved.set(i, held);
    held.catch(() => solved.get(i) === held && solved.delete(i));
  }
  const found = wanted.map((i) => {
    const held = solved.get(i)!;
    solved.delete(i);
    solved.set(i, held);
    return held;
  });
  for (const old of solved.keys()) if (solved.size > kept + together) solved.delete(old);
  try {
    return await Promise.all(found);
  } catch (error) {
    // Whoever asked first has given it up, and nobody here has.
    if (isAbort(error) && !context.signal?.aborted) return solvedAround(clip, frame, context);
    throw error;
  }
}
