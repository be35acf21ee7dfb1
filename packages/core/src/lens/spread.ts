import { inArenaNow, type Arena } from '../runtime/arena';
import type { Context } from '../runtime/context';
import { toShared, sharedFloats, parallelFor, type Kernel } from '../runtime/parallelFor';
import { gaussian } from '../raster/filter';
import type { Plane } from '../raster/plane';
import { chordsOf, type Aperture, type Chord } from './aperture';

/** A blur shape of one size, ready to be laid. */
export interface Shape {
  /** Diameter of the blur disc, px. */
  diameter: number;
  chords: Chord[];
  /** The same as five numbers a chord, as compiled code takes them. */
  numbers: Float64Array;
  /** Farthest that light travels, whole px. */
  reach: number;
  /** A Gaussian of this standard deviation instead of the chords, px. */
  sigma?: number;
  /** How far the barrel's edge is moved for each pixel from the middle of the frame, and its radius; nothing when it cuts nothing off. */
  cut?: Cut;
}

interface Cut {
  x: number;
  y: number;
  shift: number;
  radius: number;
}

/** Where in the frame a plane lies: of use to what changes towards the corners. */
export interface Frame {
  /** Middle of the frame, in pixels of the plane. */
  x: number;
  y: number;
  /** Half its diagonal. */
  half: number;
}

/** The shape that a point takes. @param turned upside down, as nearer than the focus */
export function shapeOf(aperture: Aperture, diameter: number, frame: Frame, turned = false): Shape {
  const reach = Math.ceil(diameter / 2) + 1;
  if (aperture.shape === 'soft')
    return { diameter, chords: [], numbers: new Float64Array(0), reach: Math.ceil((3 * diameter) / 4) + 1, sigma: diameter / 4 };
  const cut =
    aperture.cornerCut > 0
      ? { x: frame.x, y: frame.y, shift: ((aperture.cornerCut * diameter) / 2 / frame.half) * (turned ? -1 : 1), radius: diameter / 2 }
      : undefined;
  const chords = chordsOf(aperture, diameter, turned);
  const numbers = Float64Array.from(chords.flatMap(({ dy, also, left, right, weight }) => [dy, also ?? noTwin, left, right, weight]));
  return { diameter, chords, numbers, reach, ...(cut && { cut }) };
}

/** More rows down than any picture has. */
const noTwin = 1e9;

/** The rows and columns in which a plane holds anything. */
export interface Extent {
  /** First and one past the last column of each row; an empty row has none between them. */
  from: Int32Array;
  to: Int32Array;
}

interface SpreadJob {
  planes: Plane[];
  out: Plane[];
  shape: Shape;
  extent?: Extent;
}

/** Rows of the result that a thread works out at a time. */
const band = 128;

/** Spreads one plane after the other, band by band. */
export const spreadBand: Kernel<SpreadJob> = {
  name: 'spreadBand',
  begin({ planes, out, shape, extent }) {
    const { width, height } = planes[0];
    const { reach, cut } = shape;
    const bands = bandsOf(planes[0], shape);
    return (part) => {
      const plane = planes[Math.floor(part / bands)];
      const whole = out[Math.floor(part / bands)].data;
      if (shape.sigma !== undefined) {
        whole.set(gaussian(plane, shape.sigma).data);
        return;
      }
      const top = (part % bands) * band;
      const rows = Math.min(height - top, band);
      const own = whole.subarray(top * width, (top + rows) * width);
      // The border goes on beyond the plane.
      const source = Int32Array.from({ length: rows + 2 * reach }, (_, k) => Math.min(height - 1, Math.max(0, top + k - reach)));
      const window = { left: 0, right: width, top: 0, bottom: rows };
      if (!cut) {
        const [from, to] = [new Int32Array(source.length), new Int32Array(source.length)];
        source.forEach((y, k) => {
          const [first, end] = extent ? [extent.from[y], extent.to[y]] : [0, width];
          if (first >= end) return;
          from[k] = first === 0 ? -reach : first;
          to[k] = end === width ? width + reach : end;
        });
        inArenaNow((arena) => {
          const made = arena.filled(own.byteLength);
          shed(arena, plane, shape, { source, from, to, first: -reach }, window, made);
          arena.copyOut(made, own);
        });
        return;
      }
      const here = { width, height: rows, data: own };
      const norm = new Float32Array(width * rows);
      const seen = { ...cut, y: cut.y - top };
      const sums = new Float64Array(width + 2 * reach + 2);
      source.forEach((y, k) => {
        fillSums(sums, plane, y, reach, true);
        addCuts(here, norm, k - reach, window, sums, shape, seen);
      });
      for (let i = 0; i < norm.length; i++) own[i] = norm[i] > 1e-12 ? own[i] / norm[i] : 0;
    };
  },
};

/** Rows that are spread: which of the plane's each shows, its first column and the one after its last; and where the first lies. */
interface Shedding {
  source: Int32Array;
  from: Int32Array;
  to: Int32Array;
  first: number;
}

/** Spreads some rows of a plane into what begins at an address, of its width. */
function shed(arena: Arena, { width, data }: Plane, { numbers, reach }: Shape, rows: Shedding, window: Window, out: number): void {
  const count = rows.source.length;
  const [least, most] = [rows.source[0], rows.source[count - 1]];
  const seen = arena.copyIn(data.subarray(least * width, (most + 1) * width));
  const lists = arena.copiesIn(
    rows.source.map((y) => y - least),
    rows.from,
    rows.to,
  );
  const chords = arena.copyIn(numbers);
  const sums = arena.alloc(8 * (width + 2 * reach + 2));
  const { left, right, top, bottom } = window;
  arena.run.shed(width, reach, count, rows.first, seen, ...lists, left, right, top, bottom, chords, numbers.length / 5, sums, out);
}

