import type { Context } from '../context/context';
import { sharedFloats, sharedNumbers, together, type Kernel } from '../context/together';
import { distanceTo } from '../raster/distance';
import { seenPicture, type Picture, type Plane } from '../raster/plane';
import { widened } from '../raster/widened';
import { surelyIn, undecided } from './undecided';

/** A first opacity of the undecided pixels and how far it can be trusted. */
export interface Guess {
  /** Opacity, 0 to 1. */
  opacity: Plane;
  /** 0 (do not believe) to 1. */
  trust: Plane;
}

/** A guess and how it was come by. */
export interface PairGuess extends Guess {
  state: Uint8Array;
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
 * @param state one of `surelyOut`, `undecided`, `surelyIn` a pixel
 * @param last the guess at other states of the same picture: only what can see a difference looks again, for the same answer
 * @param behind what is known to be behind each pixel, in the same light: only the subject's colour is then looked for
 * @throws AbortError
 */
export async function guessFromPairs(
  light: Picture,
  state: Uint8Array,
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
  const looking = last && seeingOther(state, last);
  if (looking?.includes(1) === false) return last!;
  const taking = looking && widened(looking, width, height, 2);
  const job: PairJob = {
    ...{ light: await seenPicture(light, context), state },
    ...(behind && { behind: await seenPicture(behind, context), left: floats(undefined) }),
    ...(looking && { looking, taking }),
    bestIn: numbers(last?.bestIn, -1),
    bestOut: numbers(last?.bestOut, -1),
    looked: floats(last?.looked),
    opacity: floats(last?.opacity.data),
    trust: floats(last?.trust.data),
  };
  const parts = Math.ceil(height / band);
  await together(lookForPairs, job, parts, context);
  await together(takePairs, job, parts, context);
  const { bestIn, bestOut, looked, left, opacity, trust } = job;
  const plane = (data: Float32Array): Plane => ({ width, height, data });
  return { ...{ state, bestIn, bestOut, looked }, ...(left && { left }), opacity: plane(opacity), trust: plane(trust) };
}

/** 1 for the pixels whose state is another, and for those that have looked as far as such a one. */
function seeingOther(state: Uint8Array, { state: before, looked, opacity: { width, height } }: PairGuess): Uint8Array {
  const out = new Uint8Array(state.length);
  let farthest = 0;
  for (let p = 0; p < out.length; p++) {
    if (state[p] !== before[p]) out[p] = 1;
    else if (state[p] === undecided && looked[p] > farthest) farthest = looked[p];
  }
  if (!out.includes(1)) return out;
  // Rays end beside the places they are rounded to.
  const away = distanceTo(out, width, height, farthest + 1).data;
  for (let p = 0; p < out.length; p++) if (state[p] === undecided && away[p] <= looked[p] + 1) out[p] = 1;
  return out;
}

interface PairJob extends Pick<PairGuess, 'state' | 'bestIn' | 'bestOut' | 'looked' | 'left'> {
  light: Picture;
  behind?: Picture;
  /** 1 where pairs are looked for, and where they are taken; everywhere when left out. */
  looking?: Uint8Array;
  taking?: Uint8Array;
  opacity: Float32Array;
  trust: Float32Array;
}

/** Rows that a thread takes at a time. */
const band = 16;

/** Looks for each undecided pixel's own pair, band by band. */
export const lookForPairs: Kernel<PairJob> = {
  name: 'lookForPairs',
  begin({ light, behind, state, looking, bestIn, bestOut, looked }) {
    const { width, height } = light;
    const back = behind ?? light;
    const dear = behind ? halfCost : 0;
    const reach = Math.ceil(Math.hypot(width, height) / 4);
    const ways = Array.from({ length: 9 * rays }, (_, i) => {
      const angle = ((i / 9) * 2 * Math.PI) / rays;
      return { dx: Math.cos(angle), dy: Math.sin(angle) };
    });
    const ins = new Int32Array(rays);
    const outs = new Int32Array(rays);
    const inAway = new Float32Array(rays);
    const outAway = new Float32Array(rays);
    const look = (x: number, y: number, p: number): void => {
      let nIn = 0;
      let nOut = 0;
      let farthest = 0;
      const turn = (x % 3) + 3 * (y % 3);
      for (let k = 0; k < rays; k++) {
        const { dx, dy } = ways[turn + 9 * k];
        let s = 1;
        for (; s < reach; s++) {
          const qx = Math.round(x + dx * s);
          const qy = Math.round(y + dy * s);
          if (qx < 0 || qy < 0 || qx >= width || qy >= height) break;
          const q = qy * width + qx;
          if (state[q] === undecided) continue;
          if (state[q] === surelyIn) {
            ins[nIn] = q;
            inAway[nIn++] = s;
          } else if (!behind) {
            outs[nOut] = q;
            outAway[nOut++] = s;
          }
          break;
        }
        if (s > farthest) farthest = s;
      }
      looked[p] = farthest;
      if (behind) {
        outs[0] = p;
        outAway[0] = nOut = 1;
      }
      let nearIn = Infinity;
      let nearOut = Infinity;
      for (let i = 0; i < nIn; i++) nearIn = Math.min(nearIn, inAway[i]);
      for (let i = 0; i < nOut; i++) nearOut = Math.min(nearOut, outAway[i]);
      let least = Infinity;
      bestIn[p] = bestOut[p] = -1;
      for (let i = 0; i < nIn; i++) {
        for (let j = 0; j < nOut; j++) {
          const cost = misfit(light, back, p, ins[i], outs[j], dear) + 4e-3 * (inAway[i] / nearIn + outAway[j] / nearOut);
          if (cost < least) {
            least = cost;
            bestIn[p] = ins[i];
            bestOut[p] = outs[j];
          }
        }
      }
    };
    return (part) => {
      for (let y = part * band, p = y * width; y < Math.min(height, (part + 1) * band); y++) {
        for (let x = 0; x < width; x++, p++) {
          if (looking && !looking[p]) continue;
          if (state[p] === undecided) look(x, y, p);
          else {
            bestIn[p] = bestOut[p] = -1;
            looked[p] = 0;
          }
        }
      }
    };
  },
};

/** Takes the best of the pairs that a pixel and its neighbours have found, band by band. */
export const takePairs: Kernel<PairJob> = {
  name: 'takePairs',
  begin({ light, behind, state, taking, bestIn, bestOut, left, opacity, trust }) {
    const { width, height } = light;
    const back = behind ?? light;
    const dear = behind ? halfCost : 0;
    const take = (x: number, y: number, p: number): void => {
      let least = Infinity;
      let pickIn = -1;
      let pickOut = -1;
      for (let ny = Math.max(0, y - 2); ny <= Math.min(height - 1, y + 2); ny++) {
        for (let nx = Math.max(0, x - 2); nx <= Math.min(width - 1, x + 2); nx++) {
          const q = ny * width + nx;
          if (bestIn[q] < 0) continue;
          const out = behind ? p : bestOut[q];
          const cost = misfit(light, back, p, bestIn[q], out, dear);
          if (cost < least) {
            least = cost;
            pickIn = bestIn[q];
            pickOut = out;
          }
        }
      }
      opacity[p] = trust[p] = 0;
      if (pickIn < 0) return;
      opacity[p] = mix(light, back, p, pickIn, pickOut);
      if (left) left[p] = misfit(light, back, p, pickIn, pickOut, 0);
      const apart = colourGap(light, back, pickIn, pickOut);
      trust[p] = Math.exp(-least * 60) * Math.min(1, apart / 0.15);
    };
    return (part) => {
      for (let y = part * band, p = y * width; y < Math.min(height, (part + 1) * band); y++) {
        for (let x = 0; x < width; x++, p++) {
          if (taking && !taking[p]) continue;
          if (state[p] === undecided) take(x, y, p);
          else opacity[p] = trust[p] = 0;
        }
      }
    };
  },
};

/** Fraction of the pair's first colour, pixel i of l, in pixel p, clamped; the second is pixel o of k. */
function mix(l: Picture, k: Picture, p: number, i: number, o: number): number {
  const fr = l.r[i] - k.r[o];
  const fg = l.g[i] - k.g[o];
  const fb = l.b[i] - k.b[o];
  const d = fr * fr + fg * fg + fb * fb;
  if (d < 1e-8) return 0.5;
  const t = ((l.r[p] - k.r[o]) * fr + (l.g[p] - k.g[o]) * fg + (l.b[p] - k.b[o]) * fb) / d;
  return t < 0 ? 0 : t > 1 ? 1 : t;
}

/** How far pixel p is from the best mixture of the pair, and what a half would cost by as much as it is one. */
function misfit(l: Picture, k: Picture, p: number, i: number, o: number, half: number): number {
  const t = mix(l, k, p, i, o);
  const r = l.r[p] - t * l.r[i] - (1 - t) * k.r[o];
  const g = l.g[p] - t * l.g[i] - (1 - t) * k.g[o];
  const b = l.b[p] - t * l.b[i] - (1 - t) * k.b[o];
  return Math.sqrt(r * r + g * g + b * b) + 4 * half * t * (1 - t);
}

function colourGap(l: Picture, k: Picture, i: number, o: number): number {
  return Math.hypot(l.r[i] - k.r[o], l.g[i] - k.g[o], l.b[i] - k.b[o]);
}
