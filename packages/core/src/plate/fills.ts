import { alignPicture } from '../align/align';
import type { Context } from '../runtime/context';
import { numbersOf } from '../raster/mask';
import { makePlane, pictureOf, planesOf, type Picture, type Plane } from '../raster/plane';
import { pushPull } from '../raster/pushPull';
import { rasterRegions, type Region } from '../raster/strokeCover';
import type { Copied } from './nearestPatches';
import { NoSourceError, patchFill } from './patchFill';
import { moveRegions } from './retouch';
import { smoothFill } from './smooth';

/** How a hole, or a part of it, is made up. Lengths in pixels of the full-size shot. */
export type Fill =
  | { kind: 'smooth' | 'stretch' }
  /** What other frames of the clip show of the ground. */
  | { kind: 'frames' }
  /** Tries so far, and which of them is taken, from 1. */
  | { kind: 'patch'; tries: number; taken: number }
  /** Where to take from; with a slide, what lies there is laid that far away first. */
  | { kind: 'borrowed'; from: readonly Region[]; x: number; y: number; tries: number; taken: number }
  | { kind: 'photographed'; picture: string | null };

/** What a fill gives. */
export interface Filled {
  picture: Picture;
  /** Where patches came from, when they did. */
  copied?: Copied;
  /** Share of a photographed plate that fits the shot, 0 to 1. */
  fits?: number;
  /** A sentence when something asked for could not be had. */
  note?: string;
}

/** What fills work on. */
export interface ToFill {
  /** The shot with the subject unmixed from half-covered pixels. */
  behind: Picture;
  /** 0 (keep) to 1 (invent). */
  hole: Plane;
  /** 1 where it may be copied from; 0 in the subject. */
  allowed: Plane;
  /** The second picture, for `photographed`; for `frames` the ground, in its place. */
  photographed?: Picture;
  /** Where patches came from at another size, to be taken from there again. */
  chosen?: Copied;
}

/**
 * Fills a hole. Where the wanted fill is impossible the smooth one is taken, and a note says why.
 *
 * @throws RangeError when sizes differ; AbortError
 */
export async function fillHole(to: ToFill, fill: Fill, context: Context): Promise<Filled> {
  const { behind, hole } = to;
  switch (fill.kind) {
    case 'smooth':
      return { picture: await smoothFill(behind, hole, context) };
    case 'stretch':
      return { picture: stretchFill(behind, hole) };
    case 'patch':
      return patched(to, fill.taken, context);
    case 'borrowed':
      return borrowed(to, fill, context);
    case 'photographed':
      return photographedFill(to, context);
    case 'frames':
      return framesFill(to, context);
  }
}

/** The ground as other frames show it; patches where they tell nothing. */
async function framesFill(to: ToFill, context: Context): Promise<Filled> {
  const { behind, hole, photographed } = to;
  if (!photographed) {
    const rest = await patched(to, 1, context);
    return { ...rest, note: rest.note ?? 'No other frames show the ground here: the hole is filled with patches.' };
  }
  return { picture: mixed(behind, photographed, { ...hole, data: numbersOf(hole.data, (h) => Math.min(1, h / inFull)) }) };
}

async function patched(to: ToFill, taken: number, context: Context): Promise<Filled> {
  try {
    return await patchFill(to.behind, to.hole, to.allowed, context.seed * 1009 + taken, context, to.chosen);
  } catch (error) {
    if (!(error instanceof NoSourceError)) throw error;
    return { picture: await smoothFill(to.behind, to.hole, context), note: error.message };
  }
}

/** Rim colours pushed inwards through a pyramid (push-pull); see `pushPull`. */
export function stretchFill(behind: Picture, hole: Plane): Picture {
  return pictureOf(pushPull(planesOf({ ...behind, a: undefined }), { ...hole, data: hole.data.map((h) => 1 - h) }));
}

/** Patches from the drawn regions only; with a slide, what lies there is first laid into the hole as it is. */
async function borrowed(to: ToFill, fill: Extract<Fill, { kind: 'borrowed' }>, context: Context): Promise<Filled> {
  const { behind, hole } = to;
  const { width, height } = hole;
  const drawn = rasterRegions(fill.from, width, height, context.scale).data;
  const allowed = { ...hole, data: drawn.map((d, p) => Math.min(d, to.allowed.data[p])) };
  if (fill.x === 0 && fill.y === 0) return patched({ ...to, allowed }, fill.taken, context);
  const moves = fill.from.map((region) => ({ region, x: fill.x, y: fill.y, size: 1, feather: 2 }));
  const slid = await moveRegions(behind, moves, context);
  const [dx, dy] = [Math.round(fill.x * context.scale), Math.round(fill.y * context.scale)];
  const left = makePlane(width, height);
  const laid = makePlane(width, height);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      const [u, v] = [x - dx, y - dy];
      const q = u >= 0 && v >= 0 && u < width && v < height ? v * width + u : -1;
      laid.data[p] = q >= 0 ? Math.min(drawn[q], 1 - Math.min(1, hole.data[q])) : 0;
      left.data[p] = hole.data[p] * (1 - laid.data[p]);
    }
  }
  const inHole = mixed(behind, slid, { ...hole, data: hole.data.map((h, p) => h * laid.data[p]) });
  return patched({ ...to, behind: inHole, hole: left, allowed }, fill.taken, context);
}

/** The other frame where it shows something, brought over the shot; what it leaves is smooth. */
async function photographedFill({ behind, hole, photographed, chosen }: ToFill, context: Context): Promise<Filled> {
  if (!photographed) {
    return { picture: await smoothFill(behind, hole, context), note: 'No photographed plate is chosen yet: the hole is filled smoothly.' };
  }
  const { picture, seen, fits } = await alignPicture(photographed, behind, context);
  const missing = hole.data.map((h, p) => (seen.data[p] ? 0 : h));
  // It is trusted more than what shines through the subject's edge: in full wherever there is something to invent.
  const out = mixed(behind, picture, { ...hole, data: hole.data.map((h, p) => (seen.data[p] ? Math.min(1, h / inFull) : 0)) });
  if (!missing.some((m) => m > 0.5)) return { picture: out, fits };
  const note = 'The photographed plate does not reach all of the hole: the rest is filled with patches of it.';
  const allowed = { ...hole, data: missing.map((m) => 1 - m) };
  const rest = await patched({ behind: out, hole: { ...hole, data: missing }, allowed, ...(chosen && { chosen }) }, 1, context);
  return { ...rest, fits, note: rest.note ?? note };
}

/** From this share on, a pixel is taken from the photographed plate in full. */
const inFull = 0.05;

function mixed(below: Picture, above: Picture, weight: Plane): Picture {
  const { data } = weight;
  const mix = (a: Float32Array, b: Float32Array): Float32Array => {
    const out = new Float32Array(a.length);
    for (let p = 0; p < out.length; p++) out[p] = a[p] + data[p] * (b[p] - a[p]);
    return out;
  };
  return { width: below.width, height: below.height, r: mix(below.r, above.r), g: mix(below.g, above.g), b: mix(below.b, above.b) };
}
