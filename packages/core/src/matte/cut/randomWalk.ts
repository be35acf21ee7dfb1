import { apartInColour, type RegionGraph } from './regions';

/** Conductances between regions: how easily a walker goes from one to the other. */
export interface WalkGraph {
  regions: RegionGraph;
  from: Int32Array;
  to: Int32Array;
  conductance: Float64Array;
}

/** What holds a region to the inside and to the outside, in the unit of conductances. */
export interface Ties {
  inside: Float64Array;
  outside: Float64Array;
}

/** Strength of a border that lets 1/e of the walkers through, and the same for a difference of colour. */
const borderScale = 0.6;
const colourScale = 1 / 6;
/** What crosses any border. */
const leak = 1e-4;
/** Regions that each is joined to wherever they lie, how strongly, and how far apart in colour, busyness and place (a share of the longer side) they may be. */
const likes = 6;
const likeWeight = 0.3;
const likeColour = 0.05;
const likeBusy = 0.2;
const likePlace = 0.15;

/**
 * A walker's ways over a picture's regions: to neighbours, the more easily the weaker the border between them and the more alike they
 * are; and to the regions around that are most like.
 */
export function walkGraphOf(regions: RegionGraph, longerSide: number): WalkGraph {
  const { count, area, x, y, busy } = regions;
  const from = Array.from(regions.from);
  const to = Array.from(regions.to);
  const conductance = from.map((i, e) => {
    const apart = Math.sqrt(apartInColour(regions, i, to[e]));
    return regions.length[e] * (Math.exp(-regions.strength[e] / borderScale - apart / colourScale) + leak);
  });
  const near = new Int32Array(likes);
  const least = new Float64Array(likes);
  // From left to right: whoever lies too far to the side need not be looked at.
  const order = Int32Array.from({ length: count }, (_, i) => i).sort((i, j) => x[i] - x[j]);
  for (let at = 0; at < count; at++) {
    const i = order[at];
    let found = 0;
    for (const way of [1, -1]) {
      for (let k = at + way; k >= 0 && k < count; k += way) {
        const j = order[k];
        const limit = found < likes ? Infinity : least[likes - 1];
        const dx = (x[i] - x[j]) / (likePlace * longerSide);
        if (dx * dx >= limit) break;
        const dy = (y[i] - y[j]) / (likePlace * longerSide);
        let apart = dx * dx + dy * dy;
        if (apart >= limit) continue;
        apart += apartInColour(regions, i, j) / likeColour ** 2 + ((busy[i] - busy[j]) / likeBusy) ** 2;
        if (apart >= limit) continue;
        let to = found < likes ? found++ : likes - 1;
        for (; to > 0 && least[to - 1] > apart; to--) {
          least[to] = least[to - 1];
          near[to] = near[to - 1];
        }
        least[to] = apart;
        near[to] = j;
      }
    }
    for (let k = 0; k < found; k++) {
      from.push(i);
      to.push(near[k]);
      conductance.push(likeWeight * Math.sqrt(Math.min(area[i], area[near[k]])) * Math.exp(-least[k]));
    }
  }
  return { regions, from: Int32Array.from(from), to: Int32Array.from(to), conductance: Float64Array.from(conductance) };
}

/** Rounds at most, and the error at which they end. */
const rounds = 300;
const precision = 1e-5;

/**
 * The chance of a walker from each region to be caught by the inside before the outside (random walks; Grady 2006), by conjugate gradients.
 * Holding a region more strongly to one side never lowers any region's chance of that side.
 *
 * @returns 0 to 1 a region
 */
export function chanceOfInside({ regions: { count }, from, to, conductance }: WalkGraph, { inside, outside }: Ties): Float64Array {
  const diagonal = new Float64Array(count);
  for (let i = 0; i < count; i++) diagonal[i] = inside[i] + outside[i];
  for (let e = 0; e < from.length; e++) {
    diagonal[from[e]] += conductance[e];
    diagonal[to[e]] += conductance[e];
  }
  const chance = new Float64Array(count);
  const residual = inside.slice();
  const way = new Float64Array(count);
  const through = new Float64Array(count);
  let size = 0;
  for (let i = 0; i < count; i++) {
    way[i] = diagonal[i] > 0 ? residual[i] / diagonal[i] : 0;
    size += residual[i] * way[i];
  }
  for (let round = 0; round < rounds && size > precision; round++) {
    for (let i = 0; i < count; i++) through[i] = diagonal[i] * way[i];
    for (let e = 0; e < from.length; e++) {
      const [i, j, c] = [from[e], to[e], conductance[e]];
      through[i] -= c * way[j];
      through[j] -= c * way[i];
    }
    let along = 0;
    for (let i = 0; i < count; i++) along += way[i] * through[i];
    const step = size / along;
    let next = 0;
    for (let i = 0; i < count; i++) {
      chance[i] += step * way[i];
      residual[i] -= step * through[i];
      if (diagonal[i] > 0) next += (residual[i] * residual[i]) / diagonal[i];
    }
    const keep = next / size;
    size = next;
    for (let i = 0; i < count; i++) way[i] = (diagonal[i] > 0 ? residual[i] / diagonal[i] : 0) + keep * way[i];
  }
  return chance;
}
