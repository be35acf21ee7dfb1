import { brightnessOf } from '../colour/perceived';
import type { Triple } from '../colour/oklab';
import { inArena } from '../runtime/arena';
import type { Address } from '../runtime/functions';
import { pause, type Context } from '../runtime/context';
import { maskAt, weightOf } from '../raster/mask';
import { rankOf } from '../raster/rank';
import type { Picture, Plane } from '../raster/plane';
import { halve, resizePlane, scaledSize } from '../raster/resize';
import { broughtTo } from './bring';
import { Lookup, type Homography } from './lookup';
import { after, inPixels, type Projective } from './projective';
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
  const { homography, gain, fits } = await findAlignment(alignable(other, shot), alignable(shot, shot), context);
  const [across, down] = [other.width / width, other.height / height];
  const toOther: Projective = [across, 0, (across - 1) / 2, 0, down, (down - 1) / 2, 0, 0, 1];
  const { picture, nearest } = await broughtTo(other, after(inPixels(homography, width, height), toOther), gain, shot, context);
  return { picture, seen: { width, height, data: weightOf(nearest, (p) => p >= 0) }, homography, gain, fits };
}

/** A picture made ready to be brought over others, or to have others brought over it. */
export interface Alignable {
  picture: Picture;
  /** Its brightness, and its halves. */
  levels: Plane[];
  /** 1 where it shows something that is not of the scene, of its size. */
  hidden?: Uint8Array;
}

/**
 * @param size of the shot: both sides' levels are made of it
 * @param side longest side at which an alignment is looked for, px
 * @param hidden 1 where the picture shows something that is not of the scene
 */
export function alignable(picture: Picture, size: { width: number; height: number }, side = workSide, hidden?: Uint8Array): Alignable {
  const ratio = Math.min(1, side / Math.max(size.width, size.height));
  const { width, height } = scaledSize(size.width, size.height, ratio);
  return { picture, levels: pyramid(resizePlane(brightnessOf(picture), width, height)), ...(hidden && { hidden }) };
}

/**
 * Where another picture of a scene lies over a shot, and its exposure, as `alignPicture` finds it.
 *
 * @throws AbortError
 */
export async function findAlignment(
  { picture: other, levels: source, hidden: otherHidden }: Alignable,
  { picture: shot, levels: target, hidden: shotHidden }: Alignable,
  context: Context,
): Promise<Pick<Aligned, 'homography' | 'gain' | 'fits'>> {
  const { width, height } = shot;
  const coarsest = target.length - 1;
  const at = (mask: Uint8Array, of: Picture, level: Plane): Uint8Array => maskAt(mask, of.width, of.height, level.width, level.height);
  const hidden: Hidden = { ...(otherHidden && { other: otherHidden }), ...(shotHidden && { shot: shotHidden }) };
  const hiddenAt = (level: number): Hidden => ({
    ...(otherHidden && { other: at(otherHidden, other, source[level]) }),
    ...(shotHidden && { shot: at(shotHidden, shot, target[level]) }),
  });
  let map = bestShift(source[coarsest], target[coarsest], hiddenAt(coarsest));
  for (let level = coarsest; level >= 0; level--) {
    const free = level === coarsest ? shiftOnly : level >= coarsest - 1 ? linear : projective;
    map = await refine(source[level], target[level], map, free, context, hiddenAt(level));
  }
  // Where nothing holds the map, in a blank wall or fog, it may run away: then the pictures are left as they lie.
  const still = exposureUnder(other, shot, identity, hidden);
  const found = exposureUnder(other, shot, map, hidden);
  // A camera that stood still is found to within a hundredth of a pixel: then nothing need be resampled.
  const stood = farthest(map, width, height) < 0.1 && still.spread < 1.05 * found.spread;
  const better = !stood && found.count > 0.4 * still.count && found.spread < still.spread;
  if (!better) map = identity;
  return { homography: map, ...exposure(better ? found : still) };
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
      const cut = 4.685 * Math.max(0.004, 1.4826 * median(residual.subarray(0, used)));
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

/** How two pictures' light differs where one lies over the other under some map. */
interface Ratios {
  /** Of each channel at the points looked at, in powers of e. */
  ratios: Float64Array[];
  /** Points looked at. */
  count: number;
  /** Median distance of a point's ratio from the factor, in powers of e. */
  spread: number;
}

/** Points at which exposure is looked at, about. */
const exposurePoints = 20_000;

/** The shot's light over the other picture's, at points that are neither dark nor clipped. */
function exposureUnder(other: Picture, shot: Picture, map: Homography, hidden: Hidden): Ratios {
  const from = new Lookup(other, shot);
  const step = Math.max(1, Math.floor(Math.sqrt((shot.width * shot.height) / exposurePoints)));
  const most = Math.ceil(shot.width / step) * Math.ceil(shot.height / step);
  const [red, green, blue] = [0, 1, 2].map(() => new Float64Array(most));
  const usable = (v: number): boolean => v >= 0.01 && v <= 0.95;
  let count = 0;
  for (let y = 0; y < shot.height; y += step) {
    for (let x = 0; x < shot.width; x += step) {
      from.at(map, x, y);
      const p = y * shot.width + x;
      if (!from.inside || isHidden(hidden, from, p)) continue;
      const [r, g, b] = [from.sample(other.r), from.sample(other.g), from.sample(other.b)];
      if (!usable(r) || !usable(g) || !usable(b) || !usable(shot.r[p]) || !usable(shot.g[p]) || !usable(shot.b[p])) continue;
      red[count] = Math.log(shot.r[p] / r);
      green[count] = Math.log(shot.g[p] / g);
      blue[count] = Math.log(shot.b[p] / b);
      count++;
    }
  }
  if (count === 0) return { ratios: [], spread: Infinity, count };
  const ratios = [red, green, blue].map((r) => r.subarray(0, count));
  const middle = mode(ratios[1]);
  return { ratios, count, spread: median(ratios[1].map((v) => Math.abs(v - middle))) };
}

/** Exposure and white: the factors, and the share of the points that fit them. */
function exposure({ ratios, count }: Ratios): { gain: Triple; fits: number } {
  if (count === 0) return { gain: [1, 1, 1], fits: 0 };
  const [red, green, blue] = ratios;
  const middle = ratios.map(mode);
  let fitting = 0;
  for (let i = 0; i < count; i++) {
    const off = Math.max(Math.abs(red[i] - middle[0]), Math.abs(green[i] - middle[1]), Math.abs(blue[i] - middle[2]));
    if (off < 0.25) fitting++;
  }
  return { gain: middle.map(Math.exp) as Triple, fits: fitting / count };
}

/** The value around which most lie: the median of those within a shrinking window around the median. */
function mode(values: Float64Array): number {
  let centre = median(values.slice());
  const near = new Float64Array(values.length);
  for (let reach = 1; reach > 0.05; reach /= 2) {
    let count = 0;
    for (let i = 0; i < values.length; i++) if (Math.abs(values[i] - centre) < reach) near[count++] = values[i];
    if (count > 0) centre = median(near.subarray(0, count));
  }
  return centre;
}

/** @param values put in some other order */
function median(values: Float32Array | Float64Array): number {
  return values.length === 0 ? 0 : rankOf(values, values.length >> 1);
}
