import { boxAround, planeIn } from '../raster/box';
import { distanceTo } from '../raster/distance';
import type { Plane } from '../raster/plane';
import { maskOf } from '../raster/mask';

/** Growth for a perfectly crisp edge, px. */
const smear = 0.5;
/** Opacity from which a pixel counts as touched by the subject. */
const touched = 0.01;
/** Opacity above which too little of the background shows through to be recovered. */
const covered = 0.9;
/** What is farther from clear or opaque ground than this share of the subject's size is glass or smoke, no edge. */
const widestEdge = 0.25;

/**
 * What of the plate must be invented: 1 within `grow` pixels of what the matte covers by more than 0.9, falling
 * smoothly to 0 over the next `feather` pixels. Where less is covered, the background is recovered, not invented.
 *
 * @param grow px of this matte
 * @param feather px of this matte
 */
export function holeOf(matte: Plane, grow: number, feather: number): Plane {
  const { width, height } = matte;
  const data = matte.data.slice();
  const box = boxAround(matte, covered, Math.ceil(grow + feather) + 1);
  if (!box) return { width, height, data };
  const part = planeIn(matte, box);
  const away = distanceTo(
    maskOf(part.data, (v) => v > covered),
    box.width,
    box.height,
    grow + feather,
  ).data;
  for (let y = 0, k = 0; y < box.height; y++) {
    for (let p = (y + box.y) * width + box.x, end = p + box.width; p < end; p++, k++) {
      const beyond = away[k] - grow;
      const t = beyond <= 0 ? 1 : beyond < feather ? 1 - beyond / feather : 0;
      data[p] = Math.max(data[p], t * t * (3 - 2 * t));
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
 * How far the hole should grow. Thinly covered ground is unmixed, so what remains to be swallowed is the lens's and
 * the file's smear, half a pixel and a fiftieth of the softness; more would throw away ground that is really seen and
 * that a fill can only guess at. Softness is the distance from clear to opaque ground at the half-covered pixels.
 */
export function suggestGrow(matte: Plane): GrowSuggestion {
  // Only where it is neither clear nor opaque, and the nearest that is, counts.
  const box = boxAround(matte, touched, 2);
  if (!box) return { grow: smear, softness: 0 };
  const { width, height, data } = planeIn(matte, box);
  const widest = widestEdge * Math.max(width, height);
  const toClear = distanceTo(
    maskOf(data, (v) => v <= touched),
    width,
    height,
    widest,
  ).data;
  const toOpaque = distanceTo(
    maskOf(data, (v) => v >= 1 - touched),
    width,
    height,
    widest,
  ).data;
  const widths: number[] = [];
  for (let p = 0; p < data.length; p++) {
    if (data[p] > 0.3 && data[p] < 0.7) {
      const w = toClear[p] + toOpaque[p];
      if (Number.isFinite(w)) widths.push(w);
    }
  }
  if (widths.length === 0) return { grow: smear, softness: 0 };
  widths.sort((a, b) => a - b);
  const softness = widths[Math.floor(widths.length * 0.9)];
  return { grow: Math.min(24, smear + softness / 50), softness };
}
