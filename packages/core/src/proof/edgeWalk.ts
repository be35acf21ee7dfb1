import { pause, type Context } from '../runtime/context';
import { regionRuns } from '../raster/components';
import { boxAround, planeIn } from '../raster/box';
import { gaussian } from '../raster/filter';
import type { Picture } from '../raster/plane';
import { leftover } from './leftover';
import { notClear, notOpaque } from './matteFigures';
import { usualScale } from '../raster/usual';

/** One stretch of the subject's edge, and what was measured there. */
export interface EdgePlace {
  /** Its middle, px of the full-size shot. */
  x: number;
  y: number;
  /** Direction across the edge towards the outside, of length 1. */
  outX: number;
  outY: number;
  /** Width of the way from clear to opaque, px of the full-size shot. */
  softness: number;
  /** Old background left in the edge's colour, ΔE; negative when the edge leans the other way. */
  left: number;
  /** Loose specks and pinholes close by. */
  specks: number;
}

/** What makes a place worth a look: so much of each counts the same. */
const unit = { softness: 12, left: 8, specks: 2 };

/** How much a place asks to be looked at; 1 and more is plainly wrong. @param times pixels of the shot per pixel of one of the usual size */
export function concernOf(p: EdgePlace, times = 1): number {
  return Math.max(p.softness / (times * unit.softness), Math.max(0, p.left) / unit.left, p.specks / unit.specks);
}

/**
 * Places along the edge where opacity crosses one half, about `spacing` pixels of a picture of the usual size apart, the worst first: soft where it
 * should not be, old background in its colour, specks beside it.
 *
 * @param subject the subject with its edge colour and straight opacity
 * @param behind what is or was behind it
 * @throws AbortError
 */
export async function edgeWalk(subject: Picture, behind: Picture, context: Context, spacing = 90): Promise<EdgePlace[]> {
  const { scale } = context;
  const usual = usualScale(subject, scale);
  const around = Math.max(2, 10 * usual);
  // Where nothing is subject there is nothing to walk along.
  const box = subject.a && boxAround({ ...subject, data: subject.a }, 0.02, Math.ceil(4 * around));
  if (!box) return [];
  const { width, height, data } = planeIn({ ...subject, data: subject.a! }, box);
  const smooth = gaussian({ width, height, data }, Math.max(1, 3 * usual)).data;
  let done = 0;
  const spread = async (values: Float32Array): Promise<Float32Array> => {
    await pause(context, 'Walking the edge', done++ / 6);
    return gaussian({ width, height, data: values }, around).data;
  };
  const soft = await spread(data.map((v) => (v > 0.02 && v < 0.98 ? 1 : 0)));
  const border = await spread(borderOf(data, width, height));
  await pause(context);
  // In the whole picture: what colours are spread over blocks of it depends on where these begin.
  const left = planeIn(leftover(subject, behind), box).data;
  const leftSum = await spread(left.map((v, p) => v * data[p] * (1 - data[p])));
  const leftWeight = await spread(left.map((v, p) => (v === 0 ? 0 : data[p] * (1 - data[p]))));
  const loose = await spread(speckCentres(data, width, height, 24 * usual * usual));
  await pause(context);
  const gap = spacing * usual;
  const cell = Math.max(1, gap);
  const columns = Math.ceil(width / cell) + 1;
  const taken = new Map<number, EdgePlace[]>();
  const out: EdgePlace[] = [];
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const p = y * width + x;
      const inside = data[p] >= 0.5;
      if (inside === data[p + 1] >= 0.5 && inside === data[p + width] >= 0.5) continue;
      const gx = smooth[p + 1] - smooth[p - 1];
      const gy = smooth[p + width] - smooth[p - width];
      const steepness = Math.hypot(gx, gy);
      if (steepness < 0.02) continue;
      const cx = Math.floor(x / cell);
      const cy = Math.floor(y / cell);
      let near = false;
      for (let dy = -1; dy <= 1 && !near; dy++) {
        for (let dx = -1; dx <= 1 && !near; dx++) {
          near = (taken.get((cy + dy) * columns + cx + dx) ?? []).some(
            (q) => Math.hypot(q.x * scale - box.x - x, q.y * scale - box.y - y) < gap,
          );
        }
      }
      if (near) continue;
      const place = {
        x: (box.x + x + 0.5) / scale,
        y: (box.y + y + 0.5) / scale,
        outX: -gx / steepness,
        outY: -gy / steepness,
        softness: soft[p] / Math.max(1e-6, border[p]) / scale,
        left: leftWeight[p] > 1e-6 ? leftSum[p] / leftWeight[p] : 0,
        specks: loose[p] * 2 * Math.PI * around * around,
      };
      taken.set(cy * columns + cx, [...(taken.get(cy * columns + cx) ?? []), place]);
      out.push(place);
    }
  }
  const times = usual / scale;
  return out.sort((a, b) => concernOf(b, times) - concernOf(a, times));
}

/** 1 on each pixel whose right or lower neighbour is on the other side of one half. */
function borderOf(data: Float32Array, width: number, height: number): Float32Array {
  const out = new Float32Array(data.length);
  for (let y = 0; y + 1 < height; y++) {
    for (let x = 0; x + 1 < width; x++) {
      const p = y * width + x;
      const inside = data[p] >= 0.5;
      if (inside !== data[p + 1] >= 0.5 || inside !== data[p + width] >= 0.5) out[p] = 1;
    }
  }
  return out;
}

/** 1 on one pixel of each loose speck and enclosed pinhole up to an area. */
function speckCentres(data: Float32Array, width: number, height: number, most: number): Float32Array {
  const out = new Float32Array(data.length);
  for (const limits of [notClear, notOpaque]) {
    const { start, region, area } = regionRuns({ values: data, ...limits }, width, height);
    // Regions are numbered in the order in which they begin.
    for (let i = 0, next = 1; i < region.length; i++) {
      if (region[i] === next && area[next++] <= most) out[start[i]] = 1;
    }
  }
  return out;
}
