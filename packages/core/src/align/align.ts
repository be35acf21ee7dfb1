import { luminance } from '../colour/cielab';
import { encodedQuickly } from '../colour/srgb';
import type { Triple } from '../colour/oklab';
import { inArena } from '../runtime/arena';
import type { Address } from '../runtime/functions';
import { pause, type Context } from '../runtime/context';
import { sharedFloats, parallelFor, type Kernel } from '../runtime/parallelFor';
import { maskAt } from '../raster/mask';
import { rankOf } from '../raster/rank';
import { seenPicture, withOpacity, type Picture, type Plane } from '../raster/plane';
import { halve, resizePlane, scaledSize } from '../raster/resize';
import { Lookup, type Homography } from './lookup';
import { solveSymmetric } from './solve';

/** A picture of the same scene brought over a shot. */
export interface Aligned {
  /** The other picture where the shot looks, of the shot's size and exposure, linear light. */
  picture: Picture;
  /** 1 where the other picture has something to show, else 0. */
  seen: Plane;
  /** Point of the other picture under a point of the shot, as eight numbers: see `Homography`. */
  homography: Homography;
  /** Factor that each channel of the other picture was multiplied by. */
  gain: Triple;
  /** Share of the looked-at points that fit, 0 to 1: the rest is subject, or the scenes differ. */
  fits: number;
}

const identity: Homography = [1, 0, 0, 0, 1, 0, 0, 0];
/** Longest side on which the map is found. */
const workSide = 720;
/** How many of the map's numbers are free at each kind of level: shift, linear, projective. */
const shiftOnly = [2, 5];
const linear = [0, 1, 2, 3, 4, 5];
const projective = [0, 1, 2, 3, 4, 5, 6, 7];

/**
 * Brings a photograph of the same scene over a shot: a homography by Gauss-Newton on brightness with gain and
 * offset, coarse to fine (Lucas & Kanade 1981; Baker & Matthews 2004), from the best shift at the coarsest level. Tukey
 * weights leave the subject out. Then each channel's exposure from the points that fit.
 *
 * The other picture may have another size; it is first brought to the shot's.
 *
 * @throws AbortError
 */
export async function alignPicture(other: Picture, shot: Picture, context: Context): Promise<Aligned> {
  const { width, height } = shot;
  const { homography: map, gain, fits } = await findAlignment(other, shot, context);
  const [r, g, b, inside] = [0, 1, 2, 3].map(() => sharedFloats(width * height, context));
  const picture: Picture = { width, height, r, g, b };
  const job: BringJob = { other: await seenPicture(withOpacity(other), context), map, gain, picture, inside };
  await parallelFor(bringBand, job, Math.ceil(height / band), context, 'Aligning the plate');
  return { picture, seen: { width, height, data: inside }, homography: map, gain, fits };
}

/** How an alignment is looked for. */
export interface AlignOptions {
  /** Longest side at which it is looked for, px. */
  side?: number;
  /** 1 where the other picture and the shot show something that is not of the scene, each of its picture's size. */
  hidden?: { other: Uint8Array; shot: Uint8Array };
}

/**
 * Where another picture of a scene lies over a shot, and its exposure, as `alignPicture` finds it.
 *
 * @throws AbortError
 */
export async function findAlignment(
  other: Picture,
  shot: Picture,
  context: Context,
  { side = workSide, hidden }: AlignOptions = {},
): Promise<Pick<Aligned, 'homography' | 'gain' | 'fits'>> {
  const { width, height } = shot;
  const ratio = Math.min(1, side / Math.max(width, height));
  const size = scaledSize(width, height, ratio);
  const target = pyramid(resizePlane(brightness(shot), size.width, size.height));
  const source = pyramid(resizePlane(brightness(other), size.width, size.height));
  const coarsest = target.length - 1;
  const at = (mask: Uint8Array, of: Picture, level: Plane): Uint8Array => maskAt(mask, of.width, of.height, level.width, level.height);
  const hiddenAt = (level: number): Hidden => ({
    ...(hidden && { other: at(hidden.other, other, source[level]), shot: at(hidden.shot, shot, target[level]) }),
  });
  let map = bestShift(source[coarsest], target[coarsest], hiddenAt(coarsest));
  for (let level = coarsest; level >= 0; level--) {
    const free = level === coarsest ? shiftOnly : level >= coarsest - 1 ? linear : projective;
    map = await refine(source[level], target[level], map, free, context, hiddenAt(level));
  }
  // Where nothing holds the map, in a blank wall or fog, it may run away: then the pictures are left as they lie.
  const still = exposure(other, shot, identity, hidden);
  const found = exposure(other, shot, map, hidden);
  // A camera that stood still is found to within a hundredth of a pixel: then nothing need be resampled.
  const stood = farthest(map, width, height) < 0.1 && still.spread < 1.05 * found.spread;
  const better = !stood && found.count > 0.4 * still.count && found.spread < still.spread;
  if (!better) map = identity;
  const { gain, fits } = better ? found : still;
  return { homography: map, gain, fits };
}

