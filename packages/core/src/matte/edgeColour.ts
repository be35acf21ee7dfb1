import { pause, type Context } from '../context/context';
import { grownMask } from '../raster/morphology';
import { assertSameSize, type Picture, type Plane } from '../raster/plane';

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
 * @throws RangeError when sizes differ; AbortError
 */
export async function edgeColour(shot: Picture, matte: Plane, context: Context): Promise<Unmixed> {
  assertSameSize(shot, matte, 'edge colour');
  const levels: Level[] = [
    {
      ...{ width: shot.width, height: shot.height, opacity: matte.data, channels: [shot.r, shot.g, shot.b] },
      squares: partialSquares(matte),
    },
  ];
  while (levels[0].width > 1 || levels[0].height > 1) {
    const { width, height, opacity, channels, squares } = levels[0];
    levels.unshift({
      width: (width + 1) >> 1,
      height: (height + 1) >> 1,
      opacity: nearestHalf(opacity, width, height),
      channels: channels.map((c) => nearestHalf(c, width, height)),
      squares: halfSquares(squares),
    });
    await pause(context);
  }
  const sides: Sides[] = levels[0].channels.map((c) => ({ front: c.slice(), back: c.slice() }));
  for (let i = 0; i < levels.length; i++) {
    const level = levels[i];
    const below = levels[i - 1];
    const small = level.width * level.height <= 1024;
    const near = nextTo(level.squares);
    for (let c = 0; c < 3; c++) {
      if (below) {
        sides[c] = {
          front: nearestDouble(sides[c].front, below.width, level.width, level.height),
          back: nearestDouble(sides[c].back, below.width, level.width, level.height),
        };
      }
    }
    for (let sweep = 0; sweep < (small ? 10 : 2); sweep++) {
      await relax(sides, level, near, i === levels.length - 1, context);
    }
  }
  const { width, height, r, g, b } = shot;
  const subject: Picture = { width, height, r: sides[0].front, g: sides[1].front, b: sides[2].front, a: matte.data };
  const behind: Picture = { width, height, r: sides[0].back, g: sides[1].back, b: sides[2].back };
  for (let p = 0; p < matte.data.length; p++) {
    const whole = matte.data[p] >= 1 ? subject : matte.data[p] <= 0 ? behind : undefined;
    if (!whole) continue;
    whole.r[p] = r[p];
    whole.g[p] = g[p];
    whole.b[p] = b[p];
  }
  return { subject, behind };
}

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

/**
 * One Gauss-Seidel sweep over all channels, where there is partial opacity in the same square or the next; at full size only
 * on pixels of partial opacity. What lies farther from the edge has its colour from the levels before.
 */
async function relax(sides: Sides[], level: Level, near: Squares, partialOnly: boolean, context: Context): Promise<void> {
  const { width, height, opacity, channels } = level;
  const weights = new Float32Array(4);
  const neighbours = new Int32Array(4);
  for (let y = 0; y < height; y++) {
    if ((y & 31) === 0) await pause(context, 'Edge colour', y / height);
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
      for (let c = 0; c < 3; c++) {
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
}

function nearestHalf(src: Float32Array, width: number, height: number): Float32Array {
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    const row = Math.min(height - 1, 2 * y + 1) * width;
    for (let x = 0; x < w; x++) out[y * w + x] = src[row + Math.min(width - 1, 2 * x + 1)];
  }
  return out;
}

function nearestDouble(src: Float32Array, smallWidth: number, width: number, height: number): Float32Array {
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    const row = (y >> 1) * smallWidth;
    for (let x = 0; x < width; x++) out[y * width + x] = src[row + (x >> 1)];
  }
  return out;
}
