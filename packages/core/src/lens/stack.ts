import type { Context } from '../runtime/context';
import { sharedFloats, parallelFor, type Kernel } from '../runtime/parallelFor';
import { makePicture, pictureOf, type Picture, type Plane } from '../raster/plane';
import { doubleRows } from '../raster/resize';

/** What has been laid so far: light (times opacity where the card has any), opacity, and for cards with opacity the sum of the layers' shares. */
export type Stack = Plane[];

/** A size halved so often. */
export function sizeAt({ width, height }: { width: number; height: number }, level: number): [number, number] {
  return [Math.ceil(width / 2 ** level), Math.ceil(height / 2 ** level)];
}

/** Nothing laid yet, on a card halved so often. */
export function emptyStack(card: Picture, level: number, context: Context): Stack {
  const [width, height] = sizeAt(card, level);
  return Array.from({ length: card.a ? 5 : 4 }, () => ({ width, height, data: sharedFloats(width * height, context) }));
}

/** Rows that a thread takes at a time. */
const band = 64;

interface DoubleJob {
  stack: Plane[];
  larger: Plane[];
  /** Of a stack without opacity: what is partly known is weighed by how much of it is. */
  partly: boolean;
}

/** Doubles a band of rows. */
export const doubleBand: Kernel<DoubleJob> = {
  name: 'doubleBand',
  begin({ stack, larger, partly }) {
    return (i) => {
      const [from, to] = [i * band, Math.min(larger[0].height, (i + 1) * band)];
      stack.forEach((p, c) => doubleRows(p, larger[c], from, to));
      if (partly) weigh(larger, stack, from, to);
    };
  },
};

/** A stack at twice its size. @param level how often the card is halved then */
export async function doubled(stack: Stack, card: Picture, level: number, context: Context): Promise<Stack> {
  const larger = emptyStack(card, level, context);
  await parallelFor(doubleBand, { stack, larger, partly: !card.a }, Math.ceil(larger[0].height / band), context);
  return larger;
}

/** Planes halved so often, at their size before. */
export async function enlarged(
  planes: Plane[],
  size: { width: number; height: number },
  level: number,
  context: Context,
): Promise<Plane[]> {
  for (let k = level - 1; k >= 0; k--) {
    const [width, height] = sizeAt(size, k);
    const larger = planes.map(() => ({ width, height, data: sharedFloats(width * height, context) }));
    await parallelFor(doubleBand, { stack: planes, larger, partly: false }, Math.ceil(height / band), context);
    planes = larger;
  }
  return planes;
}

/** What is not known yet must not darken what is: where opacity is partial, doubled colours are weighted by it. */
function weigh(larger: Stack, [red, green, blue, opacity]: Stack, from: number, to: number): void {
  const [r, g, b, whole] = larger.map((p) => p.data);
  const { width } = larger[0];
  const { width: w, height: h, data: a } = opacity;
  for (let y = from, p = from * width; y < to; y++) {
    const near = (y >> 1) * w;
    const far = Math.min(h - 1, Math.max(0, (y >> 1) + ((y & 1) === 0 ? -1 : 1))) * w;
    for (let x = 0; x < width; x++, p++) {
      if (whole[p] > 0.999 || whole[p] < 1e-6) continue;
      const own = x >> 1;
      const other = Math.min(w - 1, Math.max(0, own + ((x & 1) === 0 ? -1 : 1)));
      const nn = (0.5625 * a[near + own]) / whole[p];
      const no = (0.1875 * a[near + other]) / whole[p];
      const fn = (0.1875 * a[far + own]) / whole[p];
      const fo = (0.0625 * a[far + other]) / whole[p];
      r[p] = nn * red.data[near + own] + no * red.data[near + other] + fn * red.data[far + own] + fo * red.data[far + other];
      g[p] = nn * green.data[near + own] + no * green.data[near + other] + fn * green.data[far + own] + fo * green.data[far + other];
      b[p] = nn * blue.data[near + own] + no * blue.data[near + other] + fn * blue.data[far + own] + fo * blue.data[far + other];
    }
  }
}

interface OverJob {
  stack: Stack;
  below: Stack;
  finer: number;
  clear: boolean;
}

