import { inArenaNow } from '../runtime/arena';
import { indicesWhere } from '../raster/mask';
import type { OklabPlanes } from './oklab';

/** What a step costs. */
interface Going {
  /** Over flat colour, as a share of crossing a full step of OKLab lightness. */
  flat: number;
  /** How much the square of a difference costs: edges then count far more than shading. Left out, the difference itself counts. */
  edges?: number;
}

const plainGoing: Going = { flat: 0.02 };

/**
 * Length of the cheapest way from every pixel to the nearest seed, where crossing colour differences costs and
 * flat colour hardly does (geodesic distance; Bai & Sapiro 2007). Exact: pixels are taken from buckets of nearly equal cost,
 * cheapest first (Dial 1969).
 *
 * @param start cost at each pixel to begin with: 0 on a seed, `Infinity` where none is
 * @param toll extra cost of a step onto each pixel
 * @returns cost, `Infinity` when there is no seed at all
 */
export function geodesicDistance(lab: OklabPlanes, start: Float32Array, toll: Float32Array, going = plainGoing): Float32Array {
  const cost = start.slice();
  const { width, height } = lab;
  const { flat, edges = NaN } = going;
  const from = indicesWhere(start.length, (p) => start[p] < Infinity);
  inArenaNow((arena) => {
    const [l, a, b, tolls, costs, begin] = arena.copiesIn(lab.l, lab.a, lab.b, toll, cost, from);
    arena.run.followWays(width, height, l, a, b, tolls, costs, flat, edges, begin, from.length, arena.alloc(12 * cost.length));
    arena.copyOut(costs, cost);
  });
  return cost;
}
