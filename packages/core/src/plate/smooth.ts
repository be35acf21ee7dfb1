import { pause, type Context } from '../context/context';
import { assertSameSize, type Picture, type Plane } from '../raster/plane';

/** One level of the multigrid: what is open, and up to `channels` unknown planes. */
interface Grid {
  width: number;
  height: number;
  /** 1 where the value is to be found. */
  open: Uint8Array;
  /** Rows that hold anything open, so that sweeps can skip the rest: first and last + 1 open column of each. */
  from: Int32Array;
  to: Int32Array;
}

/**
 * Fills the hole with a membrane stretched over its rim: each channel solves Laplace's equation inside, fixed
 * at the pixels outside, free at the picture's border. Multigrid: a full-multigrid start (Brandt 1977), then
 * V-cycles until a sweep hardly changes anything. Linear in the number of hole pixels.
 *
 * Colours are known wherever the hole is 0. Partly open pixels (feather) are solved like open ones and mixed
 * with the shot by the hole's value afterwards. A hole that is everything gives mid-grey.
 *
 * @param hole 0 (keep) to 1 (invent)
 * @throws RangeError when sizes differ; AbortError
 */
export async function smoothFill(shot: Picture, hole: Plane, context: Context): Promise<Picture> {
  assertSameSize(shot, hole, 'smooth fill');
  const { width, height } = shot;
  const finest = makeGrid(
    Uint8Array.from(hole.data, (v) => (v > 0 ? 1 : 0)),
    width,
    height,
  );
  const known = finest.open.some((v) => v === 0);
  const channels = [shot.r, shot.g, shot.b];
  const filled: Float32Array[] = [];
  for (let c = 0; c < 3; c++) {
    if (!known) filled.push(new Float32Array(width * height).fill(0.214));
    else filled.push(await membrane(channels[c], finest, { ...context, progress: (w, f) => context.progress?.(w, (c + f) / 3) }));
  }
  for (let c = 0; c < 3; c++) {
    const from = channels[c];
    const to = filled[c];
    for (let p = 0; p < to.length; p++) {
      const h = hole.data[p];
      if (h <= 0) to[p] = from[p];
      else if (h < 1) to[p] = from[p] + h * (to[p] - from[p]);
    }
  }
  return { width, height, r: filled[0], g: filled[1], b: filled[2] };
}

/**
 * The membrane of one channel: values where the grid is not open are kept, the others harmonic.
 *
 * @param values what is known; the open places are not looked at
 */
export async function membrane(values: Float32Array, finest: Grid, context: Context): Promise<Float32Array> {
  const grids = [finest];
  while (Math.min(grids[0].width, grids[0].height) > 3 && grids[0].open.some((v) => v === 1)) grids.unshift(coarser(grids[0]));
  const stack: Float32Array[] = [];
  for (let i = grids.length - 1; i >= 0; i--) {
    stack.unshift(i === grids.length - 1 ? values.slice() : reduceKnown(stack[0], grids[i + 1], grids[i]));
  }
  let solution = stack[0];
  for (let round = 0; round < 30; round++) sweep(grids[0], solution);
  for (let i = 1; i < grids.length; i++) {
    const grid = grids[i];
    solution = enlargeInto(stack[i], grid, solution, grids[i - 1]);
    const cycles = i === grids.length - 1 ? 6 : 2;
    for (let k = 0; k < cycles; k++) {
      await pause(context, 'Filling the hole', (i - 1 + k / cycles) / (grids.length - 1));
      if (cycle(grids, i, solution) < 2e-5) break;
    }
  }
  return solution;
}

/** A level from its open pixels. */
export function makeGrid(open: Uint8Array, width: number, height: number): Grid {
  const from = new Int32Array(height).fill(width);
  const to = new Int32Array(height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (open[y * width + x] === 0) continue;
      if (from[y] === width) from[y] = x;
      to[y] = x + 1;
    }
  }
  return { width, height, open, from, to };
}

