import { regionRuns } from '../../raster/components';
import { boxMean } from '../../raster/filter';
import type { Banding } from '../../match/banding';
import { gapsOf, type Gap, type GapName, type Side } from '../../match/sides';
import { ofGround, type Residue, type Left } from '../../plate/residue';
import type { Repeat } from '../../plate/repeats';
import type { Showing } from '../../plate/showing';
import type { Picture, Plane } from '../../raster/plane';
import type { EdgePlace } from '../edgeWalk';
import { around, checkKinds, judged, unknown, type Check, type CheckId, type CheckPlace } from './check';
import { usualScale } from '../../raster/usual';

/** A place is worth a look from so much on, ΔE: a tenth of a true edge's places comes to it. */
const leftHere = 14;

/** Old background left in the edge's colour: what a quarter of its places is above. */
export function checkResidueInEdge(edge: readonly EdgePlace[]): Check {
  if (edge.length < 4) return unknown('edge-residue', 'There is hardly any edge to look at.');
  const worst = [...edge].sort((a, b) => b.left - a.left);
  const figure = Math.max(0, worst[Math.floor(0.25 * worst.length)].left);
  return judged('edge-residue', figure, worst.filter((p) => p.left > leftHere).map((p) => around(p.x, p.y, 60, 'shot'))); // prettier-ignore
}

/** Largest speck or pinhole, px² of the full-size shot, and how far around it must be empty, or full: in wool there are many that are right. */
const smallest = 24;
const surround = 7;
const alone = 0.03;
/** What is hardly more than clear, or hardly less than full, is not seen. */
const seenSpeck = { above: 0.3, below: Infinity };
const seenHole = { above: -Infinity, below: 0.6 };

/** Loose specks in empty ground, or pinholes in what is full, each with its place. */
export function checkSpecks(matte: Plane, scale: number, of: 'specks' | 'holes'): Check {
  const { width, height, data } = matte;
  const { start, region, area } = regionRuns({ values: data, ...(of === 'specks' ? seenSpeck : seenHole) }, width, height);
  const places: CheckPlace[] = [];
  const usual = usualScale(matte, scale);
  const reach = Math.max(2, Math.round(surround * usual));
  const mean = boxMean(matte, reach).data;
  const window = (2 * reach + 1) ** 2;
  for (let i = 0, next = 1; i < region.length; i++) {
    if (region[i] !== next) continue;
    const size = area[next++];
    if (size > smallest * usual * usual) continue;
    const p = start[i];
    // Its own area is not what is around it.
    const beside = of === 'specks' ? mean[p] * window - size : (1 - mean[p]) * window - size;
    if (beside / window < alone) places.push(around((p % width) / scale, Math.floor(p / width) / scale, (40 * usual) / scale, 'shot'));
  }
  return judged(of === 'specks' ? 'matte-specks' : 'matte-holes', places.length, places);
}

/** What the hole leaves of the subject on the plate. */
export function checkPlateResidue({ width, places }: Left, residue: Residue | undefined): Check {
  if (width === undefined || residue === undefined) {
    return unknown('plate-residue', 'The ground is too much like the subject, or too narrow, to tell what is left from what was there.');
  }
  if (places.length === 0) {
    return unknown(
      'plate-residue',
      'Nothing was seen; parts with a contour of their own, and strands on busy ground, are missed by what looks for them.',
    );
  }
  // What is clearly there is looked at however thin it is; a shadow or a reflection may be meant.
  const isMeant = places.every(({ kind }) => ofGround.includes(kind));
  const seenAt = places.slice(0, 24).map((p) => around(p.x, p.y, 60, 'shot'));
  const check = judged('plate-residue', width, seenAt);
  return check.verdict === 'good' || isMeant ? { ...check, verdict: 'look', places: seenAt } : check;
}

export function checkShowing({ ofPicture, places }: Pick<Showing, 'ofPicture' | 'places'>): Check {
  return judged('plate-shows', 100 * ofPicture, places.map((p) => around(p.x, p.y, 60, 'shot'))); // prettier-ignore
}

/** From this weight on a piece of the plate is seen. */
const seen = 0.12;

/** Pieces of invented ground that are there twice and are seen. */
export function checkRepeats(repeats: readonly Repeat[], { weight }: Pick<Showing, 'weight'>, scale: number): Check {
  const visible = repeats.filter((r) => {
    const [x0, y0] = [Math.floor(r.x * scale), Math.floor(r.y * scale)];
    const [x1, y1] = [
      Math.min(weight.width, Math.ceil((r.x + r.width) * scale)),
      Math.min(weight.height, Math.ceil((r.y + r.height) * scale)),
    ];
    let [sum, n] = [0, 0];
    for (let y = Math.max(0, y0); y < y1; y++) for (let x = Math.max(0, x0); x < x1; x++, n++) sum += weight.data[y * weight.width + x];
    return n > 0 && sum / n > seen;
  });
  return judged('plate-repeats', visible.length, visible.map((r): CheckPlace => ({ x: r.x, y: r.y, width: r.width, height: r.height, on: 'shot' }))); // prettier-ignore
}

