import type { Context } from '../context/context';
import { sharedFloats, sharedNumbers, together, type Kernel } from '../context/together';
import { seenPicture, type Picture, type Plane } from '../raster/plane';
import { surelyIn, undecided } from './undecided';

/** A first opacity of the undecided pixels and how far it can be trusted. */
export interface Guess {
  /** Opacity, 0 to 1. */
  opacity: Plane;
  /** 0 (do not believe) to 1. */
  trust: Plane;
}

const rays = 8;

/**
 * Opacity from sampled colour pairs: each undecided pixel looks along a few rays, whose directions rotate
 * from pixel to pixel, for the first known colour, subject's or background's, tries all pairs, and keeps the one
 * that explains its colour best at the least distance; then it tries the pairs its neighbours kept
 * (after Gastal & Oliveira 2010).
 *
 * @param light the picture in the light in which mixing is taken as linear
 * @param state one of `surelyOut`, `undecided`, `surelyIn` a pixel
 * @throws AbortError
 */
export async function guessFromPairs(light: Picture, state: Uint8Array, context: Context): Promise<Guess> {
  const { width, height } = light;
  const n = width * height;
  const job: PairJob = {
    ...{ light: await seenPicture(light, context), state },
    bestIn: sharedNumbers(n, context).fill(-1),
    bestOut: sharedNumbers(n, context).fill(-1),
    opacity: sharedFloats(n, context),
    trust: sharedFloats(n, context),
  };
  const parts = Math.ceil(height / band);
  await together(lookForPairs, job, parts, context);
  await together(takePairs, job, parts, context);
  return { opacity: { width, height, data: job.opacity }, trust: { width, height, data: job.trust } };
}

interface PairJob {
  light: Picture;
  state: Uint8Array;
  /** The pair that each pixel has found: pixels with the subject's and the background's colour, or −1. */
  bestIn: Int32Array;
  bestOut: Int32Array;
  opacity: Float32Array;
  trust: Float32Array;
}

/** Rows that a thread takes at a time. */
const band = 16;

/** Looks for each undecided pixel's own pair, band by band. */
export const lookForPairs: Kernel<PairJob> = {
  name: 'lookForPairs',
  begin({ light, state, bestIn, bestOut }) {
    const { width, height } = light;
    const reach = Math.ceil(Math.hypot(width, height) / 4);
    const ins = new Int32Array(rays);
    const outs = new Int32Array(rays);
    const inAway = new Float32Array(rays);
    const outAway = new Float32Array(rays);
    const look = (x: number, y: number, p: number): void => {
      let nIn = 0;
      let nOut = 0;
      const turn = (((x % 3) + 3 * (y % 3)) / 9) * ((2 * Math.PI) / rays);
      for (let k = 0; k < rays; k++) {
        const angle = turn + (k * 2 * Math.PI) / rays;
        const dx = Math.cos(angle);
        const dy = Math.sin(angle);
        for (let s = 1; s < reach; s++) {
          const qx = Math.round(x + dx * s);
          const qy = Math.round(y + dy * s);
          if (qx < 0 || qy < 0 || qx >= width || qy >= height) break;
          const q = qy * width + qx;
          if (state[q] === undecided) continue;
          if (state[q] === surelyIn) {
            ins[nIn] = q;
            inAway[nIn++] = s;
          } else {
            outs[nOut] = q;
            outAway[nOut++] = s;
          }
          break;
        }
      }
      let nearIn = Infinity;
      let nearOut = Infinity;
      for (let i = 0; i < nIn; i++) nearIn = Math.min(nearIn, inAway[i]);
      for (let i = 0; i < nOut; i++) nearOut = Math.min(nearOut, outAway[i]);
      let least = Infinity;
      for (let i = 0; i < nIn; i++) {
        for (let j = 0; j < nOut; j++) {
          const cost = misfit(light, p, ins[i], outs[j]) + 4e-3 * (inAway[i] / nearIn + outAway[j] / nearOut);
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
        for (let x = 0; x < width; x++, p++) if (state[p] === undecided) look(x, y, p);
      }
    };
  },
};

/** Takes the best of the pairs that a pixel and its neighbours have found, band by band. */
export const takePairs: Kernel<PairJob> = {
  name: 'takePairs',
  begin({ light, state, bestIn, bestOut, opacity, trust }) {
    const { width, height } = light;
    const take = (x: number, y: number, p: number): void => {
      let least = Infinity;
      let pickIn = -1;
      let pickOut = -1;
      for (let ny = Math.max(0, y - 2); ny <= Math.min(height - 1, y + 2); ny++) {
        for (let nx = Math.max(0, x - 2); nx <= Math.min(width - 1, x + 2); nx++) {
          const q = ny * width + nx;
          if (bestIn[q] < 0) continue;
          const cost = misfit(light, p, bestIn[q], bestOut[q]);
          if (cost < least) {
            least = cost;
            pickIn = bestIn[q];
            pickOut = bestOut[q];
          }
        }
      }
      if (pickIn < 0) return;
      opacity[p] = mix(light, p, pickIn, pickOut);
      const apart = colourGap(light, pickIn, pickOut);
      trust[p] = Math.exp(-least * 60) * Math.min(1, apart / 0.15);
    };
    return (part) => {
      for (let y = part * band, p = y * width; y < Math.min(height, (part + 1) * band); y++) {
        for (let x = 0; x < width; x++, p++) if (state[p] === undecided) take(x, y, p);
      }
    };
  },
};

/** Fraction of the pair's first colour in pixel p, clamped. */
function mix(l: Picture, p: number, i: number, o: number): number {
  const fr = l.r[i] - l.r[o];
  const fg = l.g[i] - l.g[o];
  const fb = l.b[i] - l.b[o];
  const d = fr * fr + fg * fg + fb * fb;
  if (d < 1e-8) return 0.5;
  const t = ((l.r[p] - l.r[o]) * fr + (l.g[p] - l.g[o]) * fg + (l.b[p] - l.b[o]) * fb) / d;
  return t < 0 ? 0 : t > 1 ? 1 : t;
}

/** How far pixel p is from the best mixture of the pair. */
function misfit(l: Picture, p: number, i: number, o: number): number {
  const t = mix(l, p, i, o);
  const r = l.r[p] - t * l.r[i] - (1 - t) * l.r[o];
  const g = l.g[p] - t * l.g[i] - (1 - t) * l.g[o];
  const b = l.b[p] - t * l.b[i] - (1 - t) * l.b[o];
  return Math.sqrt(r * r + g * g + b * b);
}

function colourGap(l: Picture, i: number, o: number): number {
  return Math.hypot(l.r[i] - l.r[o], l.g[i] - l.g[o], l.b[i] - l.b[o]);
}
