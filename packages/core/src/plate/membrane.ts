import { pause, type Context } from '../runtime/context';
import { boxAround, planeIn } from '../raster/box';
import { widened } from '../raster/widened';
import { assertSameSize, type Picture, type Plane } from '../raster/plane';

/** One level of the multigrid. */
interface Grid {
  width: number;
  height: number;
  /** 1 where the value is to be found. */
  open: Uint8Array;
  /** How strongly an open value is held to what is seen there; 0 is free, 1 as strong as one neighbour. */
  hold: Float32Array;
  /** First and last + 1 open column of each row, so that sweeps can skip the rest. */
  from: Int32Array;
  to: Int32Array;
}

/** Below this the hole is nothing. */
export const shut = 0.01;
/** How much what is half seen counts against smoothness, at one pixel's distance. */
const trust = 0.1;

/** How strongly what is seen through a partial hole is held, in neighbours. */
function holdOf(h: number): number {
  return h < 1 ? (trust * (1 - h) * (1 - h)) / h : 0;
}

/**
 * Fills the hole with a membrane stretched over its rim: each channel is harmonic inside, fixed at the pixels outside,
 * free at the picture's border. Where the hole is partial, the membrane is drawn to what is seen there, the more the
 * less is to be invented (a screened Poisson equation). Multigrid: a full-multigrid start (Brandt 1977), then V-cycles
 * until a sweep hardly changes anything. Linear in the number of hole pixels.
 *
 * Colours are known, to the bit, wherever the hole is under 0.01. A hole that is everything gives mid-grey.
 *
 * @param hole 0 (keep) to 1 (invent)
 * @param strength of what is half seen: pixels of the full picture in one of this
 * @throws RangeError when sizes differ; AbortError
 */
export async function membraneFill(picture: Picture, hole: Plane, context: Context, strength = 1): Promise<Picture> {
  assertSameSize(picture, hole, 'membrane');
  const { width, height } = picture;
  const box = boxAround(hole, shut, 1);
  if (!box) return { width, height, r: picture.r, g: picture.g, b: picture.b };
  const open = new Uint8Array(box.width * box.height);
  const hold = new Float32Array(open.length);
  let known = false;
  for (let y = 0, q = 0; y < box.height; y++) {
    for (let p = (y + box.y) * width + box.x, end = p + box.width; p < end; p++, q++) {
      const h = hole.data[p];
      if (h >= shut) {
        open[q] = 1;
        hold[q] = strength * holdOf(h);
      }
      if (h < 1) known = true;
    }
  }
  if (!known) {
    const grey = new Float32Array(width * height).fill(0.214);
    return { width, height, r: grey, g: grey, b: grey };
  }
  const grids = pyramid(open, hold, box.width, box.height);
  const filled: Float32Array[] = [];
  for (const channel of [picture.r, picture.g, picture.b]) {
    const part = filled.length;
    const told = { ...context, progress: (w: string, f: number) => context.progress?.(w, (part + f) / 3) };
    const solved = await membrane(planeIn({ width, height, data: channel }, box).data, grids, told, strength > 1 ? 3 : 6);
    const whole = channel.slice();
    for (let y = 0; y < box.height; y++) {
      whole.set(solved.subarray(y * box.width, (y + 1) * box.width), (y + box.y) * width + box.x);
    }
    filled.push(whole);
  }
  return { width, height, r: filled[0], g: filled[1], b: filled[2] };
}

/** So near the rim, px, a membrane from a smaller size is settled. */
const nearRim = 4;

/**
 * A few sweeps over the open pixels of a picture whose membrane comes from a smaller size, in place: near the rim and where the
 * hole is partial; deep inside it is smooth already. What is half seen is held to `seen`.
 *
 * @param strength see `membraneFill`
 */
export async function settle(
  picture: Picture,
  seen: Picture,
  hole: Plane,
  { sweeps, strength = 1 }: { sweeps: number; strength?: number },
  context: Context,
): Promise<void> {
  const { width, height } = picture;
  const open = new Uint8Array(width * height);
  for (let p = 0; p < open.length; p++) if (hole.data[p] < 1) open[p] = 1;
  const near = widened(open, width, height, nearRim);
  for (let p = 0; p < open.length; p++) open[p] = near[p] === 1 && hole.data[p] >= shut ? 1 : 0;
  const around = neighbours(open, width, height);
  const hold = new Float32Array(around.at.length);
  const pulls = [0, 1, 2].map(() => new Float32Array(hold.length));
  for (let k = 0; k < hold.length; k++) {
    const p = around.at[k];
    hold[k] = strength * holdOf(hole.data[p]);
    pulls[0][k] = hold[k] * seen.r[p];
    pulls[1][k] = hold[k] * seen.g[p];
    pulls[2][k] = hold[k] * seen.b[p];
  }
  for (let k = 0; k < sweeps; k++) {
    await pause(context, 'Filling the hole');
    sweepListed(around, picture, pulls, hold);
  }
}