/** What is not of the scene, at some size. */
interface Hidden {
  other?: Uint8Array;
  shot?: Uint8Array;
}

function isHidden({ other, shot }: Hidden, from: Lookup, p: number): boolean {
  return shot?.[p] === 1 || (other !== undefined && other[from.nearest] === 1);
}

/** How far a map moves the corners of a picture, px at most. */
function farthest(h: Homography, width: number, height: number): number {
  const unit = Math.max(width, height) / 2;
  const away = [-1, 1].flatMap((sx) =>
    [-1, 1].map((sy) => {
      const [x, y] = [(sx * width) / 2 / unit, (sy * height) / 2 / unit];
      const w = h[6] * x + h[7] * y + 1;
      return Math.hypot((h[0] * x + h[1] * y + h[2]) / w - x, (h[3] * x + h[4] * y + h[5]) / w - y) * unit;
    }),
  );
  return Math.max(...away);
}

interface BringJob {
  other: Picture;
  map: Homography;
  gain: Triple;
  picture: Picture;
  inside: Float32Array;
}

/** Rows that a thread takes at a time. */
const band = 32;

/** Brings the other picture over the shot, band by band. */
export const bringBand: Kernel<BringJob> = {
  name: 'bringBand',
  begin({ other, map, gain, picture, inside }) {
    const { width, height, r, g, b } = picture;
    const from = new Lookup(other, picture);
    const light = new Float64Array(3);
    return (part) => {
      for (let y = part * band, p = y * width; y < Math.min(height, (part + 1) * band); y++) {
        for (let x = 0; x < width; x++, p++) {
          from.at(map, x, y);
          inside[p] = from.inside ? 1 : 0;
          from.sharp(other.r, other.g, other.b, light);
          r[p] = Math.max(0, gain[0] * light[0]);
          g[p] = Math.max(0, gain[1] * light[1]);
          b[p] = Math.max(0, gain[2] * light[2]);
        }
      }
    };
  },
};

function brightness(p: Picture): Plane {
  const data = new Float32Array(p.width * p.height);
  for (let i = 0; i < data.length; i++) data[i] = encodedQuickly(luminance(p.r[i], p.g[i], p.b[i]));
  return { width: p.width, height: p.height, data };
}

/** The plane and its halves, down to about 45 px. */
function pyramid(p: Plane): Plane[] {
  const out = [p];
  while (Math.max(out[out.length - 1].width, out[out.length - 1].height) > 90) out.push(halve(out[out.length - 1]));
  return out;
}

/** The whole-pixel shift, up to an eighth of the picture, with the best normalised correlation; among like ones the smallest. */
function bestShift(source: Plane, target: Plane, hidden: Hidden): Homography {
  const { width, height } = target;
  const reach = Math.max(1, Math.round(Math.max(width, height) / 8));
  let best = -Infinity;
  let [bx, by] = [0, 0];
  for (let dy = -reach; dy <= reach; dy++) {
    for (let dx = -reach; dx <= reach; dx++) {
      const score = correlation(source, target, dx, dy, hidden) - 2e-3 * Math.hypot(dx, dy);
      if (score > best) {
        best = score;
        [bx, by] = [dx, dy];
      }
    }
  }
  const unit = Math.max(width, height) / 2;
  return identity.map((v, i) => (i === 2 ? bx / unit : i === 5 ? by / unit : v));
}

function correlation(source: Plane, target: Plane, dx: number, dy: number, hidden: Hidden): number {
  const { width, height } = target;
  let [n, a, b, aa, bb, ab] = [0, 0, 0, 0, 0, 0];
  for (let y = Math.max(0, -dy); y < Math.min(height, height - dy); y++) {
    for (let x = Math.max(0, -dx); x < Math.min(width, width - dx); x++) {
      const [q, p] = [(y + dy) * width + x + dx, y * width + x];
      if (hidden.other?.[q] || hidden.shot?.[p]) continue;
      const s = source.data[q];
      const t = target.data[p];
      n++;
      a += s;
      b += t;
      aa += s * s;
      bb += t * t;
      ab += s * t;
    }
  }
  if (n < 16) return 0;
  const spread = (aa - (a * a) / n) * (bb - (b * b) / n);
  return spread > 1e-12 ? (ab - (a * b) / n) / Math.sqrt(spread) : 0;
}

