import type { Context } from '../runtime/context';
import { makePlane, type Picture, type Plane } from '../raster/plane';
import { rasterRegions, type Region } from '../raster/strokeCover';
import { contamination } from './contamination';
import { fillHole, type Fill } from './fills';
import { holeOf, suggestGrow } from './hole';
import type { Copied } from './nearestPatches';
import { leftOutside, residueOf, swallowing, takingIn, type Left, type Residue } from './residue';
import { findRepeats, type Repeat } from './repeats';
import { moveRegions, retouch, type Move, type RetouchStroke } from './retouch';
import { unexplainedGround } from './unexplained';
import { usualScale } from '../raster/usual';

/** How the hole is made and filled. Lengths in pixels of the full-size shot. */
export interface HoleParams {
  /** How far the hole reaches beyond the matte, px; `auto` takes the proposal, and all else that is clearly left of the subject, place by place. */
  grow: number | 'auto';
  /** Width of the transition from invented to photographed, px. */
  feather: number;
  /** What is invented as well, or after all not; later ones over earlier ones. */
  regions: readonly { how: 'add' | 'take'; region: Region }[];
  /** How the hole is made up. */
  fill: Fill;
  /** Parts of it that are made up otherwise, each in what the ones before left. */
  parts: readonly { region: Region; fill: Fill }[];
}

/** How the plate is made. */
export interface PlateParams extends HoleParams {
  /** What is lifted and put down again, then strokes on top of it all. */
  moves: readonly Move[];
  retouch: readonly RetouchStroke[];
}

/** What the plate is made from. */
export interface PlateInputs {
  /** Or what gives it: a large one is then held only while it is looked at. */
  shot: Picture | (() => Promise<Picture>);
  /** The shot with the subject unmixed from the half-covered pixels, see `edgeColour`. */
  behind: Picture;
  matte: Plane;
  /** The second picture of a photographed fill. @throws when it is not there */
  photographed?: (id: string) => Promise<Picture>;
  /** The ground as other frames of the clip show it, for a `frames` fill; nothing when they do not. */
  frames?: () => Promise<Picture | undefined>;
  /** What of the subject is left beside its matte; measured here when it is not given. */
  residue?: Residue;
  /** What patches were chosen at another size of the same shot: the content is then the same. */
  choices?: FilledHole['choices'];
}

/** The filled hole, and what was measured of it. */
export interface FilledHole {
  filled: Picture;
  /** 0 (photographed) to 1 (invented). */
  hole: Plane;
  /** The growth used, the proposal, and what it rests on, px of the full-size shot. */
  grow: number;
  suggested: number;
  softness: number;
  contaminated: number;
  /** What of the subject the hole leaves beside it. */
  left: Left;
  /** Where patches came from, for the whole hole and then for each part; nothing where they did not. */
  choices: (Copied | undefined)[];
  /** Pieces that the fill shows more than once. */
  repeats: Repeat[];
  /** Share of a photographed plate that fits the shot. */
  fits?: number;
  /** What could not be had as asked. */
  notes: string[];
}

/** A plate and what was invented of it. */
export interface PlateProduct extends FilledHole {
  plate: Picture;
}

/** Nothing chosen yet: a patch fill with the proposed growth. */
export const defaultPlate: PlateParams = {
  grow: 'auto',
  feather: 1,
  regions: [],
  fill: { kind: 'patch', tries: 1, taken: 1 },
  parts: [],
  moves: [],
  retouch: [],
};

/**
 * The shot with the hole in it and the hole filled.
 *
 * @throws RangeError when sizes differ; AbortError
 */
