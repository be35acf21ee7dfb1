import type { Context } from '../runtime/context';
import { toShared, sharedFloats, parallelFor, type Kernel } from '../runtime/parallelFor';
import type { Plane } from '../raster/plane';

/** How the disc follows from a distance d: `atInfinity`·(1 − `focus`/d), px, within ± `largest`. */
export interface DiscLaw {
  atInfinity: number;
  /** m */
  focus: number;
  largest: number;
}

/** Signed disc at a distance, px. */
export function discAt({ atInfinity, focus, largest }: DiscLaw, distance: number): number {
  return Math.max(-largest, Math.min(largest, atInfinity * (1 - focus / distance)));
}

/** Side of the squares of which it is known what layers they hold, px, and its power of two. */
export const squarePower = 5;
export const square = 1 << squarePower;

/** Where a card's pixels lie among its layers; all in memory that the pool sees. */
export interface Placing {
  /** Between which two layers each pixel lies: whole numbers are layers, 0 the farthest. */
  place: Float32Array;
  /** Squares a row. */
  across: number;
  /** The least and the most of each square, row by row. */
  least: Float32Array;
  most: Float32Array;
}

/** Which squares hold something of some layers: 1 for each that does. */
export interface Held {
  across: number;
  squares: Uint8Array;
}

interface PlaceJob extends Placing {
  distance: Float32Array;
  law: DiscLaw;
  width: number;
  height: number;
  /** Places of discs in even steps from the farthest layer's to the nearest's. */
  table: Float32Array;
  from: number;
  perPx: number;
}

/** Discs in steps of a hundredth of the smallest gap would be finer than anyone sees; this many are enough. */
const steps = 4096;

/** Places one row of squares after the other. */
export const placeRows: Kernel<PlaceJob> = {
  name: 'placeRows',
  begin({ distance, law, width, height, table, from, perPx, place, across, least, most }) {
    const { atInfinity, focus, largest } = law;
    return (row) => {
      const first = row * across;
      least.fill(Infinity, first, first + across);
      most.fill(-Infinity, first, first + across);
      for (let y = row << squarePower; y < Math.min(height, (row + 1) << squarePower); y++) {
        for (let x = 0, p = y * width; x < width; x++, p++) {
          const disc = Math.max(-largest, Math.min(largest, atInfinity * (1 - focus / distance[p])));
          const t = (disc - from) * perPx;
          const i = t | 0;
          const at = table[i] + (t - i) * (table[i + 1] - table[i]);
          place[p] = at;
          const s = first + (x >> squarePower);
          if (at < least[s]) least[s] = at;
          if (at > most[s]) most[s] = at;
        }
      }
    };
  },
};

/**
 * Where the pixels of a card lie among layers.
 *
 * @param distance of every pixel, m
 * @param layers signed discs, far to near, at least two; what lies beyond them counts to the last ones
 */
export async function placedIn(distance: Plane, law: DiscLaw, layers: number[], context: Context): Promise<Placing> {
  const { width, height } = distance;
  const [from, to] = [layers[0], layers[layers.length - 1]];
  const table = new Float32Array(steps + 2);
  let k = 0;
  for (let i = 0; i <= steps + 1; i++) {
    const disc = from + ((to - from) * i) / steps;
    while (k < layers.length - 2 && disc < layers[k + 1]) k++;
    table[i] = Math.min(layers.length - 1, k + (layers[k] - disc) / (layers[k] - layers[k + 1]));
  }
  const across = Math.ceil(width / square);
  const rows = Math.ceil(height / square);
  const job: PlaceJob = {
    distance: toShared(distance.data, context),
    place: sharedFloats(width * height, context),
    least: sharedFloats(across * rows, context),
    most: sharedFloats(across * rows, context),
    perPx: steps / (to - from),
    ...{ law, width, height, table, from, across },
  };
  await parallelFor(placeRows, job, rows, context);
  return job;
}

/** The squares that hold something of neighbouring layers, so that a run of them need not look at the others. */
export function squaresHolding({ across, least, most }: Placing, layers: number[]): Held {
  const [low, end] = [layers[0], layers[0] + layers.length];
  const squares = new Uint8Array(least.length);
  for (let s = 0; s < squares.length; s++) squares[s] = most[s] > low - 1 && least[s] < end ? 1 : 0;
  return { across, squares };
}