function bandsOf({ height }: Plane, shape: Shape): number {
  return shape.sigma === undefined ? Math.ceil(height / band) : 1;
}

/**
 * Planes spread by a blur shape: every value becomes the shape and holds the same light. Running row sums: the cost
 * grows with the shape's height, not with its area. The border goes on beyond the plane.
 *
 * @param planes all of one size
 * @param extent where there is anything to spread; everywhere when left out
 * @returns planes in memory that the pool sees
 * @throws AbortError
 */
export async function spread(planes: Plane[], shape: Shape, context: Context, extent?: Extent): Promise<Plane[]> {
  const job: SpreadJob = {
    planes: planes.map((p) => ({ ...p, data: toShared(p.data, context) })),
    out: planes.map((p) => ({ ...p, data: sharedFloats(p.data.length, context) })),
    shape,
    ...(extent && { extent }),
  };
  await parallelFor(spreadBand, job, planes.length * bandsOf(planes[0], shape), context, 'Blurring');
  return job.out;
}

/**
 * The same within a tile, into room that is there already; nothing lies beyond the tile, so that it needs a margin as
 * wide as the shape reaches.
 *
 * @param margin so many px at the tile's sides are not worked out
 * @param sums room for three times the tile's width
 */
export function spreadInto(out: Plane, p: Plane, shape: Shape, extent: Extent, margin: number, sums: Float64Array): void {
  if (shape.sigma !== undefined) {
    out.data.set(gaussian(p, shape.sigma).data);
    return;
  }
  const { width, height } = p;
  const { reach, cut } = shape;
  const [top, bottom, end] = [margin, height - margin, width - margin];
  const window = { left: margin, right: end, top, bottom };
  if (top >= bottom || margin >= end) return;
  const [first, last] = [Math.max(0, top - reach), Math.min(height, bottom + reach)];
  if (!cut) {
    const source = Int32Array.from({ length: last - first }, (_, k) => first + k);
    const [from, to] = [extent.from.subarray(first, last), extent.to.subarray(first, last)];
    inArenaNow((arena) => {
      const made = arena.filled(4 * width * height);
      shed(arena, p, shape, { source, from, to, first }, window, made);
      for (let y = top; y < bottom; y++)
        arena.copyOut(made + 4 * (y * width + margin), out.data.subarray(y * width + margin, y * width + end));
    });
    return;
  }
  for (let y = top; y < bottom; y++) out.data.fill(0, y * width + margin, y * width + end);
  const norm = new Float32Array(width * height);
  for (let sy = first; sy < last; sy++) {
    fillSums(sums, p, sy, reach, false);
    addCuts(out, norm, sy, window, sums, shape, cut);
  }
  for (let y = top; y < bottom; y++) {
    for (let i = y * width + margin; i < y * width + end; i++) out.data[i] = norm[i] > 1e-12 ? out.data[i] / norm[i] : 0;
  }
}

/** Columns and rows from the first up to the last that are wanted. */
interface Window {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** Sums of a row from its left, `reach` pixels of what lies beyond on both sides: its ends go on, or there is nothing. */
function fillSums(sums: Float64Array, { width, data }: Plane, y: number, reach: number, goesOn: boolean): void {
  const row = y * width;
  const [left, right] = goesOn ? [data[row], data[row + width - 1]] : [0, 0];
  let sum = 0;
  for (let x = -reach, i = 0; x < width + reach; x++, i++) {
    sums[i] = sum;
    sum += x < 0 ? left : x < width ? data[row + x] : right;
  }
  sums.fill(sum, width + 2 * reach, width + 2 * reach + 2);
}

/** Adds what one row sheds to all the wanted rows it reaches, where a barrel cuts the shape. */
function addCuts(out: Plane, norm: Float32Array, sy: number, window: Window, sums: Float64Array, { chords, reach }: Shape, cut: Cut): void {
  const { top, bottom } = window;
  for (const chord of chords) {
    for (const dy of [chord.dy, chord.also]) {
      if (dy === undefined || sy + dy < top || sy + dy >= bottom) continue;
      addCut(out.data, norm, sy + dy, window, out.width, sums, chord, reach, cut, dy);
    }
  }
}

/**
 * Adds, for every column, the integral of a row over a chord. A round barrel, seen from the side, cuts the shape: towards the corners it slides over the opening
 * from outside. What was laid is summed as well, so that the light can be made whole again.
 */
function addCut(
  out: Float32Array,
  norm: Float32Array,
  y: number,
  { left: first, right: last }: Window,
  width: number,
  sums: Float64Array,
  chord: Chord,
  reach: number,
  cut: Cut,
  dy: number,
): void {
  // The barrel's middle lies towards the frame's middle from the point; light travels from the source to here.
  // Where it stands is the source's affair: out there by as much as the light has travelled.
  const kept = 1 - cut.shift;
  const down = (cut.y - y) * cut.shift - kept * dy;
  const half = cut.radius * cut.radius - down * down;
  if (half <= 0) return;
  const reachOfBarrel = Math.sqrt(half) / kept;
  for (let x = first, p = y * width + first; x < last; x++, p++) {
    const middle = ((cut.x - x) * cut.shift) / kept;
    const from = Math.max(chord.left, middle - reachOfBarrel);
    const to = Math.min(chord.right, middle + reachOfBarrel);
    if (to <= from) continue;
    const left = x + reach + 0.5 - to;
    const right = x + reach + 0.5 - from;
    const l = left | 0;
    const r = right | 0;
    const value = sums[r] + (right - r) * (sums[r + 1] - sums[r]) - sums[l] - (left - l) * (sums[l + 1] - sums[l]);
    out[p] += chord.weight * value;
    norm[p] += chord.weight * (to - from);
  }
}
