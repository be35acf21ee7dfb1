import { gaussian } from '../raster/filter';
import { borderOf } from '../matte/cut/roughCut';
import { grownMask } from '../raster/morphology';
import { assertSameSize, type Plane } from '../raster/plane';
import { broughtBy, roundTrip, type Flow } from './flow';

/** How far from the border a matte is looked at, px, and how finely: what is smaller than the eye's own blur is no flicker. */
const reach = 4;
const seenSigma = 1;
/** Where flow goes there and back by more, px, it does not know. */
const lost = 0.7;
/** Share of the border that must be known. */
const enough = 0.25;

/** A matte over two frames. */
export interface Flicker {
  /** Root mean squared change of opacity along the whole edge, what moves taken along, 0 to 1. */
  change: number;
  /** Where it changes most, px of the mattes. */
  at: { x: number; y: number };
}

/**
 * How much a matte changes along its edge from one frame to the next beside what flow explains: the difference of dtSSD (Erofeev et al.
 * 2015) to the matte before, carried along, in place of the truth.
 *
 * @param there flow from the later frame to the earlier one, and `back` the one from there
 * @returns nothing where there is no edge, or flow knows too little of it
 * @throws RangeError when sizes differ
 */
export function flickerOf(before: Plane, now: Plane, there: Flow, back: Flow): Flicker | undefined {
  assertSameSize(before, now, 'flicker');
  const { width, height } = now;
  const soft = gaussian(now, seenSigma).data;
  const carried = broughtBy(there, gaussian(before, seenSigma)).data;
  const trip = roundTrip(there, back);
  const label = Uint8Array.from(now.data, (a) => (a > 0.5 ? 1 : 0));
  const along = grownMask(borderOf(label, width, height), width, height, reach);
  const change = new Float32Array(width * height);
  let [sum, known, all] = [0, 0, 0];
  for (let p = 0; p < along.length; p++) {
    if (!along[p]) continue;
    all++;
    if (!(trip[p] < lost)) continue;
    known++;
    change[p] = (soft[p] - carried[p]) ** 2;
    sum += change[p];
  }
  if (known < Math.max(20, enough * all)) return undefined;
  const local = gaussian({ width, height, data: change }, reach).data;
  const most = local.reduce((best, v, p) => (v > local[best] ? p : best), 0);
  return { change: Math.sqrt(sum / known), at: { x: most % width, y: Math.floor(most / width) } };
}
