import { gaussian } from './filter';
import type { Plane } from './plane';
import { resizePlane } from './resize';

/** A wide Gaussian at a cost that does not grow with it: done on a reduced plane and enlarged again. */
export function soften(p: Plane, sigma: number): Plane {
  const by = Math.max(1, Math.floor(sigma / 2.5));
  if (by === 1) return gaussian(p, sigma);
  const small = resizePlane(p, Math.max(1, Math.ceil(p.width / by)), Math.max(1, Math.ceil(p.height / by)));
  // Reducing and enlarging blur by about a box of the reduced pixel each.
  const rest = Math.sqrt(Math.max(0.25, (sigma / by) ** 2 - 1 / 6));
  return resizePlane(gaussian(small, rest), p.width, p.height);
}
