import { pause, type Context } from '../runtime/context';
import { cutMemory, roughCut, type RoughCut } from '../matte/cut/roughCut';
import { closesSubject, type Mark } from '../matte/cut/marks';
import { opacityGround, type OpacityGround } from '../matte/matte';
import { resizePicture, resizePlane, scaledSize } from '../raster/resize';
import type { Picture, Plane } from '../raster/plane';
import { cutCarried, toldWeight, type Sides, type Told } from './carry';
import { opticalFlow, type Flow } from './flow';
import { brightnessOf } from '../colour/perceived';
import type { Frames } from './frames';
import { carriedFrom, type Carried } from './layers';
import { maskOfRuns, runsOf, type Runs } from './runs';

/** A stroke, and the frame it is drawn on. */
export type FrameMark = Mark & { frame: number };

/** Where the subject is in each frame, hard. */
export interface Sweep {
  width: number;
  height: number;
  /** 1 inside, a frame. */
  labels: Runs[];
  /** How sure each frame is, 0 to 1. */
  certainty: number[];
  sides: Sides;
}

/** What else tells the subject in a frame, of the cut's size; or nothing. */
export type OtherEvidence = (frame: number, ground: OpacityGround) => Promise<Told | undefined>;

/** How much it counts, in a marked frame, where the subject was in another one; in the colour models' units. */
const priorWeight = 3;

/** What was carried to a frame from the marked one on its other side; nearness is one over how many frames away that is. */
interface OtherSide {
  label: Uint8Array;
  certainty: number;
  nearness: number;
}

/** Room for flows of a long clip's first frames, bytes; and so many pairs after them, the last ones: each is asked for from both sides. */
const mostKept = 100e6;
const lastPairs = 3;

/** A frame between which and others there is flow. */
interface FlowFrame {
  index: number;
  brightness: Plane;
}

/** Flows between the frames of a clip at one size: a clip is swept twice, to both sides, and frames beside each other steady each other. */
export class KnownFlows {
  private readonly first = new Map<string, Flow[]>();
  private readonly last = new Map<string, Flow[]>();
  private bytes = 0;

  /** @param room for the first ones, bytes */
  constructor(private readonly room = mostKept) {}

  /** The flow from one frame to another, and back. */
  async between(a: FlowFrame, b: FlowFrame, context: Context): Promise<Flow[]> {
    const [low, high] = a.index < b.index ? [a, b] : [b, a];
    const key = `${low.index} ${high.index}`;
    const pair = this.first.get(key) ?? this.last.get(key) ?? (await this.found(key, low, high, context));
    return low === a ? pair : [pair[1], pair[0]];
  }

  private async found(key: string, low: FlowFrame, high: FlowFrame, context: Context): Promise<Flow[]> {
    const pair = await opticalFlow([low.brightness, high.brightness], [[0, 1], [1, 0]], context); // prettier-ignore
    const bytes = 4 * pair[0].u.byteLength;
    const fits = this.bytes + bytes <= this.room;
    (fits ? this.first : this.last).set(key, pair);
    if (fits) this.bytes += bytes;
    for (const old of this.last.keys()) if (this.last.size > lastPairs) this.last.delete(old);
    return pair;
  }
}

interface FrameGround {
  index: number;
  ground: OpacityGround;
  brightness: Plane;
}

interface Step extends FrameGround {
  label: Uint8Array;
  certainty: number;
}

/**
 * The subject in all frames from marks on some: cut by its marks in the frame that has most of them, carried from there to the other
 * marked frames, which correct it, and then from each marked frame to both sides; between two of them both answers count by how near
 * and how sure they are.
 *
 * @param longest the longest side at which it is done, px
 * @param flows what was found between frames at that size, and is again when it is swept once more
 * @returns nothing when no mark says where the subject is
 * @throws AbortError
 */
