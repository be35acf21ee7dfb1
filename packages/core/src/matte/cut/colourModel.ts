import { seenLab } from '../../colour/oklab';
import { inArenaNow } from '../../runtime/arena';
import type { Context } from '../../runtime/context';
import { toShared, sharedBytes, parallelFor, type Kernel } from '../../runtime/parallelFor';
import { indicesWhere } from '../../raster/mask';

/** Four numbers that describe a pixel: OKLab and, where texture counts, how busy its surroundings are. */
export interface Features {
  width: number;
  height: number;
  l: Float32Array;
  a: Float32Array;
  b: Float32Array;
  /** Busyness around the pixel, weighed against colour; left out, only colour counts. */
  busy?: Float32Array;
}

/** Features in memory that every thread of the pool sees. */
export function seenFeatures(f: Features, context: Context): Features {
  const seen = seenLab(f, context);
  return f.busy ? { ...seen, busy: toShared(f.busy, context) } : seen;
}

/** A mixture of Gaussians over features. */
export interface ColourModel {
  /** Whether busyness counts. */
  busy: boolean;
  /**
   * Fifteen numbers a component: mean (4), the lower triangle of the inverse of the Cholesky factor of its
   * covariance (10), −2·log of its weighted peak (1).
   */
  parts: Float64Array;
}

/** Smallest variance of a component along any axis: a little over the noise of a clean photograph. */
const floorVariance = 2e-5;
/** Numbers that describe a component. */
export const numbersAPart = 15;

/**
 * A mixture fitted to some pixels: cut in two again and again, k-means from there, then one Gaussian with full covariance a
 * cluster. A few pixels more change little.
 *
 * @param pixels indices of the pixels to learn from; about 6000 of them, evenly spread, are looked at
 * @param count components wanted; fewer come back when there are fewer colours
 */
export function fitColourModel(features: Features, pixels: ArrayLike<number>, count: number): ColourModel {
  const busy = features.busy;
  const some = evenSample(pixels);
  const n = some.length;
  const points = new Float64Array(n * 4);
  for (let i = 0; i < n; i++) {
    const p = some[i];
    points[i * 4] = features.l[p];
    points[i * 4 + 1] = features.a[p];
    points[i * 4 + 2] = features.b[p];
    points[i * 4 + 3] = busy ? busy[p] : 0;
  }
  if (n === 0) return { busy: !!busy, parts: new Float64Array(0) };
  const centres = splitCentres(points, n, count);
  const member = cluster(points, n, centres);
  return { busy: !!busy, parts: gaussians(points, n, member, centres.length / 4) };
}

interface SidesJob {
  features: Features;
  sides: { pixels: ArrayLike<number>; count: number; parts: Float64Array }[];
}

/** Learns one side after the other; what is left of the room for parts stays `NaN`. */
export const learnSide: Kernel<SidesJob> = {
  name: 'learnSide',
  begin:
    ({ features, sides }) =>
    (i) => {
      const { pixels, count, parts } = sides[i];
      parts.set(fitColourModel(features, pixels, count).parts);
    },
};

/** The models of inside and outside from pixels of each, of so many parts at most. @throws AbortError */
export async function sidesOf(
  features: Features,
  inside: ArrayLike<number>,
  outside: ArrayLike<number>,
  context: Context,
  [most, mostOutside] = [5, 7],
): Promise<{ inside: ColourModel; outside: ColourModel }> {
  const side = (pixels: ArrayLike<number>, count: number): SidesJob['sides'][number] => {
    const room = sharedBytes(8 * numbersAPart * count, context).buffer;
    return { pixels, count, parts: new Float64Array(room).fill(NaN) };
  };
  const sides = [side(inside, most), side(outside, mostOutside)];
  await parallelFor(learnSide, { features: seenFeatures(features, context), sides }, sides.length, context);
  const [forInside, forOutside] = sides.map(({ parts }) => modelIn(parts, !!features.busy));
  return { inside: forInside, outside: forOutside };
}

/** The model whose numbers stand at the beginning of some room, with `NaN` after them. */
function modelIn(room: Float64Array, busy: boolean): ColourModel {
  const end = room.findIndex(Number.isNaN);
  return { busy, parts: end < 0 ? room : room.subarray(0, end) };
}

/** Pixels looked at, about. */
const enough = 6000;