/** Gauss-Newton on the free numbers of the map, and gain and offset of brightness. */
async function refine(
  source: Plane,
  target: Plane,
  start: Homography,
  free: number[],
  context: Context,
  hidden: Hidden,
): Promise<Homography> {
  const { width, height } = target;
  const unit = Math.max(width, height) / 2;
  const step = Math.max(1, Math.floor(Math.sqrt((width * height) / 60_000)));
  const [slopeX, slopeY] = slopesOf(source);
  const count = free.length + 2;
  const map = Float64Array.from(start);
  let gain = 1;
  let offset = 0;
  const residual = new Float32Array(Math.ceil(width / step) * Math.ceil(height / step));
  return inArena(async (arena) => {
    const { run } = arena;
    const planes = arena.copiesIn(source.data, target.data, slopeX, slopeY);
    const addressOf = (mask: Uint8Array | undefined): Address => (mask ? arena.copyIn(mask) : 0);
    run.alignOn(width, height, step, ...planes, addressOf(hidden.other), addressOf(hidden.shot));
    const [mapAt, freeAt] = arena.copiesIn(map, Uint8Array.from(free));
    const [left, row, normalAt, rightAt] = arena.allocs(4 * residual.length, 8 * (count + 8), 8 * count * count, 8 * count);
    const [normal, right] = [new Float64Array(count * count), new Float64Array(count)];
    for (let round = 0; round < 14; round++) {
      await pause(context, 'Aligning the plate', round / 14);
      arena.set(mapAt, map);
      const used = run.alignResiduals(mapAt, gain, offset, left);
      if (used < 4 * count) break;
      arena.copyOut(left, residual);
      // Tukey's constant times the robust spread.
      const cut = 4.685 * Math.max(0.004, 1.4826 * median(residual.slice(0, used)));
      arena.fill(normalAt, 8 * count * count);
      arena.fill(rightAt, 8 * count);
      run.alignSums(mapAt, gain, offset, freeAt, free.length, cut, row, normalAt, rightAt);
      arena.copyOut(normalAt, normal);
      arena.copyOut(rightAt, right);
      const change = solveSymmetric(normal, right, count);
      if (!change) break;
      free.forEach((index, i) => (map[index] += change[i]));
      gain += change[count - 2];
      offset += change[count - 1];
      if (!map.every(Number.isFinite) || gain < 0.05) return [...start];
      if (free.every((_, i) => Math.abs(change[i]) * unit < 1e-3)) break;
    }
    return [...map];
  });
}

/** Slopes across and down, borders repeated. */
function slopesOf({ width, height, data }: Plane): [Float32Array, Float32Array] {
  const across = new Float32Array(data.length);
  const down = new Float32Array(data.length);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      across[p] = (data[x + 1 < width ? p + 1 : p] - data[x > 0 ? p - 1 : p]) / 2;
      down[p] = (data[y + 1 < height ? p + width : p] - data[y > 0 ? p - width : p]) / 2;
    }
  }
  return [across, down];
}

/** The factors between two pictures, and how well they explain them. */
interface Exposure {
  gain: Triple;
  /** Share of the points that fit. */
  fits: number;
  /** Median distance of a point's ratio from the factor, in powers of e. */
  spread: number;
  /** Points looked at. */
  count: number;
}

/** Exposure and white of the shot over the other picture's, from points that are neither dark nor clipped. */
function exposure(other: Picture, shot: Picture, map: Homography, hidden: Hidden = {}): Exposure {
  const from = new Lookup(other, shot);
  const step = Math.max(1, Math.floor(Math.sqrt((shot.width * shot.height) / 40_000)));
  const ratios = [0, 1, 2].map(() => new Float64Array(Math.ceil(shot.width / step) * Math.ceil(shot.height / step)));
  const sides = (['r', 'g', 'b'] as const).map((c) => ({ from: other[c], to: shot[c] }));
  const usable = (v: number): boolean => v >= 0.01 && v <= 0.95;
  const pair = new Float64Array(6);
  let count = 0;
  for (let y = 0; y < shot.height; y += step) {
    for (let x = 0; x < shot.width; x += step) {
      from.at(map, x, y);
      const p = y * shot.width + x;
      if (!from.inside || isHidden(hidden, from, p)) continue;
      let all = true;
      for (let c = 0; c < 3; c++) {
        pair[c] = from.sample(sides[c].from);
        pair[3 + c] = sides[c].to[p];
        all &&= usable(pair[c]) && usable(pair[3 + c]);
      }
      if (!all) continue;
      for (let c = 0; c < 3; c++) ratios[c][count] = Math.log(pair[3 + c] / pair[c]);
      count++;
    }
  }
  if (count === 0) return { gain: [1, 1, 1], fits: 0, spread: Infinity, count: 0 };
  const found = ratios.map((r) => r.subarray(0, count));
  const middle = found.map((r) => mode(r));
  let fitting = 0;
  for (let i = 0; i < count; i++) if (found.every((r, c) => Math.abs(r[i] - middle[c]) < 0.25)) fitting++;
  const spread = median(found[1].map((v) => Math.abs(v - middle[1])));
  return { gain: middle.map(Math.exp) as Triple, fits: fitting / count, spread, count };
}

/** The value around which most lie: the median of those within a shrinking window around the median. */
function mode(values: Float64Array): number {
  let centre = median(values);
  const near = new Float64Array(values.length);
  for (let reach = 1; reach > 0.05; reach /= 2) {
    let count = 0;
    for (let i = 0; i < values.length; i++) if (Math.abs(values[i] - centre) < reach) near[count++] = values[i];
    if (count > 0) centre = median(near.subarray(0, count));
  }
  return centre;
}

function median(values: Float32Array | Float64Array): number {
  return values.length === 0 ? 0 : rankOf(values.slice(), values.length >> 1);
}
