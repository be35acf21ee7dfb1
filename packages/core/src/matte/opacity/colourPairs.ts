import { inArenaNow, type Numbers, type Arena } from '../../runtime/arena';
import type { Context } from '../../runtime/context';
import { sharedFloats, sharedNumbers, parallelFor, type Kernel } from '../../runtime/parallelFor';
import { distanceTo } from '../../raster/distance';
import { seenPicture, type Picture, type Plane } from '../../raster/plane';
import { widened } from '../../raster/widened';
import { undecided } from '../band/trimap';

/** A first opacity of the undecided pixels and how far it can be trusted. */
export interface Guess {
  /** Opacity, 0 to 1. */
  opacity: Plane;
  /** 0 (do not believe) to 1. */
  trust: Plane;
}

/** A guess and how it was come by. */
export interface PairGuess extends Guess {
  trimap: Uint8Array;
  /** The pair that each pixel has found: pixels with the subject's and the background's colour, or −1. */
  bestIn: Int32Array;
  bestOut: Int32Array;
  /** How far a pixel has looked for it, px. */
  looked: Float32Array;
  /** How far a pixel's colour is from what its pair mixes to, before a known background. */
  left?: Float32Array;
}

/** Before a known background: how much dearer half covered is than opaque or clear, in encoded light. */
const halfCost = 0.025;

const rays = 8;

/**
 * Opacity from sampled colour pairs: each undecided pixel looks along a few rays, whose directions rotate
 * from pixel to pixel, for the first known colour, subject's or background's, tries all pairs, and keeps the one
 * that explains its colour best at the least distance; then it tries the pairs its neighbours kept
 * (after Gastal & Oliveira 2010).
 *
 * @param light the picture in the light in which mixing is taken as linear
 * @param trimap one of `surelyOut`, `undecided`, `surelyIn` a pixel
 * @param last the guess at other states of the same picture: only what can see a difference looks again, for the same answer
 * @param behind what is known to be behind each pixel, in the same light: only the subject's colour is then looked for
 * @throws AbortError
 */
export async function guessFromPairs(
  light: Picture,
  trimap: Uint8Array,
  context: Context,
  last?: PairGuess,
  behind?: Picture,
): Promise<PairGuess> {
  const { width, height } = light;
  const n = width * height;
  const numbers = (from: Int32Array | undefined, fill: number): Int32Array => {
    const out = sharedNumbers(n, context);
    if (from) out.set(from);
    else out.fill(fill);
    return out;
  };
  const floats = (from: Float32Array | undefined): Float32Array => {
    const out = sharedFloats(n, context);
    if (from) out.set(from);
    return out;
  };
  const looking = last && seeingOther(trimap, last);
  if (looking?.includes(1) === false) return last!;
  const taking = looking && widened(looking, width, height, 2);
  const job: PairJob = {
    ...{ light: await seenPicture(light, context), trimap },
    ...(behind && { behind: await seenPicture(behind, context), left: floats(undefined) }),
    ...(looking && { looking, taking }),
    bestIn: numbers(last?.bestIn, -1),
    bestOut: numbers(last?.bestOut, -1),
    looked: floats(last?.looked),
    opacity: floats(last?.opacity.data),
    trust: floats(last?.trust.data),
  };
  const parts = Math.ceil(height / bandOf(height));
  await parallelFor(lookForPairs, job, parts, context);
  await parallelFor(takePairs, job, parts, context);
  const { bestIn, bestOut, looked, left, opacity, trust } = job;
  const plane = (data: Float32Array): Plane => ({ width, height, data });
  return { ...{ trimap, bestIn, bestOut, looked }, ...(left && { left }), opacity: plane(opacity), trust: plane(trust) };
}

/** 1 for the pixels whose trimap is another, and for those that have looked as far as such a one. */
function seeingOther(trimap: Uint8Array, { trimap: before, looked, opacity: { width, height } }: PairGuess): Uint8Array {
  const out = new Uint8Array(trimap.length);
  let farthest = 0;
  for (let p = 0; p < out.length; p++) {
    if (trimap[p] !== before[p]) out[p] = 1;
    else if (trimap[p] === undecided && looked[p] > farthest) farthest = looked[p];
  }
  if (!out.includes(1)) return out;
  // Rays end beside the places they are rounded to.
  const away = distanceTo(out, width, height, farthest + 1).data;
  for (let p = 0; p < out.length; p++) if (trimap[p] === undecided && away[p] <= looked[p] + 1) out[p] = 1;
  return out;
}