/** Some of the pixels, each taken or left by a hash of its own place: what is added elsewhere hardly changes who is taken. */
function evenSample(pixels: ArrayLike<number>): ArrayLike<number> {
  if (pixels.length <= enough) return pixels;
  const limit = (enough / pixels.length) * 2 ** 32;
  return inArenaNow((arena) => {
    const out = arena.alloc(4 * pixels.length);
    const given = arena.copyIn(pixels instanceof Int32Array ? pixels : Int32Array.from(pixels));
    const some = new Int32Array(arena.run.sampleOf(pixels.length, given, limit, out));
    arena.copyOut(out, some);
    return some;
  });
}

/** Some points: who they are, their mean, the axis along which they spread most, and how much, summed over them. */
interface Spread {
  own: Int32Array;
  mean: Float64Array;
  axis: Float64Array;
  spread: number;
}

/**
 * Centres to begin with: the whole, of which the part that spreads most along one axis is cut through its mean, again and again
 * (Orchard & Bouman 1991). Nothing is drawn at random, so that a few points more move centres a little and no farther.
 */
function splitCentres(points: Float64Array, n: number, count: number): Float64Array {
  const parts = [
    spreadOf(
      points,
      indicesWhere(n, () => true),
    ),
  ];
  while (parts.length < count) {
    const widest = parts.reduce((a, b) => (b.spread > a.spread ? b : a));
    if (widest.spread < 1e-9) break;
    const [low, high] = halvesOf(points, widest);
    if (low.length === 0 || high.length === 0) break;
    parts.splice(parts.indexOf(widest), 1, spreadOf(points, low), spreadOf(points, high));
  }
  return Float64Array.from(parts.flatMap((p) => [...p.mean]));
}

/** Points on either side of the mean along the axis. */
function halvesOf(points: Float64Array, { own, mean, axis }: Spread): [Int32Array, Int32Array] {
  const middle = dot(axis, 0, mean, 0);
  const beyond = (k: number): boolean => dot(axis, 0, points, own[k] * 4) > middle;
  const half = (far: boolean): Int32Array => indicesWhere(own.length, (k) => beyond(k) === far).map((k) => own[k]);
  return [half(false), half(true)];
}

function dot(p: Float64Array, i: number, q: Float64Array, j: number): number {
  return p[i] * q[j] + p[i + 1] * q[j + 1] + p[i + 2] * q[j + 2] + p[i + 3] * q[j + 3];
}

/** Sums of the points' products around their mean, all pairs of features; row by row. */
function scatterOf(points: Float64Array, own: Int32Array, mean: Float64Array): Float64Array {
  const [mx, my, mz, mw] = mean;
  let [xx, xy, yy, xz, yz, zz, xw, yw, zw, ww] = [0, 0, 0, 0, 0, 0, 0, 0, 0, 0];
  for (let n = 0; n < own.length; n++) {
    const i = own[n] * 4;
    const x = points[i] - mx;
    const y = points[i + 1] - my;
    const z = points[i + 2] - mz;
    const w = points[i + 3] - mw;
    xx += x * x;
    xy += x * y;
    yy += y * y;
    xz += x * z;
    yz += y * z;
    zz += z * z;
    xw += x * w;
    yw += y * w;
    zw += z * w;
    ww += w * w;
  }
  return Float64Array.of(xx, xy, xz, xw, xy, yy, yz, yw, xz, yz, zz, zw, xw, yw, zw, ww);
}

function meanOf(points: Float64Array, own: Int32Array): Float64Array {
  let [x, y, z, w] = [0, 0, 0, 0];
  for (let n = 0; n < own.length; n++) {
    const i = own[n] * 4;
    x += points[i];
    y += points[i + 1];
    z += points[i + 2];
    w += points[i + 3];
  }
  return Float64Array.of(x / own.length, y / own.length, z / own.length, w / own.length);
}