export async function sweep(
  frames: Frames,
  marks: readonly FrameMark[],
  longest: number,
  context: Context,
  flows: KnownFlows,
  other: OtherEvidence = async () => undefined,
): Promise<Sweep | undefined> {
  const marksOn = (i: number): FrameMark[] => marks.filter((m) => m.frame === i);
  const marked = [...new Set(marks.map((m) => m.frame))].filter((i) => i >= 0 && i < frames.count);
  const open = marked.filter((i) => marksOn(i).some(closesSubject));
  if (open.length === 0) return undefined;
  const first = open.reduce((a, b) => (marksOn(b).length > marksOn(a).length ? b : a));
  let done = 0;
  const told = async (): Promise<void> => pause(context, 'Following the subject', Math.min(1, done++ / (2 * frames.count)));

  const begun = await groundOf(first);
  const cut = await cutMarked(begun.ground, marksOn(first), undefined, await other(first, begun.ground));
  const sides: Sides = { inside: cut.inside, outside: cut.outside };
  const { width, height } = cut;
  const labels = new Array<Runs | undefined>(frames.count);
  const certainty = new Array<number>(frames.count).fill(0);
  const keep = ({ index, label, certainty: c }: Step): void => {
    labels[index] = runsOf(label);
    certainty[index] = c;
  };
  const steps = new Map<number, Step>([[first, { ...begun, label: cut.label, certainty: 1 }]]);
  keep(steps.get(first)!);

  // The other marked frames, nearest first.
  for (const i of marked.filter((m) => m !== first).sort((a, b) => Math.abs(a - first) - Math.abs(b - first))) {
    const from = [...steps.keys()].reduce((a, b) => (Math.abs(b - i) < Math.abs(a - i) ? b : a));
    let step = steps.get(from)!;
    while (step.index !== i) {
      await told();
      const next = step.index + Math.sign(i - step.index);
      if (next !== i) step = await carried(step, next);
      else {
        const there = await groundOf(i);
        const what = await carryTo(step, there);
        const evidence = await other(i, there.ground);
        const again = await cutMarked(there.ground, marksOn(i), what, evidence);
        step = { ...there, label: again.label, certainty: 1 };
      }
    }
    steps.set(i, step);
    keep(step);
  }
  const known = [...steps.keys()].sort((a, b) => a - b);
  for (const [k, i] of known.entries()) {
    const next = known[k + 1] as number | undefined;
    const end = next ?? frames.count;
    let step = steps.get(i)!;
    for (let j = i + 1; j < end; j++) {
      await told();
      step = await carried(step, j);
      keep(step);
    }
    const before = k > 0 ? known[k - 1] : -1;
    step = steps.get(i)!;
    for (let j = i - 1; j > before; j--) {
      await told();
      const otherSide = before < 0 ? undefined : { label: maskOfRuns(labels[j]!), certainty: certainty[j], nearness: 1 / (j - before) };
      step = await carried(step, j, 1 / (i - j), otherSide);
      keep(step);
    }
  }
  return { width, height, labels: labels.map((l) => l!), certainty, sides };

  async function groundOf(i: number): Promise<FrameGround> {
    const frame = await frames.load(i);
    const ground = await opacityGround(seenAt(frame, longest), context);
    // Marks are in pixels of the frame.
    ground.ratios = ground.ratios.map((r) => r * (ground.shot.width / frame.width));
    return { index: i, ground, brightness: brightnessOf(ground.middle, context) };
  }

  async function cutMarked(ground: OpacityGround, own: Mark[], what: Carried | undefined, told?: Told): Promise<RoughCut> {
    // Without an inside mark of its own a frame is cut where it was carried, and marks are hard.
    if (what && !own.some(closesSubject)) return cutCarried(ground, sides, what, own, reachOf(ground), context, told);
    const scales = ground.ratios.map((r) => r * context.scale);
    const [small] = ground.levels;
    const large = ground.levels[ground.levels.length - 1];
    const place = new Float32Array(large.width * large.height);
    for (let p = 0; p < place.length; p++) {
      place[p] = (what ? priorWeight * what.trust[p] * (2 * what.chance[p] - 1) : 0) + toldWeight * (told?.evidence[p] ?? 0);
    }
    const prior = { place: resizePlane({ width: large.width, height: large.height, data: place }, small.width, small.height).data };
    const memory = await cutMemory(ground.levels, context);
    return roughCut(ground.levels, scales, own, context, memory, prior);
  }

  async function carryTo(from: Step, to: FrameGround): Promise<Carried> {
    const [there, back] = await flows.between(to, from, context);
    return carriedFrom(to.ground.light, { light: from.ground.light, subject: Float32Array.from(from.label) }, there, back);
  }

  async function carried(from: Step, to: number, nearness = 1, otherSide?: OtherSide): Promise<Step> {
    const there = await groundOf(to);
    const what = await carryTo(from, there);
    if (otherSide) {
      const [far, near] = [otherSide.certainty * otherSide.nearness, from.certainty * nearness];
      const weight = far / (far + near + 1e-6);
      for (let p = 0; p < what.chance.length; p++) what.chance[p] += weight * (otherSide.label[p] - what.chance[p]);
    }
    const evidence = await other(to, there.ground);
    const { label } = await cutCarried(there.ground, sides, what, [], reachOf(there.ground), context, evidence);
    return {
      ...there,
      label,
      certainty: certaintyOf(what, label, Math.max(from.certainty, otherSide?.certainty ?? 0), evidence),
    };
  }
}

/** A frame at the size at which a subject is followed. */
export function seenAt(frame: Picture, longest: number): Picture {
  const ratio = Math.min(1, longest / Math.max(frame.width, frame.height));
  const { width, height } = scaledSize(frame.width, frame.height, ratio);
  return resizePicture(frame, width, height);
}

/** How far from where the subject was carried something that has come into the picture may be of it: a share of the longer side. */
const reachShare = 0.1;

function reachOf({ middle }: { middle: Picture }): number {
  return reachShare * Math.max(middle.width, middle.height);
}

/** How much of what a frame was sure of the next one is. */
const kept = 0.97;

/**
 * How sure a carried frame is: how well what was carried and what was cut agree, times how sure the frame was that it comes from; where
 * the ground is known, an error does not go on, and that counts less.
 */
function certaintyOf({ chance }: Carried, label: Uint8Array, before: number, told: Told | undefined): number {
  let [both, either, known] = [0, 0, 0];
  for (let p = 0; p < label.length; p++) {
    const was = chance[p] >= 0.5 ? 1 : 0;
    both += was & label[p];
    if (!(was | label[p])) continue;
    either++;
    if (told) known += 1 - told.rest[p];
  }
  if (either === 0) return before;
  return Math.sqrt(both / either) * (kept * before + (known / either) * (1 - kept * before));
}