interface PairJob extends Pick<PairGuess, 'trimap' | 'bestIn' | 'bestOut' | 'looked' | 'left'> {
  light: Picture;
  behind?: Picture;
  /** 1 where pairs are looked for, and where they are taken; everywhere when left out. */
  looking?: Uint8Array;
  taking?: Uint8Array;
  opacity: Float32Array;
  trust: Float32Array;
}

/** Rows that a thread takes at a time: a twelfth of them, as all of the picture has to be put in its arena. */
function bandOf(height: number): number {
  return Math.ceil(height / 12);
}

/** Puts the picture, and what is known to be behind it, in the arena. */
function putPictures(arena: Arena, light: Picture, behind: Picture | undefined): void {
  const own = arena.copiesIn(light.r, light.g, light.b);
  const known = behind ? arena.copiesIn(behind.r, behind.g, behind.b) : ([0, 0, 0] as const);
  arena.run.pairsOn(light.width, light.height, ...own, ...known, behind ? halfCost : 0);
}

/** Looks for each undecided pixel's own pair, band by band. */
export const lookForPairs: Kernel<PairJob> = {
  name: 'lookForPairs',
  begin({ light, behind, trimap, looking, bestIn, bestOut, looked }) {
    const { width, height } = light;
    const reach = Math.ceil(Math.hypot(width, height) / 4);
    const ways = Float64Array.from({ length: 9 * rays }, (_, i) => ((i / 9) * 2 * Math.PI) / rays);
    const steps = Float64Array.from({ length: 18 * rays }, (_, i) => (i % 2 ? Math.sin : Math.cos)(ways[i >> 1]));
    return (part) => {
      const [from, to] = [part * bandOf(height), Math.min(height, (part + 1) * bandOf(height))];
      const rows = <T extends Numbers>(plane: T): Numbers => plane.subarray(from * width, to * width);
      if (looking && !rows(looking).includes(1)) return;
      inArenaNow((arena) => {
        putPictures(arena, light, behind);
        const mine = [rows(bestIn), rows(bestOut), rows(looked)] as const;
        const places = arena.copiesIn(...mine);
        arena.run.lookForPairs(
          from,
          to,
          arena.copyIn(trimap),
          looking ? arena.copyIn(rows(looking)) : 0,
          reach,
          arena.copyIn(steps),
          ...places,
        );
        mine.forEach((plane, i) => arena.copyOut(places[i], plane));
      });
    };
  },
};

/** Takes the best of the pairs that a pixel and its neighbours have found, band by band. */
export const takePairs: Kernel<PairJob> = {
  name: 'takePairs',
  begin({ light, behind, trimap, taking, bestIn, bestOut, left, opacity, trust }) {
    const { width, height } = light;
    return (part) => {
      const [from, to] = [part * bandOf(height), Math.min(height, (part + 1) * bandOf(height))];
      const rows = <T extends Numbers>(plane: T): Numbers => plane.subarray(from * width, to * width);
      if (taking && !rows(taking).includes(1)) return;
      const [top, end] = [Math.max(0, from - 2), Math.min(height, to + 2)];
      inArenaNow((arena) => {
        putPictures(arena, light, behind);
        const found = arena.copiesIn(bestIn.subarray(top * width, end * width), bestOut.subarray(top * width, end * width));
        const mine = [opacity, trust, ...(left ? [left] : [])].map(rows);
        const places = mine.map((plane) => arena.copyIn(plane));
        const [seeds, asked] = [arena.copyIn(rows(trimap)), taking ? arena.copyIn(rows(taking)) : 0];
        arena.run.takePairs(from, to, top, ...found, seeds, asked, places[0], places[1], places[2] ?? 0);
        mine.forEach((plane, i) => arena.copyOut(places[i], plane));
      });
    };
  },
};
