import { inArenaNow } from '../runtime/arena';
import type { Context } from '../runtime/context';
import { sharedFloats, parallelFor, type Kernel } from '../runtime/parallelFor';
import { makePicture, makePlane, pictureOf, planesOf, seenPlanes, type Picture, type Plane } from './plane';

/** For each output sample: the first source sample, how many, and their weights. */
interface Taps {
  first: Int32Array;
  count: number;
  weights: Float32Array;
}

/**
 * Weights for one axis. Shrinking averages the covered area with a triangle (tent) of the output's spacing,
 * which does not alias; growing is Catmull-Rom cubic (Keys 1981). Borders repeat.
 */
function makeTaps(from: number, to: number): Taps {
  const step = from / to;
  const shrinking = step > 1;
  const support = shrinking ? step : 2;
  const count = Math.min(from, Math.ceil(support * 2) + 1);
  const first = new Int32Array(to);
  const weights = new Float32Array(to * count);
  for (let i = 0; i < to; i++) {
    const centre = (i + 0.5) * step - 0.5;
    const lowest = Math.ceil(centre - support);
    const start = Math.max(0, Math.min(from - count, lowest));
    first[i] = start;
    let sum = 0;
    for (let s = lowest; s <= centre + support; s++) {
      const w = shrinking ? Math.max(0, 1 - Math.abs(s - centre) / support) : catmullRom(Math.abs(s - centre));
      const slot = Math.max(0, Math.min(from - 1, s)) - start;
      if (slot >= 0 && slot < count) {
        weights[i * count + slot] += w;
        sum += w;
      }
    }
    for (let k = 0; k < count; k++) weights[i * count + k] /= sum;
  }
  return { first, count, weights };
}

function catmullRom(t: number): number {
  if (t < 1) return 1 + t * t * (1.5 * t - 2.5);
  if (t < 2) return 2 + t * (-4 + t * (2.5 - 0.5 * t));
  return 0;
}

/**
 * A plane at another size: area-weighted when shrinking, cubic when growing. Mean brightness is kept, a
 * constant stays constant. Cost is proportional to the larger of the two sizes.
 */
export function resizePlane(p: Plane, width: number, height: number): Plane {
  if (p.width === width && p.height === height) return p;
  const out = makePlane(width, height);
  const [tx, ty] = [makeTaps(p.width, width), makeTaps(p.height, height)];
  for (let y = 0; y < height; y += band) resizeRows(rowsOf(p), out, tx, ty, y, Math.min(height, y + band));
  return out;
}

/** For each of a large row's pixels the small one to the left of its middle, and how far beyond that one's it lies, 0 to 1. */
export function placesBetween(small: number, large: number): { left: Int32Array; share: Float32Array } {
  const left = new Int32Array(large);
  const share = new Float32Array(large);
  for (let x = 0; x < large; x++) {
    const at = Math.min(small - 1, Math.max(0, ((x + 0.5) * small) / large - 0.5));
    left[x] = Math.floor(at);
    share[x] = at - left[x];
  }
  return { left, share };
}

/** A plane whose rows are had when they are needed. */
interface Rows {
  width: number;
  height: number;
  /** Rows `top` up to `end`. */
  between(top: number, end: number): Float32Array;
}

const rowsOf = ({ width, height, data }: Plane): Rows => ({
  width,
  height,
  between: (top, end) => data.subarray(top * width, end * width),
});

/** What is looked at for rows `from` up to `to` of a result. */
const lookedAt = (ty: Taps, from: number, to: number): [number, number] => [ty.first[from], ty.first[to - 1] + ty.count];

/** Works out rows `from` up to `to` of a resized plane; first along the axis that leaves less for the other. */
function resizeRows(p: Rows, out: Plane, tx: Taps, ty: Taps, from: number, to: number): void {
  const { width } = out;
  const [top, end] = lookedAt(ty, from, to);
  const result = out.data.subarray(from * width, to * width);
  inArenaNow((arena) => {
    const { run } = arena;
    const data = arena.copyIn(p.between(top, end));
    const [first, across, down] = arena.copiesIn(tx.first, tx.weights, ty.weights);
    const resized = arena.filled(result.byteLength);
    const take = (row: number, into: number): void => run.takeAcross(row, first, tx.count, across, width, into);
    const add = (rows: number, length: number, y: number, into: number): void =>
      run.addDown(rows + 4 * length * (ty.first[y] - top), length, ty.count, down + 4 * ty.count * y, into);
    if (out.height < p.height) {
      const line = arena.alloc(4 * p.width);
      for (let y = from; y < to; y++) {
        arena.fill(line, 4 * p.width);
        add(data, p.width, y, line);
        take(line, resized + 4 * width * (y - from));
      }
    } else {
      const narrow = arena.alloc(4 * width * (end - top));
      for (let v = 0; v < end - top; v++) take(data + 4 * p.width * v, narrow + 4 * width * v);
      for (let y = from; y < to; y++) add(narrow, width, y, resized + 4 * width * (y - from));
    }
    arena.copyOut(resized, result);
  });
}