/** Where the open pixels and their neighbours stand; at the border a pixel is its own neighbour. */
interface Listed {
  at: Int32Array;
  left: Int32Array;
  right: Int32Array;
  up: Int32Array;
  down: Int32Array;
}

function neighbours(open: Uint8Array, width: number, height: number): Listed {
  let count = 0;
  for (let p = 0; p < open.length; p++) count += open[p];
  const [at, left, right, up, down] = [0, 1, 2, 3, 4].map(() => new Int32Array(count));
  for (let y = 0, p = 0, k = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      if (open[p] === 0) continue;
      at[k] = p;
      left[k] = x > 0 ? p - 1 : p;
      right[k] = x + 1 < width ? p + 1 : p;
      up[k] = y > 0 ? p - width : p;
      down[k] = y + 1 < height ? p + width : p;
      k++;
    }
  }
  return { at, left, right, up, down };
}

/** One Gauss-Seidel sweep over few pixels of many. */
function sweepListed({ at, left, right, up, down }: Listed, { r, g, b }: Picture, pulls: Float32Array[], hold: Float32Array): void {
  const [red, green, blue] = pulls;
  for (let k = 0; k < at.length; k++) {
    const p = at[k];
    const w = left[k];
    const e = right[k];
    const n = up[k];
    const s = down[k];
    const share = 1 / (4 + hold[k]);
    r[p] = (r[w] + r[e] + r[n] + r[s] + red[k]) * share;
    g[p] = (g[w] + g[e] + g[n] + g[s] + green[k]) * share;
    b[p] = (b[w] + b[e] + b[n] + b[s] + blue[k]) * share;
  }
}

/** All levels, the coarsest first. */
export function pyramid(open: Uint8Array, hold: Float32Array, width: number, height: number): Grid[] {
  const grids = [makeGrid(open, hold, width, height)];
  while (Math.min(grids[0].width, grids[0].height) > 3 && grids[0].open.some((v) => v === 1)) grids.unshift(coarser(grids[0]));
  return grids;
}

/**
 * The membrane of one channel: values where the finest grid is not open are kept, the others solved for.
 *
 * @param values what is seen; where the grid is open and nothing holds it, it is not looked at
 * @param most V-cycles at the finest level: fewer do for what is settled at a larger size anyway
 */
export async function membrane(values: Float32Array, grids: Grid[], context: Context, most = 6): Promise<Float32Array> {
  const finest = grids.length - 1;
  const stack: Float32Array[] = [values];
  const { hold } = grids[finest];
  const pulls: Float32Array[] = [values.map((v, p) => v * hold[p])];
  for (let i = finest - 1; i >= 0; i--) {
    stack.unshift(reduceKnown(stack[0], grids[i + 1], grids[i]));
    pulls.unshift(reduceSum(pulls[0], grids[i + 1], grids[i]));
  }
  let solution = stack[0];
  for (let round = 0; round < 30; round++) sweep(grids[0], solution, pulls[0]);
  for (let i = 1; i <= finest; i++) {
    solution = enlargeInto(stack[i], grids[i], solution, grids[i - 1]);
    const cycles = i === finest ? most : 2;
    for (let k = 0; k < cycles; k++) {
      await pause(context, 'Filling the hole', (i - 1 + k / cycles) / finest);
      if (cycle(grids, i, solution, pulls[i]) < 5e-5) break;
    }
  }
  return solution;
}

function makeGrid(open: Uint8Array, hold: Float32Array, width: number, height: number): Grid {
  const from = new Int32Array(height).fill(width);
  const to = new Int32Array(height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (open[y * width + x] === 0) continue;
      if (from[y] === width) from[y] = x;
      to[y] = x + 1;
    }
  }
  return { width, height, open, hold, from, to };
}

/** Where the four finer pixels of a coarse one stand; those beyond an odd border repeat the last. */
interface Children {
  row: number;
  next: number;
  /** Steps from a column to its right neighbour, 0 at an odd border. */
  step: (x: number) => number;
}

function childRows(fine: Grid, y: number): Children {
  const row = 2 * y * fine.width;
  return { row, next: 2 * y + 1 < fine.height ? row + fine.width : row, step: (x) => (2 * x + 1 < fine.width ? 1 : 0) };
}

/** Sums of the finer level's values over the four pixels of each coarse one that is open. */
function reduceSum(src: Float32Array, fine: Grid, coarse: Grid): Float32Array {
  const out = new Float32Array(coarse.width * coarse.height);
  for (let y = 0; y < coarse.height; y++) {
    const { row, next, step } = childRows(fine, y);
    for (let x = coarse.from[y]; x < coarse.to[y]; x++) {
      const p = y * coarse.width + x;
      if (coarse.open[p] === 0) continue;
      const [a, s] = [2 * x, step(x)];
      out[p] = src[row + a] + src[row + a + s] + src[next + a] + src[next + a + s];
    }
  }
  return out;
}

