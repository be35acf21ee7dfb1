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
  /** Farthest that light travels, whole px. */
  reach: number;
  /** A Gaussian of this standard deviation instead of the chords, px. */
  sigma?: number;
  /** How far the barrel's edge is moved for each pixel from the middle of the frame, and its radius; nothing when it cuts nothing off. */
  cut?: { x: number; y: number; shift: number; radius: number };
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
  if (aperture.shape === 'soft') return { diameter, chords: [], reach: Math.ceil((3 * diameter) / 4) + 1, sigma: diameter / 4 };
  const cut =
    aperture.cornerCut > 0
      ? { x: frame.x, y: frame.y, shift: ((aperture.cornerCut * diameter) / 2 / frame.half) * (turned ? -1 : 1), radius: diameter / 2 }
      : undefined;
  return { diameter, chords: chordsOf(aperture, diameter, turned), reach, ...(cut && { cut }) };
}

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
    const sums = new Float64Array(width + 2 * reach + 2);
    return (part) => {
      const plane = planes[Math.floor(part / bands)];
      const whole = out[Math.floor(part / bands)].data;
      if (shape.sigma !== undefined) {
        whole.set(gaussian(plane, shape.sigma).data);
        return;
      }
      const top = (part % bands) * band;
      const rows = Math.min(height - top, band);
      const here = { width, height: rows, data: whole.subarray(top * width, (top + rows) * width) };
      const seen = cut ? { ...shape, cut: { ...cut, y: cut.y - top } } : shape;
      const norm = cut ? new Float32Array(width * rows) : undefined;
      for (let sy = -reach; sy < rows + reach; sy++) {
        // The border goes on beyond the plane.
        const inside = Math.min(height - 1, Math.max(0, top + sy));
        let [from, to] = extent ? [extent.from[inside], extent.to[inside]] : [0, width];
        if (from >= to && !norm) continue;
        if (from === 0) from = -reach;
        if (to === width) to = width + reach;
        fillSums(sums, plane, inside, from, to, reach);
        const first = norm ? 0 : Math.max(0, from - reach);
        const last = norm ? width : Math.min(width, to + reach);
        addRow(here, norm, sy, { first, last, top: 0, bottom: rows }, sums, seen);
      }
      if (norm) for (let i = 0; i < norm.length; i++) here.data[i] = norm[i] > 1e-12 ? here.data[i] / norm[i] : 0;
    };
  },
};

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
  for (let y = top; y < bottom; y++) out.data.fill(0, y * width + margin, y * width + end);
  const norm = cut ? new Float32Array(width * height) : undefined;
  for (let sy = Math.max(0, top - reach); sy < Math.min(height, bottom + reach); sy++) {
    const from = norm ? 0 : extent.from[sy];
    const to = norm ? width : extent.to[sy];
    if (from >= to) continue;
    const first = Math.max(margin, from - reach);
    const last = Math.min(end, to + reach);
    if (first >= last) continue;
    fillSums(sums, p, sy, from, to, reach);
    addRow(out, norm, sy, { first, last, top, bottom }, sums, shape);
  }
  if (!norm) return;
  for (let y = top; y < bottom; y++) {
    for (let i = y * width + margin; i < y * width + end; i++) out.data[i] = norm[i] > 1e-12 ? out.data[i] / norm[i] : 0;
  }
}

/** Columns and rows from the first up to the last that are wanted. */
interface Window {
  first: number;
  last: number;
  top: number;
  bottom: number;
}

/** Sums of a row from its left, `reach` pixels of what lies beyond on both sides. */
function fillSums(sums: Float64Array, p: Plane, y: number, from: number, to: number, reach: number): void {
  const { width, data } = p;
  const row = y * width;
  const padded = width + 2 * reach;
  sums.fill(0, 0, Math.max(0, from + reach));
  let sum = 0;
  let i = Math.max(0, from + reach);
  for (; i < reach; i++) {
    sums[i] = sum;
    sum += data[row];
  }
  const end = Math.min(width + reach, to + reach);
  for (let at = row + i - reach; i < end; i++, at++) {
    sums[i] = sum;
    sum += data[at];
  }
  if (to > width) {
    for (; i < padded; i++) {
      sums[i] = sum;
      sum += data[row + width - 1];
    }
  }
  sums.fill(sum, i, padded + 2);
}

/** Adds what one row sheds to all the wanted rows it reaches. */
function addRow(out: Plane, norm: Float32Array | undefined, sy: number, window: Window, sums: Float64Array, shape: Shape): void {
  const { width } = out;
  const { first, last, top, bottom } = window;
  const { chords, reach, cut } = shape;
  for (let i = 0; i < chords.length; i++) {
    const { dy, also, left, right, weight } = chords[i];
    const inside = sy + dy >= top && sy + dy < bottom;
    const twin = also !== undefined && sy + also >= top && sy + also < bottom;
    if (norm && cut) {
      if (inside) addCut(out.data, norm, sy + dy, window, width, sums, chords[i], reach, cut, dy);
      if (twin) addCut(out.data, norm, sy + also, window, width, sums, chords[i], reach, cut, also);
      continue;
    }
    const from = reach + 0.5 - right + first;
    const to = reach + 0.5 - left + first;
    const one = (sy + dy) * width + first;
    if (inside && twin) addTwice(out.data, one, (sy + also) * width + first, last - first, sums, from, to, weight);
    else if (inside) addChord(out.data, one, last - first, sums, from, to, weight);
    else if (twin) addChord(out.data, (sy + also) * width + first, last - first, sums, from, to, weight);
  }
}

/** Adds, for every x of a stretch, the integral of the row from x + left to x + right. */
function addChord(out: Float32Array, at: number, count: number, sums: Float64Array, left: number, right: number, weight: number): void {
  // Both are positive: whole-number arithmetic throughout the loop.
  const l = left | 0;
  const r = right | 0;
  const u = left - l;
  const v = right - r;
  let sl = sums[l];
  let sr = sums[r];
  for (let p = at, end = at + count, i = l + 1, j = r + 1; p < end; p++, i++, j++) {
    const nl = sums[i];
    const nr = sums[j];
    out[p] += weight * (sr + v * (nr - sr) - sl - u * (nl - sl));
    sl = nl;
    sr = nr;
  }
}

/** The same into two rows. */
function addTwice(
  out: Float32Array,
  one: number,
  two: number,
  count: number,
  sums: Float64Array,
  left: number,
  right: number,
  weight: number,
): void {
  const l = left | 0;
  const r = right | 0;
  const u = left - l;
  const v = right - r;
  let sl = sums[l];
  let sr = sums[r];
  for (let p = one, q = two, end = one + count, i = l + 1, j = r + 1; p < end; p++, q++, i++, j++) {
    const nl = sums[i];
    const nr = sums[j];
    const light = weight * (sr + v * (nr - sr) - sl - u * (nl - sl));
    out[p] += light;
    out[q] += light;
    sl = nl;
    sr = nr;
  }
}

/**
 * The same where a round barrel, seen from the side, cuts the shape: towards the corners it slides over the opening
 * from outside. What was laid is summed as well, so that the light can be made whole again.
 */
function addCut(
  out: Float32Array,
  norm: Float32Array,
  y: number,
  { first, last }: Window,
  width: number,
  sums: Float64Array,
  chord: Chord,
  reach: number,
  cut: NonNullable<Shape['cut']>,
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