/** Open only where all four finer pixels are: a correction must never move what is fixed. */
function coarser(fine: Grid): Grid {
  const width = (fine.width + 1) >> 1;
  const height = (fine.height + 1) >> 1;
  const open = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) open[y * width + x] = childSum(fine, x, y, (p) => fine.open[p]) === 4 ? 1 : 0;
  }
  return makeGrid(open, width, height);
}

/** Sum over the four finer pixels of a coarse one; those beyond an odd border repeat the last. */
function childSum(fine: Grid, x: number, y: number, of: (p: number) => number): number {
  const x0 = 2 * x;
  const y0 = 2 * y * fine.width;
  const x1 = Math.min(fine.width - 1, x0 + 1);
  const y1 = Math.min(fine.height - 1, 2 * y + 1) * fine.width;
  return of(y0 + x0) + of(y0 + x1) + of(y1 + x0) + of(y1 + x1);
}

/** Known values of a coarse level: the mean of the finer ones that are known. */
function reduceKnown(values: Float32Array, fine: Grid, coarse: Grid): Float32Array {
  const out = new Float32Array(coarse.width * coarse.height);
  for (let y = 0; y < coarse.height; y++) {
    for (let x = 0; x < coarse.width; x++) {
      const p = y * coarse.width + x;
      if (coarse.open[p]) continue;
      const count = childSum(fine, x, y, (q) => 1 - fine.open[q]);
      out[p] = childSum(fine, x, y, (q) => (fine.open[q] ? 0 : values[q])) / count;
    }
  }
  return out;
}

/** One Gauss-Seidel sweep, over-relaxed; returns the largest change. */
function sweep(g: Grid, u: Float32Array, right?: Float32Array, relaxation = 1): number {
  const { width, height, open } = g;
  let largest = 0;
  for (let y = 0; y < height; y++) {
    const up = y > 0 ? -width : 0;
    const down = y + 1 < height ? width : 0;
    for (let x = g.from[y]; x < g.to[y]; x++) {
      const p = y * width + x;
      if (open[p] === 0) continue;
      const left = x > 0 ? p - 1 : p;
      const next = x + 1 < width ? p + 1 : p;
      const mean = (u[left] + u[next] + u[p + up] + u[p + down] + (right ? right[p] : 0)) / 4;
      const change = relaxation * (mean - u[p]);
      u[p] += change;
      if (change > largest) largest = change;
      else if (-change > largest) largest = -change;
    }
  }
  return largest;
}

/** One V-cycle on level i; returns the largest change of its last sweep. */
function cycle(grids: Grid[], i: number, u: Float32Array, right?: Float32Array): number {
  const g = grids[i];
  if (i === 0) {
    let last = 0;
    for (let k = 0; k < 20; k++) last = sweep(g, u, right);
    return last;
  }
  sweep(g, u, right);
  sweep(g, u, right);
  const coarse = grids[i - 1];
  const residual = new Float32Array(coarse.width * coarse.height);
  for (let y = 0; y < coarse.height; y++) {
    for (let x = coarse.from[y]; x < coarse.to[y]; x++) {
      const p = y * coarse.width + x;
      if (coarse.open[p]) residual[p] = childSum(g, x, y, (q) => residualAt(g, u, q, right));
    }
  }
  const correction = new Float32Array(residual.length);
  cycle(grids, i - 1, correction, residual);
  addEnlarged(u, g, correction, coarse);
  sweep(g, u, right);
  return sweep(g, u, right);
}

function residualAt(g: Grid, u: Float32Array, p: number, right?: Float32Array): number {
  const { width, height } = g;
  const x = p % width;
  const y = (p - x) / width;
  const left = x > 0 ? u[p - 1] : u[p];
  const next = x + 1 < width ? u[p + 1] : u[p];
  const up = y > 0 ? u[p - width] : u[p];
  const down = y + 1 < height ? u[p + width] : u[p];
  return left + next + up + down - 4 * u[p] + (right ? right[p] : 0);
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