/** Open only where all four finer pixels are: a correction must never move what is fixed. */
function coarser(fine: Grid): Grid {
  const width = (fine.width + 1) >> 1;
  const height = (fine.height + 1) >> 1;
  const open = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const { row, next, step } = childRows(fine, y);
    for (let x = 0; x < width; x++) {
      const [a, s] = [2 * x, step(x)];
      open[y * width + x] = fine.open[row + a] & fine.open[row + a + s] & fine.open[next + a] & fine.open[next + a + s];
    }
  }
  const grid = makeGrid(open, new Float32Array(0), width, height);
  grid.hold = reduceSum(fine.hold, fine, grid);
  return grid;
}

/** Known values of a coarse level: the mean of the finer ones that are known. */
function reduceKnown(values: Float32Array, fine: Grid, coarse: Grid): Float32Array {
  const out = new Float32Array(coarse.width * coarse.height);
  for (let y = 0; y < coarse.height; y++) {
    const { row, next, step } = childRows(fine, y);
    for (let x = 0; x < coarse.width; x++) {
      const p = y * coarse.width + x;
      if (coarse.open[p]) continue;
      let [sum, count] = [0, 0];
      const [a, s] = [2 * x, step(x)];
      for (let k = 0; k < 4; k++) {
        const q = (k < 2 ? row : next) + a + (k & 1) * s;
        if (fine.open[q]) continue;
        sum += values[q];
        count++;
      }
      out[p] = sum / count;
    }
  }
  return out;
}

/** One Gauss-Seidel sweep; returns the largest change. */
function sweep(g: Grid, u: Float32Array, right: Float32Array): number {
  const { width, height, open, hold } = g;
  let largest = 0;
  for (let y = 0; y < height; y++) {
    const up = y > 0 ? -width : 0;
    const down = y + 1 < height ? width : 0;
    for (let x = g.from[y]; x < g.to[y]; x++) {
      const p = y * width + x;
      if (open[p] === 0) continue;
      const left = x > 0 ? p - 1 : p;
      const next = x + 1 < width ? p + 1 : p;
      const value = (u[left] + u[next] + u[p + up] + u[p + down] + right[p]) / (4 + hold[p]);
      const change = Math.abs(value - u[p]);
      u[p] = value;
      if (change > largest) largest = change;
    }
  }
  return largest;
}

/** One V-cycle on level i; returns the largest change of its last sweep. */
function cycle(grids: Grid[], i: number, u: Float32Array, right: Float32Array): number {
  const g = grids[i];
  if (i === 0) {
    let last = 0;
    for (let k = 0; k < 20; k++) last = sweep(g, u, right);
    return last;
  }
  sweep(g, u, right);
  sweep(g, u, right);
  const coarse = grids[i - 1];
  const correction = new Float32Array(coarse.width * coarse.height);
  cycle(grids, i - 1, correction, reduceSum(residual(g, u, right), g, coarse));
  addEnlarged(u, g, correction, coarse);
  sweep(g, u, right);
  return sweep(g, u, right);
}

/** What is left of the equation at every open pixel. */
function residual(g: Grid, u: Float32Array, right: Float32Array): Float32Array {
  const { width, height, open, hold } = g;
  const out = new Float32Array(u.length);
  for (let y = 0; y < height; y++) {
    const up = y > 0 ? -width : 0;
    const down = y + 1 < height ? width : 0;
    for (let x = g.from[y]; x < g.to[y]; x++) {
      const p = y * width + x;
      if (open[p] === 0) continue;
      const left = x > 0 ? p - 1 : p;
      const next = x + 1 < width ? p + 1 : p;
      out[p] = u[left] + u[next] + u[p + up] + u[p + down] + right[p] - (4 + hold[p]) * u[p];
    }
  }
  return out;
}

/** Bilinear value of a coarse level at a fine pixel. */
function between(coarse: Float32Array, grid: Grid, x: number, y: number): number {
  const cx = x >> 1;
  const cy = y >> 1;
  const nx = Math.min(grid.width - 1, Math.max(0, cx + ((x & 1) === 0 ? -1 : 1)));
  const ny = Math.min(grid.height - 1, Math.max(0, cy + ((y & 1) === 0 ? -1 : 1)));
  const row = cy * grid.width;
  const other = ny * grid.width;
  return (9 * coarse[row + cx] + 3 * coarse[row + nx] + 3 * coarse[other + cx] + coarse[other + nx]) / 16;
}

function addEnlarged(u: Float32Array, fine: Grid, correction: Float32Array, coarse: Grid): void {
  for (let y = 0; y < fine.height; y++) {
    for (let x = fine.from[y]; x < fine.to[y]; x++) {
      const p = y * fine.width + x;
      if (fine.open[p]) u[p] += between(correction, coarse, x, y);
    }
  }
}

/** The known values with the coarser solution, enlarged, in the open places. */
function enlargeInto(known: Float32Array, fine: Grid, solution: Float32Array, coarse: Grid): Float32Array {
  const out = known.slice();
  for (let y = 0; y < fine.height; y++) {
    for (let x = fine.from[y]; x < fine.to[y]; x++) {
      const p = y * fine.width + x;
      if (fine.open[p]) out[p] = between(solution, coarse, x, y);
    }
  }
  return out;
}