function spreadOf(points: Float64Array, own: Int32Array): Spread {
  const mean = meanOf(points, own);
  const scatter = scatterOf(points, own, mean);
  let [x, y, z, w] = [1, 0.7, 0.6, 0.5];
  let spread = 0;
  for (let round = 0; round < 24; round++) {
    const towards = (j: number): number => scatter[j] * x + scatter[j + 1] * y + scatter[j + 2] * z + scatter[j + 3] * w;
    const [nx, ny, nz, nw] = [towards(0), towards(4), towards(8), towards(12)];
    spread = Math.sqrt(nx * nx + ny * ny + nz * nz + nw * nw);
    if (spread < 1e-12) return { own, mean, axis: Float64Array.of(x, y, z, w), spread: 0 };
    [x, y, z, w] = [nx / spread, ny / spread, nz / spread, nw / spread];
  }
  return { own, mean, axis: Float64Array.of(x, y, z, w), spread };
}

/** Lloyd's iterations; moves `centres`, gives each point's cluster. */
function cluster(points: Float64Array, n: number, centres: Float64Array): Uint8Array {
  const member = new Uint8Array(n);
  const count = centres.length / 4;
  inArenaNow((arena) => {
    const [at, moved, sums, found] = [arena.copyIn(points), arena.copyIn(centres), arena.alloc(40 * count), arena.alloc(n)];
    arena.run.cluster(n, at, count, moved, 6, sums, found);
    arena.copyOut(moved, centres);
    arena.copyOut(found, member);
  });
  return member;
}

function gaussians(points: Float64Array, n: number, member: Uint8Array, clusters: number): Float64Array {
  const parts: number[] = [];
  for (let c = 0; c < clusters; c++) {
    const own = indicesWhere(n, (i) => member[i] === c);
    if (own.length === 0) continue;
    const mean = meanOf(points, own);
    const scatter = scatterOf(points, own, mean);
    const covariance = [0, 1, 2, 3].map((j) => [0, 1, 2, 3].map((k) => scatter[j * 4 + k] / own.length + (j === k ? floorVariance : 0)));
    const factor = cholesky(covariance);
    const inverse = invertLower(factor);
    parts.push(...mean);
    for (let j = 0; j < 4; j++) for (let k = 0; k <= j; k++) parts.push(inverse[j][k]);
    const logDeterminant = 2 * factor.reduce((s, row, j) => s + Math.log(row[j]), 0);
    parts.push(logDeterminant - 2 * Math.log(own.length / n));
  }
  return Float64Array.from(parts);
}

/** Lower triangle L with L·Lᵀ = m, for symmetric positive m. */
function cholesky(m: number[][]): number[][] {
  const size = m.length;
  const l = m.map(() => new Array<number>(size).fill(0));
  for (let j = 0; j < size; j++) {
    for (let k = 0; k <= j; k++) {
      let sum = m[j][k];
      for (let i = 0; i < k; i++) sum -= l[j][i] * l[k][i];
      l[j][k] = j === k ? Math.sqrt(Math.max(1e-12, sum)) : sum / l[k][k];
    }
  }
  return l;
}

function invertLower(l: number[][]): number[][] {
  const size = l.length;
  const out = l.map(() => new Array<number>(size).fill(0));
  for (let j = 0; j < size; j++) {
    out[j][j] = 1 / l[j][j];
    for (let k = 0; k < j; k++) {
      let sum = 0;
      for (let i = k; i < j; i++) sum -= l[j][i] * out[i][k];
      out[j][k] = sum / l[j][j];
    }
  }
  return out;
}

/**
 * How unlikely a pixel is under the model: −2·log likelihood of its best component, without the constant; at most the limit
 * given, which an empty model reaches. It is asked millions of times, so the pixel's features come as numbers.
 */
export function unlikeliness({ parts: m, busy }: ColourModel, l: number, a: number, b: number, r: number, limit: number): number {
  let least = limit;
  for (let k = 0; k < m.length; k += numbersAPart) {
    const x = l - m[k];
    const p = m[k + 4] * x;
    let v = p * p + m[k + 14];
    // The rest only adds: most components are out of the running by now.
    if (v >= least) continue;
    const y = a - m[k + 1];
    const q = m[k + 5] * x + m[k + 6] * y;
    v += q * q;
    if (v >= least) continue;
    const z = b - m[k + 2];
    const s = m[k + 7] * x + m[k + 8] * y + m[k + 9] * z;
    v += s * s;
    if (v >= least) continue;
    if (busy) {
      const t = m[k + 10] * x + m[k + 11] * y + m[k + 12] * z + m[k + 13] * (r - m[k + 3]);
      v += t * t;
    }
    if (v < least) least = v;
  }
  return least;
}
