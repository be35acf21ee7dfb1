import { gaussian } from '../raster/filter';
import { borderOf } from '../matte/cut/roughCut';
import { maskOf, numbersOf } from '../raster/mask';
import { grownMask } from '../raster/morphology';
import { assertSameSize, type Plane } from '../raster/plane';
import { broughtBy, roundTrip, type Flow } from './flow';

/** How far from the border a matte is looked at, px, and how finely: what is smaller than the eye's own blur is no flicker. */
const reach = 4;
const seenSigma = 1;
/** Where flow goes there and back by more, px, it does not know; nor where what it brings is another brightness by more, encoded. */
const lost = 0.35;
const other = 0.015;
/** Share of the border that must be known. */
const enough = 0.25;
/** Standard deviation of the stretch of an edge that is looked at together, px; and the least share of what is around that is known of it. */
const stretch = 16;
const leastKnown = 0.034;

/** A matte over two frames. */
export interface Flicker {
  /** Root mean squared change of opacity along the worst stretch of the edge, what moves taken along, 0 to 1. */
  change: number;
  /** Where that is, px of the mattes. */
  at: { x: number; y: number };
}

/** A frame's matte, and its encoded brightness, of one size. */
export interface SeenMatte {
  matte: Plane;
  brightness: Plane;
}

/**
 * How much a matte changes along its edge from one frame to the next beside what flow explains: the difference of dtSSD (Erofeev et al.
 * 2015) to the matte before, carried along, in place of the truth. Of a wheel that turns or of ground that comes into sight flow brings
 * another brightness: that edge is not known.
 *
 * @param there flow from the later frame to the earlier one, and `back` the one from there
 * @returns nothing where there is no edge, or flow knows too little of it
 * @throws RangeError when sizes differ
 */
export function flickerOf(before: SeenMatte, now: SeenMatte, there: Flow, back: Flow): Flicker | undefined {
  assertSameSize(before.matte, now.matte, 'flicker');
  const { width, height, data } = now.matte;
  const plane = (values: Float32Array): Plane => ({ width, height, data: values });
  const soft = gaussian(now.matte, seenSigma).data;
  const carried = broughtBy(there, gaussian(before.matte, seenSigma)).data;
  const was = broughtBy(there, before.brightness).data;
  const missed = gaussian(plane(numbersOf(now.brightness.data, (v, p) => Math.abs(v - was[p]))), seenSigma).data;
  const trip = roundTrip(there, back);
  const along = grownMask(borderOf(maskOf(data, (a) => a > 0.5), width, height), width, height, reach); // prettier-ignore
  const [change, known] = [new Float32Array(width * height), new Float32Array(width * height)];
  let [count, all] = [0, 0];
  for (let p = 0; p < along.length; p++) {
    if (!along[p]) continue;
    all++;
    if (!(trip[p] < lost) || missed[p] > other) continue;
    count++;
    known[p] = 1;
    change[p] = (soft[p] - carried[p]) ** 2;
  }
  if (count < Math.max(20, enough * all)) return undefined;
  const [changed, seen] = [change, known].map((values) => gaussian(plane(values), stretch).data);
  let [most, at] = [0, -1];
  for (let p = 0; p < known.length; p++) {
    if (!known[p] || seen[p] < leastKnown || changed[p] < most * seen[p]) continue;
    [most, at] = [changed[p] / seen[p], p];
  }
  return at < 0 ? undefined : { change: Math.sqrt(most), at: { x: at % width, y: Math.floor(at / width) } };
}
