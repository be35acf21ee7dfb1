import type { Context } from '../runtime/context';
import type { ColourModel } from '../matte/cut/colourModel';
import { markedInside, markedOutside, rasterMarks, type Mark } from '../matte/cut/marks';
import type { OpacityGround } from '../matte/matte';
import { borderOf, cutNarrowBand, type RoughCut } from '../matte/cut/roughCut';
import { contrastSteepness } from '../matte/cut/wholeGraph';
import { components } from '../raster/components';
import { maskOf } from '../raster/mask';
import { grownMask } from '../raster/morphology';
import type { Carried } from './layers';

/** Both sides' colours. */
export interface Sides {
  inside: ColourModel;
  outside: ColourModel;
}

/** How far on either side of a carried border the cut is free; and how far from it what is not believed may be otherwise, px. */
const freeAlong = 6;
const freeAround = 24;
/** How much evidence of motion counts beside that of colour. */
const movingWeight = 1.5;
/** Trust below which a pixel may be otherwise. */
const doubtful = 0.3;

/** How much it counts what else is known of a frame. */
export const toldWeight = 2;
/** Evidence beyond which a pixel may be otherwise than it was carried. */
const plain = 3;

/** What is known of a frame besides what is carried to it: evidence for inside (positive), and how far the rest then still counts, 0 to 1. */
export interface Told {
  evidence: Float32Array;
  rest: Float32Array;
}

/**
 * The subject cut again in a narrow band around where it was carried: by the colours kept from where it was marked, by those around,
 * by contours, and by what was carried where that is believed.
 *
 * @param reach how far beyond the carried border what has come into the picture may be subject, px
 * @throws AbortError
 */
export async function cutCarried(
  ground: OpacityGround,
  sides: Sides,
  { chance, trust, evidence }: Carried,
  marks: readonly Mark[],
  reach: number,
  context: Context,
  told?: Told,
): Promise<RoughCut> {
  const label = new Uint8Array(chance.length);
  for (let p = 0; p < label.length; p++) label[p] = chance[p] >= 0.5 ? 1 : 0;
  const { width, height } = ground.levels[ground.levels.length - 1];
  const around = grownMask(borderOf(label, width, height), width, height, freeAround);
  const beside = grownMask(label, width, height, reach);
  const free = new Uint8Array(label.length);
  const extra = new Float32Array(label.length);
  for (let p = 0; p < free.length; p++) {
    if (trust[p] < doubtful && (around[p] || (beside[p] && trust[p] === 0))) free[p] = 1;
    extra[p] = movingWeight * evidence[p] * (told ? told.rest[p] : 1);
  }
  return cutAround(ground, sides, label, { free, evidence: extra }, marks, context, told);
}

/**
 * The cut along the border of a subject that is roughly known.
 *
 * @param label 1 where it is thought to be, else 0, of the size at which opacity is solved
 * @param beyond where else it is free, and evidence for inside (positive) by place
 * @throws AbortError
 */
export async function cutAround(
  ground: OpacityGround,
  { inside, outside }: Sides,
  label: Uint8Array,
  beyond: { free: Uint8Array; evidence: Float32Array },
  marks: readonly Mark[],
  context: Context,
  told?: Told,
): Promise<RoughCut> {
  const lab = ground.levels[ground.levels.length - 1];
  const { width, height } = lab;
  const scale = ground.ratios[ground.ratios.length - 1] * context.scale;
  const seeds = rasterMarks(marks, width, height, scale);
  const border = borderOf(label, width, height);
  const near = grownMask(border, width, height, freeAlong);
  const around = grownMask(border, width, height, freeAround);
  const evidence = beyond.evidence.slice();
  for (let p = 0; p < near.length; p++) {
    if (beyond.free[p]) near[p] = 1;
    if (!told) continue;
    const e = told.evidence[p];
    evidence[p] += toldWeight * e;
    if ((e < -plain && label[p]) || (e > plain && around[p])) near[p] = 1;
  }
  const memory = { steepness: [contrastSteepness(lab)], ribbons: [] };
  const cut = await cutNarrowBand({ label, width, height, seeds, inside, outside }, lab, seeds, memory, 0, context, { near, evidence });
  dropStrays(cut.label, label, seeds, width, height);
  return cut;
}

/** What has come off a part of the carried subject is dropped when it is smaller than this share of that part and so far from it, px. */
const crumb = 0.02;
const comeOff = 6;

/**
 * Whatever has no part of the carried subject nor of an inside mark in it is not subject; nor is a crumb that has come off a larger
 * part: ground that was taken for subject stays where it is when the subject goes on.
 */
function dropStrays(label: Uint8Array, carried: Uint8Array, seeds: Uint8Array, width: number, height: number): void {
  const before = components(carried, width, height);
  const found = components(label, width, height);
  /** Which part of the carried subject each part comes from: the one it shares most with. */
  const shared = new Map<number, number>();
  const marked = new Uint8Array(found.area.length);
  for (let p = 0; p < label.length; p++) {
    if (seeds[p] === markedInside) marked[found.label[p]] = 1;
    if (!label[p] || !carried[p]) continue;
    const pair = found.label[p] * before.area.length + before.label[p];
    shared.set(pair, (shared.get(pair) ?? 0) + 1);
  }
  const from = new Int32Array(found.area.length).fill(-1);
  const most = new Int32Array(found.area.length);
  for (const [pair, count] of shared) {
    const part = Math.floor(pair / before.area.length);
    if (count > most[part]) [most[part], from[part]] = [count, pair % before.area.length];
  }
  /** The largest part that each carried one has become. */
  const main = new Map<number, number>();
  from.forEach((origin, part) => {
    if (part > 0 && origin >= 0 && found.area[part] > found.area[main.get(origin) ?? 0]) main.set(origin, part);
  });
  const isMain = new Set(main.values());
  const beside = grownMask(maskOf(found.label, (part) => isMain.has(part)), width, height, comeOff); // prettier-ignore
  const close = new Uint8Array(found.area.length);
  for (let p = 0; p < label.length; p++) if (beside[p]) close[found.label[p]] = 1;
  const kept = found.area.map((area, part) => {
    if (marked[part] || isMain.has(part)) return true;
    return from[part] >= 0 && (close[part] === 1 || area > crumb * found.area[main.get(from[part])!]);
  });
  for (let p = 0; p < label.length; p++) if (label[p] && (!kept[found.label[p]] || seeds[p] === markedOutside)) label[p] = 0;
}
