import { distanceTo } from '../raster/distance';
import { maskOf } from '../raster/mask';
import type { Plane } from '../raster/plane';

/** Lengths are told in px of a shot whose longest side is this. */
const named = 1200;
/** Rings narrower than a pixel would be empty. */
const smallestUnit = 0.7;
/** Opacity from which a pixel is the matte's own. */
const touched = 0.01;
/** The outline is looked at piece by piece: within squares of such a side, by the side that it faces. */
const piece = 32;
/** Sides that a piece can face: eighths of a turn, from the right on clockwise. */
export const facings = 8;
/** Least number of pixels in a ring of a piece that say something, and from how many on more do not say more. */
const few = 8;
const many = 60;
/** Noise of a piece's difference: what there always is, and the share of the spread within its rings. */
const always = 0.03;
const ofSpread = 0.4;

/** The ground around a matte's outline. Arrays are by place unless they say otherwise. */
export interface Outline {
  width: number;
  height: number;
  /** One px of a shot 1200 px long, px. */
  unit: number;
  /** Pixels around the outline. */
  places: Int32Array;
  /** Distance to the matte, in units. */
  away: Float32Array;
  /** The way out from the matte, a unit vector. */
  outX: Float32Array;
  outY: Float32Array;
  /** The piece of the outline that is nearest. */
  piece: Int32Array;
  /** By piece, the side that it faces. */
  facing: number[];
  /** By pixel, distance to the matte, px. */
  awayAt: Float32Array;
}

/** One px of a shot 1200 px long, px. */
export function unitOf(width: number, height: number): number {
  return Math.max(smallestUnit, Math.max(width, height) / named);
}

/** What the matte touches. */
export function touchedBy(matte: Plane): Uint8Array {
  return maskOf(matte.data, (a) => a > touched);
}

/** The ground around a matte's outline. @param reach how far from it, units @param margin so near to the picture's border nothing is taken, px */
export function outlineOf(matte: Plane, reach: number, margin = 5): Outline {
  const { width, height } = matte;
  const unit = unitOf(width, height);
  const awayAt = distanceTo(touchedBy(matte), width, height, reach * unit + 2).data;
  const places: number[] = [];
  const [away, outX, outY, pieces, facing]: number[][] = [[], [], [], [], []];
  const numbers = new Map<number, number>();
  for (let y = margin; y < height - margin; y++) {
    for (let x = margin; x < width - margin; x++) {
      const p = y * width + x;
      const d = awayAt[p];
      if (d <= 0 || d > reach * unit) continue;
      let [gx, gy] = [awayAt[p + 1] - awayAt[p - 1], awayAt[p + width] - awayAt[p - width]];
      const length = Math.hypot(gx, gy);
      if (!(length > 0 && length < Infinity)) continue;
      [gx, gy] = [gx / length, gy / length];
      const side = Math.round((Math.atan2(gy, gx) / (2 * Math.PI)) * facings + facings) % facings;
      const column = Math.floor((x - gx * d) / (piece * unit));
      const row = Math.floor((y - gy * d) / (piece * unit));
      const key = (row * 4096 + column) * facings + side;
      const number = numbers.get(key) ?? numbers.size;
      if (number === numbers.size) {
        numbers.set(key, number);
        facing.push(side);
      }
      places.push(p);
      away.push(d / unit);
      outX.push(gx);
      outY.push(gy);
      pieces.push(number);
    }
  }
  return {
    ...{ width, height, unit, facing, awayAt },
    ...{ places: Int32Array.from(places), piece: Int32Array.from(pieces) },
    ...{ away: Float32Array.from(away), outX: Float32Array.from(outX), outY: Float32Array.from(outY) },
  };
}

/** How much more of something there is beside the outline than farther out, piece by piece. */
export interface Contrast {
  /** Near less far; not a number where too few pixels tell. */
  difference: Float64Array;
  /** What it counts: one over its variance, as far as the ground's own changes tell it. */
  weight: Float64Array;
}

/**
 * What a value is in a ring beside the outline less what it is in a ring farther out, for each piece of it. Where the ground is busy a
 * piece counts little: its variance is taken from the spread within the rings.
 *
 * @param value of a place, by its number; not a number where it cannot be told
 * @param near from and to, units, as `far`
 */
export function contrastOf(
  outline: Outline,
  value: (i: number) => number,
  near: readonly [number, number],
  far: readonly [number, number],
): Contrast {
  const n = outline.facing.length;
  const of = (): { sum: Float64Array; squares: Float64Array; count: Float64Array } => ({
    ...{ sum: new Float64Array(n), squares: new Float64Array(n), count: new Float64Array(n) },
  });
  const [beside, farther] = [of(), of()];
  for (let i = 0; i < outline.places.length; i++) {
    const d = outline.away[i];
    const isNear = d >= near[0] && d < near[1];
    if (!isNear && !(d >= far[0] && d < far[1])) continue;
    const v = value(i);
    if (Number.isNaN(v)) continue;
    const ring = isNear ? beside : farther;
    const at = outline.piece[i];
    ring.sum[at] += v;
    ring.squares[at] += v * v;
    ring.count[at]++;
  }
  const difference = new Float64Array(n).fill(NaN);
  const weight = new Float64Array(n);
  for (let s = 0; s < n; s++) {
    if (beside.count[s] < few || farther.count[s] < few) continue;
    const [a, b] = [beside.sum[s] / beside.count[s], farther.sum[s] / farther.count[s]];
    const spread = Math.max(0, beside.squares[s] / beside.count[s] - a * a) + Math.max(0, farther.squares[s] / farther.count[s] - b * b);
    difference[s] = a - b;
    weight[s] = Math.min(1, beside.count[s] / many) / (always * always + ofSpread * spread);
  }
  return { difference, weight };
}

/** What all pieces say together. */
export interface Together {
  /** The weighted mean of their differences. */
  mean: number;
  /** That mean in its own standard deviations, were the pieces' differences chance. */
  score: number;
}

/** What pieces say together. @param side a piece counts by how much it faces that side; all alike without one */
export function together({ facing }: Outline, { difference, weight }: Contrast, side?: number): Together {
  let [sum, total] = [0, 0];
  for (let s = 0; s < difference.length; s++) {
    if (Number.isNaN(difference[s])) continue;
    const share = facingShare(facing[s], side);
    sum += share * difference[s] * weight[s];
    total += share * share * weight[s];
  }
  return total > 0 ? { mean: sum / total, score: sum / Math.sqrt(total) } : { mean: 0, score: 0 };
}

/** How much a piece faces a side: from none to one. */
export function facingShare(facing: number, side: number | undefined): number {
  return side === undefined ? 1 : Math.max(0, Math.cos(((facing - side) * 2 * Math.PI) / facings));
}
