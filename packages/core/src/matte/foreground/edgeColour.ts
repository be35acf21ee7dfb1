import type { Context } from '../../runtime/context';
import { sharedFloats, parallelFor, type Kernel } from '../../runtime/parallelFor';
import { grownMask } from '../../raster/morphology';
import { assertSameSize, seenPicture, withOpacity, type Picture, type Plane } from '../../raster/plane';

/** One size of the picture. */
interface Level {
  width: number;
  height: number;
  opacity: Float32Array;
  channels: Float32Array[];
  squares: Squares;
}

/** The two sides of the edge, unmixed. */
export interface Unmixed {
  /** The subject's own colour with the matte as straight opacity. */
  subject: Picture;
  /** What shows beside and through the subject's edge; a plausible colour where the subject is opaque. */
  behind: Picture;
  /** Luminance of a coloured screen's light that was taken off the subject, a pixel; with a screen only. */
  spill?: Float32Array;
}

/** One channel of the two sides at one level. */
interface Sides {
  front: Float32Array;
  back: Float32Array;
}

/**
 * The subject's own colour in half-covered pixels: for every pixel a front and a back colour whose mixture by
 * opacity is the shot and which change little from pixel to pixel, least where opacity changes little. From
 * one pixel up to the whole picture, a few sweeps a level (multi-level foreground estimation, Germer et al. 2020).
 * Wholly opaque pixels keep the shot's colour to the bit in the subject, clear ones in what is behind.
 *
 * @param shot linear light
 * @param matte opacity 0 to 1
 * @param trust in opacity, 0 to 1: how far the subject's colour goes from the shot's to what opacity makes it. Where
 *   opacity is a little too low the colour found lies beyond the subject's, so that part of the way is nearer on the whole
 * @param doubt power of opacity by which that way gets shorter: the thinner the cover, the less its colour follows from an opacity that may be wrong
 * @param wanted with `subject` what is behind has no pixels: of a large picture that is much less to hold
 * @throws RangeError when sizes differ; AbortError
 */
export async function edgeColour(
  shot: Picture,
  matte: Plane,
  context: Context,
  trust = 1,
  doubt = 0,
  wanted: 'both' | 'subject' = 'both',
): Promise<Unmixed> {
  assertSameSize(shot, matte, 'edge colour');
  const seen = await seenPicture(withOpacity(shot, matte), context);
  const channels = [seen.r, seen.g, seen.b];
  const levels: Level[] = [{ ...{ width: shot.width, height: shot.height, opacity: seen.a!, channels }, squares: partialSquares(matte) }];
  while (levels[0].width > 1 || levels[0].height > 1) {
    const { width, height, opacity, squares } = levels[0];
    const size = { width: (width + 1) >> 1, height: (height + 1) >> 1 };
    const room = (): Float32Array => sharedFloats(size.width * size.height, context);
    const half: Level = { ...size, opacity: room(), channels: channels.map(room), squares: halfSquares(squares) };
    const job: EveryJob = {
      from: { width, height, data: [opacity, ...levels[0].channels] },
      to: { ...size, data: [half.opacity, ...half.channels] },
    };
    await parallelFor(halveNearest, job, bandsOf(size.height), context);
    levels.unshift(half);
  }
  const sides: Sides[] = levels[0].channels.map((c) => ({ front: c.slice(), back: c.slice() }));
  const { length } = levels;
  let below: { width: number; height: number } | undefined;
  for (let i = 0; i < length; i++) {
    // A level and its sides are let go of as soon as they are done: the next is four times as large. At full size so is each channel.
    const level = levels.shift()!;
    const { width, height, opacity } = level;
    const isFull = i === length - 1;
    const near = nextTo(level.squares);
    for (const together of isFull ? [[0], [1], [2]] : [[0, 1, 2]]) {
      const own = together.map((c) => sides[c]);
      for (const each of below ? own : []) {
        for (const side of ['front', 'back'] as const) {
          const larger = sharedFloats(width * height, context);
          const job: EveryJob = { from: { ...below!, data: [each[side]] }, to: { width, height, data: [larger] } };
          await parallelFor(doubleNearest, job, bandsOf(height), context);
          each[side] = larger;
        }
      }
      const channels = together.map((c) => level.channels[c]);
      for (let sweep = 0; sweep < (width * height <= 1024 ? 10 : 2); sweep++) {
        for (const first of [0, 1]) {
          const job: RelaxJob = { sides: own, level: { ...level, channels }, near, partialOnly: isFull, first };
          await parallelFor(relaxBand, job, Math.ceil((bandsOf(height) - first) / 2), context, 'Edge colour', i / length);
        }
      }
      if (!isFull) continue;
      await parallelFor(keepWhole, { sides: own, opacity, channels, width, trust, doubt }, bandsOf(height), context);
      if (wanted === 'subject') for (const each of own) each.back = new Float32Array(0);
    }
    below = { width, height };
  }
  const { width, height } = shot;
  const subject = { width, height, r: sides[0].front, g: sides[1].front, b: sides[2].front, a: matte.data };
  return { subject, behind: { width, height, r: sides[0].back, g: sides[1].back, b: sides[2].back } };
}