const gapChecks: Partial<Record<GapName, CheckId>> = {
  blur: 'blur-gap',
  grain: 'grain-gap',
  cast: 'cast-gap',
  black: 'black-gap',
  white: 'white-gap',
  contrast: 'contrast-gap',
  saturation: 'colour-gap',
  light: 'light-gap',
};
const gapUnknown: Partial<Record<GapName, string>> = {
  blur: 'There are no edges on both sides to compare.',
  grain: 'One side has no part flat enough to tell its grain.',
  light: 'One side does not say where its light comes from.',
};

/** What of both sides is judged by a check: all of two photographs, blur and grain of one. */
export function checkSides(subject: Side, background: Side, ownPlate: boolean): Check[] {
  const nothing = subject.tone.weight === 0 || background.tone.weight === 0;
  return gapsOf(subject, background).flatMap((g: Gap): Check[] => {
    const id = gapChecks[g.name];
    if (!id) return [];
    if (nothing) return [unknown(id, 'There are not two sides to compare.')];
    if (ownPlate && g.name !== 'blur' && g.name !== 'grain') {
      return [unknown(id, 'Both sides are of one photograph: what differs is the subject’s own.')];
    }
    if (g.gap === undefined) return [unknown(id, gapUnknown[g.name] ?? 'One side could not be measured.')];
    if (g.name === 'light' && Math.min(subject.light!.certainty, background.light!.certainty) < sureOfLight) {
      return [unknown(id, 'The direction of the light on one side is only a guess.')];
    }
    return [judged(id, Math.abs(g.gap), [], g.tolerance)];
  });
}

/** From this certainty on a direction of light is more than a guess. */
const sureOfLight = 0.25;

export function checkBanding({ share, places }: Banding): Check {
  return judged('banding', 100 * share, places.map((b): CheckPlace => ({ ...b, on: 'frame' }))); // prettier-ignore
}

/** Light at which a channel is clipped when it is written. */
const full = 0.9995;
const cell = 48;

/**
 * Light that the recipe clips: pixels of the finished picture with a channel at its end that the same picture without any grade has not.
 *
 * @param ungraded the same picture without match, grades and finish; nothing when there are none
 */
export function checkClipping(finished: Picture, ungraded: Picture | undefined, scale: number): Check {
  const { width, height } = finished;
  if (!ungraded) return judged('clipping', 0);
  const side = Math.max(8, cell * usualScale(finished, scale));
  const across = Math.ceil(width / side);
  const counts = new Map<number, number>();
  let clipped = 0;
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      if (!isClipped(finished, p) || isClipped(ungraded, p)) continue;
      clipped++;
      const at = Math.floor(y / side) * across + Math.floor(x / side);
      counts.set(at, (counts.get(at) ?? 0) + 1);
    }
  }
  const places = [...counts]
    .filter(([, n]) => n > 0.1 * side * side)
    .sort((a, b) => b[1] - a[1])
    .map(([at]) => around((((at % across) + 0.5) * side) / scale, ((Math.floor(at / across) + 0.5) * side) / scale, side / scale, 'frame'));
  return judged('clipping', (100 * clipped) / (width * height), places);
}

/** White in a channel, or black in all. */
function isClipped({ r, g, b }: Picture, p: number): boolean {
  return Math.max(r[p], g[p], b[p]) >= full || Math.max(r[p], g[p], b[p]) <= 0;
}

/** Frames of a followed clip whose neighbours agree least: a share of all, never called good. */
export function checkFollowed(certainty: readonly number[] | undefined): Check {
  if (!certainty) return unknown('time-doubtful', 'It is a still, or its frames are cut one by one.');
  const doubtful = certainty.map((c, frame) => ({ c, frame })).filter(({ c }) => c < doubted);
  const places = doubtful
    .sort((a, b) => a.c - b.c)
    .map(({ frame }): CheckPlace => ({ x: 0, y: 0, width: 0, height: 0, on: 'shot', frame }));
  const figure = (100 * doubtful.length) / certainty.length;
  if (doubtful.length > 0) return { id: 'time-doubtful', verdict: 'look', figure, places };
  return { ...unknown('time-doubtful', 'Neighbouring frames agree, which is no proof: play it, and look at the edge.'), figure };
}

/** How much a matte changes along the worst stretch of its edge from the frame before to this one, 0 to 1, and where, px of the matte. */
export interface FlickerAt {
  frame: number;
  change: number;
  at: { x: number; y: number };
}

/**
 * How much the matte flickers, by its worst pair of frames; nothing for a still, none where what moves is not known.
 *
 * @param scale pixels of the mattes per full-size pixel
 */
export function checkFlicker(found: readonly FlickerAt[] | undefined, scale: number): Check {
  if (!found) return unknown('time-flicker', 'It is a still.');
  if (found.length === 0) return unknown('time-flicker', 'What moves along the edge is not known well enough.');
  const worst = [...found].sort((a, b) => b.change - a.change);
  const tolerance = checkKinds['time-flicker'].tolerance / 100;
  const places = worst.filter((f) => f.change > tolerance).map((f): CheckPlace => ({ ...around(f.at.x / scale, f.at.y / scale, 48 / scale, 'shot'), frame: f.frame })); // prettier-ignore
  return judged('time-flicker', 100 * worst[0].change, places);
}

/** Agreement below which a frame is worth a look. */
const doubted = 0.55;