/** Lays layers that were laid apart over what is behind them. @param finer how often they must be doubled to have its size */
export function layOver(stack: Stack, below: Stack, finer: number, clear: boolean, context: Context): Promise<void> {
  return parallelFor(overBand, { stack, below, finer, clear }, Math.ceil(below[0].height / band), context);
}

/** Lays a band of rows over what is behind them. */
export const overBand: Kernel<OverJob> = {
  name: 'overBand',
  begin(job) {
    const line = job.stack.map((p) => new Float32Array(p.width + 1));
    return (i) => {
      for (let y = i * band; y < Math.min(job.below[0].height, (i + 1) * band); y++) layLine(job, line, y);
    };
  },
};

function layLine({ stack, below, finer, clear }: OverJob, line: Float32Array[], y: number): void {
  const [r, g, b, a, share] = below.map((p) => p.data);
  const { width } = below[0];
  const { width: coarse, height: rows } = stack[0];
  const k = 2 ** finer;
  const [lr, lg, lb, la, ls] = line;
  const v = Math.max(0, (y + 0.5) / k - 0.5);
  const y0 = Math.floor(v);
  const [top, low] = [y0 * coarse, Math.min(rows - 1, y0 + 1) * coarse];
  // Opacity first: where there is none, nothing else is looked at.
  const hidden = lineBetween(la, stack[3].data, top, low, v - y0, 0, coarse);
  if (!hidden) return;
  const [first, last] = hidden;
  for (let i = 0; i < line.length; i++) if (i !== 3) lineBetween(line[i], stack[i].data, top, low, v - y0, first, last);
  const from = Math.max(0, Math.floor((first - 1) * k));
  const to = Math.min(width, Math.ceil((last + 1) * k));
  for (let x = from, p = y * width + from; x < to; x++, p++) {
    const u = (x + 0.5) / k - 0.5;
    const q = u < 0 ? 0 : u | 0;
    const s = u < 0 ? 0 : u - q;
    const hides = la[q] + s * (la[q + 1] - la[q]);
    if (hides < 1e-6) continue;
    const open = hides >= 1 ? 0 : 1 - hides;
    const behind = clear ? open : open * Math.min(1, 8 * a[p]);
    const whole = clear ? 1 : 1 / (hides + behind);
    r[p] = (lr[q] + s * (lr[q + 1] - lr[q]) + behind * r[p]) * whole;
    g[p] = (lg[q] + s * (lg[q + 1] - lg[q]) + behind * g[p]) * whole;
    b[p] = (lb[q] + s * (lb[q + 1] - lb[q]) + behind * b[p]) * whole;
    a[p] = Math.min(1, hides + open * a[p]);
    if (share) share[p] += ls[q] + s * (ls[q + 1] - ls[q]);
  }
}

/**
 * A line between two rows of a plane, with its end repeated; a column on both sides of the stretch is brought up to date too.
 *
 * @returns first column and one past the last that hold anything, or nothing
 */
function lineBetween(
  line: Float32Array,
  data: Float32Array,
  top: number,
  low: number,
  t: number,
  first: number,
  last: number,
): [number, number] | undefined {
  const width = line.length - 1;
  let [from, to] = [width, 0];
  const end = Math.min(width, last + 1);
  for (let x = Math.max(0, first - 1); x < end; x++) {
    const v = data[top + x] + t * (data[low + x] - data[top + x]);
    line[x] = v;
    if (v > 0) {
      if (x < from) from = x;
      to = x + 1;
    }
  }
  if (end === width) line[width] = line[width - 1];
  return to > from ? [from, to] : undefined;
}

/** The picture that a whole stack is. */
export function finished([red, green, blue, opacity, share]: Stack, card: Picture): Picture {
  if (!card.a) return pictureOf([red, green, blue]);
  const out = makePicture(card.width, card.height, 0);
  for (let p = 0; p < out.r.length; p++) {
    const a = opacity.data[p];
    if (a < 1e-5) continue;
    out.r[p] = red.data[p] / a;
    out.g[p] = green.data[p] / a;
    out.b[p] = blue.data[p] / a;
    // Seams between layers of one solid thing let nothing through.
    out.a![p] = Math.min(1, Math.max(a, share.data[p]));
  }
  return out;
}
