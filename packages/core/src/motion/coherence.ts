import { assertSameSize, type Plane } from '../raster/plane';
import { broughtBy, type Flow } from './flow';

/** Two mattes that follow each other, and the true ones. */
export interface MattePair {
  before: Plane;
  now: Plane;
  trueBefore: Plane;
  trueNow: Plane;
}

/**
 * How much otherwise a matte changes from frame to frame than the true one does: the root of the mean squared difference of both
 * changes (dtSSD; Erofeev et al. 2015). 0 is as steady as the truth.
 *
 * @throws RangeError when sizes differ
 */
export function dtSsd({ before, now, trueBefore, trueNow }: MattePair): number {
  for (const p of [now, trueBefore, trueNow]) assertSameSize(before, p, 'steadiness');
  let sum = 0;
  for (let p = 0; p < now.data.length; p++) {
    sum += (now.data[p] - before.data[p] - (trueNow.data[p] - trueBefore.data[p])) ** 2;
  }
  return Math.sqrt(sum / now.data.length);
}

/**
 * How much a matte's error changes along what moves: the mean change of the squared error from where a pixel was to where it is
 * (MESSDdt; Erofeev et al. 2015).
 *
 * @param there flow from the later frame to the earlier one
 */
export function messdDt({ before, now, trueBefore, trueNow }: MattePair, there: Flow): number {
  const square = (a: Plane, b: Plane): Float32Array => a.data.map((v, p) => (v - b.data[p]) ** 2);
  const was = broughtBy(there, { ...before, data: square(before, trueBefore) }).data;
  const is = square(now, trueNow);
  let sum = 0;
  for (let p = 0; p < is.length; p++) sum += Math.abs(is[p] - was[p]);
  return sum / is.length;
}
