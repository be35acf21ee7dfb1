import { distanceTo } from '../raster/distance';
import type { Plane } from '../raster/plane';

/** Opacity from which a pixel counts as touched by the subject. */
const touched = 0.01;

/**
 * What of the plate must be invented: 1 within `grow` pixels of anything the matte covers, falling smoothly to 0
 * over the next `feather` pixels.
 *
 * @param grow px of this matte
 * @param feather px of this matte
 */
export function holeOf(matte: Plane, grow: number, feather: number): Plane {
  const { width, height } = matte;
  const away = distanceTo(
    matte.data.map((v) => (v > touched ? 1 : 0)),
    width,
    height,
  ).data;
  const data = new Float32Array(width * height);
  for (let p = 0; p < data.length; p++) {
    const beyond = away[p] - grow;
    if (beyond <= 0) data[p] = 1;
    else if (beyond < feather) {
      const t = 1 - beyond / feather;
      data[p] = t * t * (3 - 2 * t);
    }
  }
  return { width, height, data };
}

/** A proposal for how far to grow the hole, and what it rests on. */
export interface GrowSuggestion {
  /** Proposed growth, px of this matte. */
  grow: number;
  /** Measured width of the edge from clear to opaque, px: its 90th percentile. */
  softness: number;
}

/**
 * How far the hole should grow: the soft part of the edge is already inside it, what lies beyond is the lens's and
 * the file's smear, about a quarter of the softness and two pixels. Softness is the distance from clear to opaque
 * ground at the half-covered pixels.
 */
export function suggestGrow(matte: Plane): GrowSuggestion {
  const { width, height, data } = matte;
  const toClear = distanceTo(
    data.map((v) => (v <= touched ? 1 : 0)),
    width,
    height,
  ).data;
  const toOpaque = distanceTo(
    data.map((v) => (v >= 1 - touched ? 1 : 0)),
    width,
    height,
  ).data;
  const widths: number[] = [];
  for (let p = 0; p < data.length; p++) {
    if (data[p] > 0.3 && data[p] < 0.7) {
      const w = toClear[p] + toOpaque[p];
      if (Number.isFinite(w)) widths.push(w);
    }
  }
  if (widths.length === 0) return { grow: 2, softness: 0 };
  widths.sort((a, b) => a - b);
  const softness = widths[Math.floor(widths.length * 0.9)];
  return { grow: Math.min(24, 2 + softness / 4), softness };
}