interface ResizeJob {
  planes: Plane[];
  out: Plane[];
  tx: Taps;
  ty: Taps;
}

/** Rows of the result that a thread works out at a time. */
const band = 64;

/** Resizes one plane after the other, band by band. */
export const resizeBand: Kernel<ResizeJob> = {
  name: 'resizeBand',
  begin({ planes, out, tx, ty }) {
    const { height } = out[0];
    const bands = Math.ceil(height / band);
    return (part) => {
      const c = Math.floor(part / bands);
      const from = (part % bands) * band;
      resizeRows(rowsOf(planes[c]), out[c], tx, ty, from, Math.min(height, from + band));
    };
  },
};

/** As `resizePlane`, for planes of one size, with all threads; can be cancelled. @throws AbortError */
export async function resizeTogether(planes: Plane[], width: number, height: number, context: Context, what?: string): Promise<Plane[]> {
  const [p] = planes;
  if (p.width === width && p.height === height) return planes;
  const job: ResizeJob = {
    planes: await seenPlanes(planes, context, what),
    out: planes.map(() => ({ width, height, data: sharedFloats(width * height, context) })),
    tx: makeTaps(p.width, width),
    ty: makeTaps(p.height, height),
  };
  await parallelFor(resizeBand, job, planes.length * Math.ceil(height / band), context, what);
  return job.out;
}

/** A picture whose rows are had when they are needed. */
export interface PictureRows {
  width: number;
  height: number;
  hasOpacity: boolean;
  /** Rows `top` up to `end`. */
  between(top: number, end: number): Picture;
}

/**
 * A picture at another size. With opacity, colours are weighted by it, so that the colour of clear pixels
 * never leaks into the edge.
 */
export function resizePicture(p: Picture, width: number, height: number): Picture {
  if (p.width === width && p.height === height) return p;
  const between = (top: number, end: number): Picture => {
    const rows = planesOf(p).map((plane) => ({ width: p.width, height: end - top, data: rowsOf(plane).between(top, end) }));
    return pictureOf(rows);
  };
  return resizeByRows({ width: p.width, height: p.height, hasOpacity: p.a !== undefined, between }, width, height);
}

/** The same for a picture that need never be there as a whole, to the same bytes. */
export function resizeByRows(p: PictureRows, width: number, height: number): Picture {
  const out = makePicture(width, height, p.hasOpacity ? 0 : undefined);
  const plain = new Float32Array(p.hasOpacity ? width * height : 0);
  const [tx, ty] = [makeTaps(p.width, width), makeTaps(p.height, height)];
  for (let from = 0; from < height; from += band) {
    const to = Math.min(height, from + band);
    const rows = p.between(...lookedAt(ty, from, to));
    const resized = (data: Float32Array, goal: Float32Array): Float32Array => {
      resizeRows({ ...p, between: () => data }, { width, height, data: goal }, tx, ty, from, to);
      return goal.subarray(from * width, to * width);
    };
    const { a } = rows;
    if (!a) {
      for (const c of ['r', 'g', 'b'] as const) resized(rows[c], out[c]);
      continue;
    }
    const opacity = resized(a, out.a!);
    for (const c of ['r', 'g', 'b'] as const) {
      const unweighted = resized(rows[c], plain);
      const weighted = resized(
        rows[c].map((v, i) => v * a[i]),
        out[c],
      );
      for (let i = 0; i < weighted.length; i++) weighted[i] = opacity[i] > 1e-3 ? weighted[i] / opacity[i] : unweighted[i];
    }
    for (let i = 0; i < opacity.length; i++) opacity[i] = Math.min(1, Math.max(0, opacity[i]));
  }
  return out;
}

