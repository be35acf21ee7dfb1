import { inArenaNow } from '../context/compiled';
import type { Context } from '../context/context';
import { seenByAll, sharedFloats, together, type Kernel } from '../context/together';
import { indicesWhere } from '../raster/mask';
import { seenLab, type OklabPlanes } from './oklab';

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
  follow({ lab, toll, going }, cost, seedsOf(cost));
  return cost;
}

/** The lengths of ways and from where they lead. */
export interface Ways {
  start: Float32Array;
  toll: Float32Array;
  cost: Float32Array;
}

interface WaysJob {
  lab: OklabPlanes;
  costs: Float32Array[];
  toll: Float32Array;
}

/** Works out one distance after the other. */
export const waysFrom: Kernel<WaysJob> = {
  name: 'waysFrom',
  begin:
    ({ lab, costs, toll }) =>
    (i) =>
      follow({ lab, toll, going: plainGoing }, costs[i], seedsOf(costs[i])),
};

function seedsOf(start: Float32Array): Int32Array {
  return indicesWhere(start.length, (p) => start[p] < Infinity);
}

/**
 * Several of these distances at once, one a thread.
 *
 * @param last the same of other starts and tolls: only what leads elsewhere now is worked out, to the same lengths
 * @throws AbortError
 */
export async function geodesicWays(
  lab: OklabPlanes,
  starts: Float32Array[],
  toll: Float32Array,
  context: Context,
  last?: Ways[],
): Promise<Ways[]> {
  if (last) return starts.map((start, i) => ({ start, toll, cost: mended(lab, start, toll, last[i]) }));
  const costs = starts.map((start) => {
    const cost = sharedFloats(start.length, context);
    cost.set(start);
    return cost;
  });
  await together(waysFrom, { lab: seenLab(lab, context), costs, toll: seenByAll(toll, context) }, costs.length, context);
  return costs.map((cost, i) => ({ start: starts[i], toll, cost }));
}

/**
 * Distances from others: whatever a dearer start or toll may have carried is given up and found again from around it, and what
 * has become cheaper is followed (after Ramalingam & Reps 1996).
 */
function mended(lab: OklabPlanes, start: Float32Array, toll: Float32Array, last: Ways): Float32Array {
  const cost = last.cost.slice();
  const before: Walk = { lab, toll: last.toll, going: plainGoing };
  const now: Walk = { lab, toll, going: plainGoing };
  const lost: number[] = [];
  const cheaper: number[] = [];
  for (let p = 0; p < cost.length; p++) {
    if (start[p] === last.start[p] && toll[p] === last.toll[p]) continue;
    if (cost[p] < Infinity && (toll[p] > last.toll[p] || (start[p] > last.start[p] && last.start[p] <= cost[p]))) lost.push(p);
    else if (start[p] < cost[p] || toll[p] < last.toll[p]) cheaper.push(p);
  }
  const given = new Uint8Array(cost.length);
  for (const p of lost) given[p] = 1;
  for (let i = 0; i < lost.length; i++) {
    const q = lost[i];
    aroundEach(lab, q, (p, length) => {
      if (given[p] || wayOver(before, last.cost, q, p, length) !== last.cost[p]) return;
      given[p] = 1;
      lost.push(p);
    });
  }
  for (const p of lost) cost[p] = start[p];
  for (const p of cheaper) if (!given[p]) cost[p] = Math.min(cost[p], start[p]);
  for (const p of [...lost, ...cheaper]) {
    aroundEach(lab, p, (q, length) => {
      if (given[q]) return;
      const way = wayOver(now, cost, q, p, length);
      if (way < cost[p]) cost[p] = way;
    });
  }
  follow(now, cost, Int32Array.from(lost.concat(cheaper)));
  return cost;
}

/** What a step costs on one picture. */
interface Walk {
  lab: OklabPlanes;
  toll: Float32Array;
  going: Going;
}

/** The cost of p when it is reached from its neighbour q, rounded as costs are kept. */
function wayOver(
  { lab: { l, a, b }, toll, going: { flat, edges } }: Walk,
  cost: Float32Array,
  q: number,
  p: number,
  length: number,
): number {
  const dl = l[p] - l[q];
  const da = a[p] - a[q];
  const db = b[p] - b[q];
  const apart = dl * dl + 4 * (da * da + db * db);
  return Math.fround(cost[q] + length * (flat + toll[p]) + (edges === undefined ? Math.sqrt(apart) : edges * apart));
}

/** The steps to the eight neighbours, and how long they are. */
const stepX = [1, 1, 0, -1, -1, -1, 0, 1];
const stepY = [0, 1, 1, 1, 0, -1, -1, -1];
const stepLength = stepX.map((dx, d) => Math.hypot(dx, stepY[d]));

/** Visits the up to eight neighbours of q and how long the step to them is. */
function aroundEach({ width, height }: OklabPlanes, q: number, visit: (p: number, length: number) => void): void {
  const x = q % width;
  const y = (q - x) / width;
  for (let d = 0; d < 8; d++) {
    const nx = x + stepX[d];
    const ny = y + stepY[d];
    if (nx >= 0 && ny >= 0 && nx < width && ny < height) visit(ny * width + nx, stepLength[d]);
  }
}

/** Shortens ways from some pixels on until none gets shorter. */
function follow({ lab, toll, going: { flat, edges = NaN } }: Walk, cost: Float32Array, from: Int32Array): void {
  const { width, height } = lab;
  inArenaNow((arena) => {
    const [l, a, b, tolls, costs, begin] = [lab.l, lab.a, lab.b, toll, cost, from].map((data) => arena.put(data));
    arena.run.followWays(width, height, l, a, b, tolls, costs, flat, edges, begin, from.length, arena.room(12 * cost.length));
    arena.take(costs, cost);
  });
}