/** Rows that a thread takes at a time. */
const band = 64;

function bandsOf(height: number): number {
  return Math.ceil(height / band);
}

interface KeepJob {
  sides: Sides[];
  opacity: Float32Array;
  channels: Float32Array[];
  width: number;
  trust: number;
  doubt: number;
}

/** Puts the shot's own colour, to the bit, where opacity is whole or nothing; draws the subject's to it elsewhere, by lack of trust. */
export const keepWhole: Kernel<KeepJob> = {
  name: 'keepWhole',
  begin({ sides, opacity, channels, width, trust, doubt }) {
    return (part) => {
      const end = Math.min(opacity.length, (part + 1) * band * width);
      for (let c = 0; c < sides.length; c++) {
        const { front, back } = sides[c];
        const own = channels[c];
        for (let p = part * band * width; p < end; p++) {
          if (opacity[p] >= 1) front[p] = own[p];
          else if (opacity[p] <= 0) back[p] = own[p];
          else front[p] = own[p] + trust * Math.pow(opacity[p], doubt) * (front[p] - own[p]);
        }
      }
    };
  },
};

/** Smoothness far from any change of opacity, and how much a change of opacity adds to it. */
const calm = 5e-3;
const change = 1;

/** Side of the squares of which it is known whether there is anything to unmix, px of their level. */
const square = 8;

/** 1 for each square of a level that is meant. */
interface Squares {
  width: number;
  height: number;
  data: Uint8Array;
}

/** The squares that hold partial opacity. */
function partialSquares({ width, height, data }: Plane): Squares {
  const out = noSquares(Math.ceil(width / square), Math.ceil(height / square));
  for (let y = 0, p = 0; y < height; y++) {
    const row = Math.floor(y / square) * out.width;
    for (let x = 0; x < width; x++, p++) if (data[p] > 0 && data[p] < 1) out.data[row + Math.floor(x / square)] = 1;
  }
  return out;
}

/** The same at the next coarser level. */
function halfSquares({ width, height, data }: Squares): Squares {
  const out = noSquares((width + 1) >> 1, (height + 1) >> 1);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) if (data[y * width + x] > 0) out.data[(y >> 1) * out.width + (x >> 1)] = 1;
  }
  return out;
}

function noSquares(width: number, height: number): Squares {
  return { width, height, data: new Uint8Array(width * height) };
}

/** With the eight around each. */
function nextTo({ width, height, data }: Squares): Squares {
  return { width, height, data: grownMask(data, width, height, 1.5) };
}