/** A picture with a hole in it at another size: what is in the hole (1) does not leak into what is around it (0). */
export function resizeHoled({ picture, hole }: Holed, width: number, height: number): Holed {
  if (picture.width === width && picture.height === height) return { picture, hole };
  const n = hole.data.length;
  const kept = makePlane(picture.width, picture.height);
  for (let p = 0; p < n; p++) kept.data[p] = 1 - hole.data[p];
  const weight = resizePlane(kept, width, height);
  const part = makePlane(picture.width, picture.height);
  const colours = [picture.r, picture.g, picture.b].map((c) => {
    for (let p = 0; p < n; p++) part.data[p] = c[p] * kept.data[p];
    const sum = resizePlane(part, width, height);
    for (let p = 0; p < sum.data.length; p++) {
      const w = weight.data[p];
      sum.data[p] = w > 1e-3 ? Math.max(0, sum.data[p] / w) : 0;
    }
    return sum;
  });
  for (let p = 0; p < weight.data.length; p++) weight.data[p] = Math.min(1, Math.max(0, 1 - weight.data[p]));
  return { picture: pictureOf(colours), hole: weight };
}

/** A picture, and what of it is missing: 0 (there) to 1 (missing). */
export interface Holed {
  picture: Picture;
  hole: Plane;
}

/** The size of a picture at a scale, never below one pixel. */
export function scaledSize(width: number, height: number, scale: number): { width: number; height: number } {
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}

/** Half the size by averaging 2 × 2; an odd last row or column counts once. */
export function halve(p: Plane): Plane {
  const width = (p.width + 1) >> 1;
  const height = (p.height + 1) >> 1;
  const out = makePlane(width, height);
  for (let y = 0; y < height; y++) {
    const r0 = 2 * y * p.width;
    const r1 = Math.min(p.height - 1, 2 * y + 1) * p.width;
    for (let x = 0; x < width; x++) {
      const x0 = 2 * x;
      const x1 = Math.min(p.width - 1, x0 + 1);
      out.data[y * width + x] = (p.data[r0 + x0] + p.data[r0 + x1] + p.data[r1 + x0] + p.data[r1 + x1]) / 4;
    }
  }
  return out;
}

/** As `halve`, for a picture with a hole in it: what is in the hole does not leak into what is around it. */
export function halveHoled({ picture, hole }: Holed): Holed {
  const { width, height, r, g, b } = picture;
  const [w, h] = [(width + 1) >> 1, (height + 1) >> 1];
  const [red, green, blue, missing] = [0, 1, 2, 3].map(() => new Float32Array(w * h));
  const m = hole.data;
  for (let y = 0, o = 0; y < h; y++) {
    const down = 2 * y + 1 < height ? width : 0;
    for (let x = 0, p = 2 * y * width; x < w; x++, o++, p += 2) {
      const across = 2 * x + 1 < width ? 1 : 0;
      const q = p + across;
      const s = p + down;
      const t = s + across;
      const kp = 1 - m[p];
      const kq = 1 - m[q];
      const ks = 1 - m[s];
      const kt = 1 - m[t];
      const kept = kp + kq + ks + kt;
      missing[o] = Math.max(0, 1 - kept / 4);
      if (kept < 1e-3) continue;
      red[o] = (kp * r[p] + kq * r[q] + ks * r[s] + kt * r[t]) / kept;
      green[o] = (kp * g[p] + kq * g[q] + ks * g[s] + kt * g[t]) / kept;
      blue[o] = (kp * b[p] + kq * b[q] + ks * b[s] + kt * b[t]) / kept;
    }
  }
  return { picture: { width: w, height: h, r: red, g: green, b: blue }, hole: { width: w, height: h, data: missing } };
}

/**
 * Twice the size, bilinear: nothing rises above or falls below what was there. The counterpart of `halve`.
 *
 * @param width of the result, `height` its height: twice the size or less by one where the finer plane's size was odd
 */
export function double(p: Plane, width = 2 * p.width, height = 2 * p.height): Plane {
  const out = makePlane(width, height);
  doubleRows(p, out, 0, height);
  return out;
}

/** Rows `from` up to `to` of a plane that is doubled into another of about twice its size. */
export function doubleRows({ width, height, data }: Plane, out: Plane, from: number, to: number): void {
  const between = new Float32Array(width);
  const pairs = out.width >> 1;
  for (let y = from; y < to; y++) {
    const near = (y >> 1) * width;
    const far = Math.min(height - 1, Math.max(0, (y >> 1) + ((y & 1) === 0 ? -1 : 1))) * width;
    for (let x = 0; x < width; x++) between[x] = 0.75 * data[near + x] + 0.25 * data[far + x];
    let at = y * out.width;
    let before = between[0];
    for (let x = 0; x < pairs; x++) {
      const here = between[x];
      out.data[at++] = 0.75 * here + 0.25 * before;
      out.data[at++] = 0.75 * here + 0.25 * (x + 1 < width ? between[x + 1] : here);
      before = here;
    }
    if (out.width & 1) out.data[at] = 0.75 * between[pairs] + 0.25 * before;
  }
}
