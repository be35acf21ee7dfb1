import type { Context } from '../context/context';
import { seenByAll, together, type Kernel } from '../context/together';
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
 * flat colour hardly does (geodesic distance; Bai & Sapiro 2007). Approximated by raster sweeps in
 * alternating directions (Toivanen 1996), which is exact for ways of few turns. Linear time.
 *
 * @param start cost at each pixel to begin with: 0 on a seed, `Infinity` where none is
 * @param toll extra cost of a step onto each pixel
 * @returns cost, `Infinity` when there is no seed at all
 */
export function geodesicDistance(lab: OklabPlanes, start: Float32Array, toll: Float32Array, going = plainGoing): Float32Array {
  const cost = start.slice();
  shorten(lab, cost, toll, going);
  return cost;
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
      shorten(lab, costs[i], toll, plainGoing),
};

/** Several of these distances at once, one a thread; the starts' arrays are used up. @throws AbortError */
export async function geodesicDistances(
  lab: OklabPlanes,
  starts: Float32Array[],
  toll: Float32Array,
  context: Context,
): Promise<Float32Array[]> {
  const costs = starts.map((s) => seenByAll(s, context));
  await together(waysFrom, { lab: seenLab(lab, context), costs, toll: seenByAll(toll, context) }, costs.length, context);
  return costs;
}

const sweeps = 4;

function shorten({ width, height, l, a, b }: OklabPlanes, cost: Float32Array, toll: Float32Array, { flat, edges }: Going): void {
  const relax = (p: number, q: number, length: number): void => {
    const dl = l[p] - l[q];
    const da = a[p] - a[q];
    const db = b[p] - b[q];
    const apart = dl * dl + 4 * (da * da + db * db);
    const way = cost[q] + length * (flat + toll[p]) + (edges === undefined ? Math.sqrt(apart) : edges * apart);
    if (way < cost[p]) cost[p] = way;
  };
  for (let sweep = 0; sweep < sweeps; sweep++) {
    const back = (sweep & 1) === 1;
    const row = back ? width : -width;
    for (let i = 0; i < height; i++) {
      const y = back ? height - 1 - i : i;
      for (let j = 0; j < width; j++) {
        const x = back ? width - 1 - j : j;
        const p = y * width + x;
        const side = back ? 1 : -1;
        if (j > 0) relax(p, p + side, 1);
        if (i > 0) {
          relax(p, p + row, 1);
          if (x > 0) relax(p, p + row - 1, Math.SQRT2);
          if (x + 1 < width) relax(p, p + row + 1, Math.SQRT2);
        }
      }
    }
  }
}