interface RelaxJob {
  sides: Sides[];
  level: Level;
  near: Squares;
  partialOnly: boolean;
  /** 0 for the even bands, 1 for the odd ones: what a band looks at beyond its own rows is then still. */
  first: number;
}

/**
 * One Gauss-Seidel sweep over all channels, where there is partial opacity in the same square or the next; at full size only
 * on pixels of partial opacity. What lies farther from the edge has its colour from the levels before.
 */
export const relaxBand: Kernel<RelaxJob> = {
  name: 'relaxBand',
  begin(job) {
    const weights = new Float32Array(4);
    const neighbours = new Int32Array(4);
    return (part) => {
      const from = (2 * part + job.first) * band;
      for (let y = from; y < Math.min(job.level.height, from + band); y++) relaxRow(job, y, weights, neighbours);
    };
  },
};

function relaxRow({ sides, level, near, partialOnly }: RelaxJob, y: number, weights: Float32Array, neighbours: Int32Array): void {
  const { width, height, opacity, channels } = level;
  const squares = Math.floor(y / square) * near.width;
  for (let x = 0; x < width; x++) {
    if (near.data[squares + Math.floor(x / square)] === 0) {
      x += square - 1 - (x % square);
      continue;
    }
    const p = y * width + x;
    const a = opacity[p];
    if (partialOnly && (a <= 0 || a >= 1)) continue;
    neighbours[0] = x > 0 ? p - 1 : p;
    neighbours[1] = x + 1 < width ? p + 1 : p;
    neighbours[2] = y > 0 ? p - width : p;
    neighbours[3] = y + 1 < height ? p + width : p;
    let total = 0;
    for (let k = 0; k < 4; k++) {
      weights[k] = calm + change * Math.abs(a - opacity[neighbours[k]]);
      total += weights[k];
    }
    const back = 1 - a;
    const m00 = a * a + total;
    const m01 = a * back;
    const m11 = back * back + total;
    const det = 1 / (m00 * m11 - m01 * m01);
    for (let c = 0; c < sides.length; c++) {
      const F = sides[c].front;
      const B = sides[c].back;
      const v = channels[c][p];
      let rf = a * v;
      let rb = back * v;
      for (let k = 0; k < 4; k++) {
        rf += weights[k] * F[neighbours[k]];
        rb += weights[k] * B[neighbours[k]];
      }
      const f = (m11 * rf - m01 * rb) * det;
      const g = (m00 * rb - m01 * rf) * det;
      F[p] = f < 0 ? 0 : f;
      B[p] = g < 0 ? 0 : g;
    }
  }
}

/** Planes of one size to planes of another. */
interface EveryJob {
  from: { width: number; height: number; data: Float32Array[] };
  to: { width: number; height: number; data: Float32Array[] };
}

/** Every second pixel of every second row. */
export const halveNearest: Kernel<EveryJob> = {
  name: 'halveNearest',
  begin:
    ({ from, to }) =>
    (part) => {
      const { width, height } = from;
      for (let c = 0; c < to.data.length; c++) {
        const [src, out] = [from.data[c], to.data[c]];
        for (let y = part * band, p = y * to.width; y < Math.min(to.height, (part + 1) * band); y++) {
          const row = Math.min(height - 1, 2 * y + 1) * width;
          for (let x = 0; x < to.width; x++, p++) out[p] = src[row + Math.min(width - 1, 2 * x + 1)];
        }
      }
    },
};

/** Every pixel twice in every row twice. */
export const doubleNearest: Kernel<EveryJob> = {
  name: 'doubleNearest',
  begin:
    ({ from, to }) =>
    (part) => {
      for (let c = 0; c < to.data.length; c++) {
        const [src, out] = [from.data[c], to.data[c]];
        for (let y = part * band, p = y * to.width; y < Math.min(to.height, (part + 1) * band); y++) {
          const row = (y >> 1) * from.width;
          for (let x = 0; x < to.width; x++, p++) out[p] = src[row + (x >> 1)];
        }
      }
    },
};