export async function filledHole(inputs: PlateInputs, params: HoleParams, context: Context): Promise<FilledHole> {
  const { shot, behind, matte, choices = [] } = inputs;
  const { scale } = context;
  const usual = usualScale(matte, scale);
  const edge = suggestGrow(matte);
  const shotNow = async (): Promise<Picture> => (typeof shot === 'function' ? shot() : shot);
  const residue = inputs.residue ?? (await residueOf(await shotNow(), matte, context));
  // Ground that changes towards the subject does so without it as well: only what clearly comes from it counts.
  const contaminated = residue.clear.includes('rim') ? contamination(await shotNow(), matte, usual) / scale : 0;
  const suggested = Math.min((80 * usual) / scale, edge.grow / scale + contaminated);
  const grow = params.grow === 'auto' ? suggested : params.grow;
  const allOf = async (grownSoFar: Plane): Promise<Plane> => {
    const swallowed = swallowing(grownSoFar, residue, usual);
    // Where the ground is known there is nothing to be told from the shot.
    return residue.outline === undefined ? swallowed : takingIn(swallowed, unexplainedGround(behind, await shotNow(), matte), usual);
  };
  const grown = holeOf(matte, grow * scale, params.feather * scale);
  const hole = withRegions(params.grow === 'auto' ? await allOf(grown) : grown, params.regions, scale);
  const allowed = { ...matte, data: matte.data.map((a) => (a > 0.01 ? 0 : 1)) };
  const secondFor = async (fill: Fill): Promise<Picture | undefined> => {
    if (fill.kind === 'frames') return inputs.frames?.();
    return fill.kind === 'photographed' && fill.picture !== null ? inputs.photographed?.(fill.picture) : undefined;
  };
  const other = async (fill: Fill, chosen: Copied | undefined): Promise<{ photographed?: Picture; chosen?: Copied }> => {
    const photographed = await secondFor(fill);
    return { ...(photographed && { photographed }), ...(chosen && { chosen }) };
  };
  const notes = new Set<string>();
  const first = await fillHole({ behind, hole, allowed, ...(await other(params.fill, choices[0])) }, params.fill, context);
  if (first.note) notes.add(first.note);
  let filled = first.picture;
  let copied = first.copied;
  const made = [first.copied];
  for (const [i, { region, fill }] of params.parts.entries()) {
    const drawn = rasterRegions([region], hole.width, hole.height, scale).data;
    const part = { ...hole, data: hole.data.map((h, p) => h * drawn[p]) };
    const again = await fillHole(
      { behind: filled, hole: part, allowed: notIn(allowed, hole, part), ...(await other(fill, choices[i + 1])) },
      fill,
      context,
    );
    if (again.note) notes.add(again.note);
    filled = again.picture;
    made.push(again.copied);
    copied = copied && patchedOver(copied, again.copied, part);
  }
  return {
    filled,
    hole,
    grow,
    suggested,
    softness: edge.softness / scale,
    contaminated,
    left: leftOutside(residue, hole, scale),
    choices: made,
    repeats: copied ? findRepeats(copied, (copied.width * scale) / hole.width) : [],
    ...(first.fits !== undefined && { fits: first.fits }),
    notes: [...notes],
  };
}

/** What a part may copy: as before, but nothing of the invented, which may be what is to be replaced. */
function notIn(allowed: Plane, hole: Plane, part: Plane): Plane {
  return { ...allowed, data: allowed.data.map((a, p) => (part.data[p] > 0 || hole.data[p] > 0.01 ? 0 : a)) };
}

/** Where patches came from after a part was filled anew. */
function patchedOver(copied: Copied, again: Copied | undefined, part: Plane): Copied {
  const from = copied.from.map((q, k) => {
    const x = Math.floor((((k % copied.width) + 0.5) * part.width) / copied.width);
    const y = Math.floor(((Math.floor(k / copied.width) + 0.5) * part.height) / copied.height);
    if (part.data[y * part.width + x] < 0.5) return q;
    return again && again.width === copied.width ? again.from[k] : -1;
  });
  return { ...copied, from };
}

/** The hole with regions added to it and taken from it. */
function withRegions(hole: Plane, regions: HoleParams['regions'], scale: number): Plane {
  if (regions.length === 0) return hole;
  const out = makePlane(hole.width, hole.height);
  out.data.set(hole.data);
  for (const { how, region } of regions) {
    const drawn = rasterRegions([region], hole.width, hole.height, scale).data;
    for (let p = 0; p < drawn.length; p++)
      out.data[p] = how === 'add' ? Math.max(out.data[p], drawn[p]) : Math.min(out.data[p], 1 - drawn[p]);
  }
  return out;
}

/**
 * The shot with the subject gone: the filled hole, regions of it moved, strokes on top.
 *
 * @throws RangeError when sizes differ; AbortError
 */
export async function plate(inputs: PlateInputs, params: PlateParams, context: Context): Promise<PlateProduct> {
  return finishedPlate(await filledHole(inputs, params, context), params, context);
}

/** The same from a hole that is filled already. */
export async function finishedPlate(filled: FilledHole, params: PlateParams, context: Context): Promise<PlateProduct> {
  const moved = await moveRegions(filled.filled, params.moves, context);
  return { ...filled, plate: await retouch(moved, params.retouch, context) };
}

const isSmooth = ({ kind }: Fill): boolean => kind === 'smooth' || kind === 'stretch';

/** Whether anything of a plate is invented without texture of its own. */
export function hasSmoothParts({ fill, parts }: Pick<HoleParams, 'fill' | 'parts'>): boolean {
  return isSmooth(fill) || parts.some((p) => isSmooth(p.fill));
}

/** What of a plate is invented without texture of its own, 0 to 1. @param hole the filled one */
export function smoothParts(hole: Plane, { fill, parts }: Pick<HoleParams, 'fill' | 'parts'>, scale: number): Plane {
  const data = isSmooth(fill) ? hole.data.slice() : new Float32Array(hole.data.length);
  for (const part of parts) {
    const region = rasterRegions([part.region], hole.width, hole.height, scale).data;
    const to = isSmooth(part.fill) ? 1 : 0;
    for (let p = 0; p < region.length; p++) data[p] += region[p] * (to * hole.data[p] - data[p]);
  }
  return { ...hole, data };
}
