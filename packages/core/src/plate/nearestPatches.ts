import { indicesWhere } from '../raster/mask';
import { inArena, inArenaNow } from '../runtime/arena';
import { pause, type Context } from '../runtime/context';
import { comparing, encode, patchArea, reach, type PatchLevel } from './patchLevel';

/** For every patch to be invented the most like one that is seen. */
export interface NearestPatches {
  /** Middle of the like patch, as an index into the level's pixels, at every target; -1 elsewhere. */
  at: Int32Array;
  /** Sum of squared differences of the codes, and the cost of the place. */
  cost: Int32Array;
}

const largest = 0x7fffffff;
/** A number in [0, 2^32) that depends on nothing but its arguments. */
export function hashed(a: number, b: number, c: number, d: number): number {
  let h = Math.imul(a, 0x9e3779b1) ^ Math.imul(b + 0x7f4a7c15, 0x85ebca6b);
  h ^= Math.imul(c + 0x165667b1, 0xc2b2ae35) ^ Math.imul(d, 0x27d4eb2f);
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39);
  return (h ^ (h >>> 15)) >>> 0;
}

/** What a round of the search does. */
interface Search {
  rounds: number;
  /** Farthest look, px. */
  far: number;
  seed: number;
}

/**
 * Betters the like patches by randomised search (Barnes et al. 2009): each takes over what its neighbours found, then
 * looks around its own at random, ever closer. Random numbers come from a hash of place and round, so that the same seed
 * gives the same result and a change in one place does not shift the draws elsewhere.
 *
 * @throws AbortError
 */
export async function betterPatches(
  level: PatchLevel,
  near: NearestPatches,
  { rounds, far, seed }: Search,
  context: Context,
): Promise<void> {
  const { x: left, y: top, width: across, height: down } = level.box;
  await inArena(async (arena) => {
    const { run } = arena;
    comparing(arena, level);
    const [target, at, cost] = arena.copiesIn(level.target, near.at, near.cost);
    run.costPatches(target, at, cost, left, top, left + across, top + down);
    for (let round = 0; round < rounds; round++) {
      const forward = (round & 1) === 0;
      for (let j = 0; j < down; j++) {
        if ((j & 15) === 0) await pause(context, 'Looking for patches', (round + j / down) / rounds);
        const y = forward ? top + j : top + down - 1 - j;
        run.betterRow(target, at, cost, left, left + across, y, forward ? 1 : -1, far, seed + round);
      }
    }
    arena.copyOut(at, near.at);
    arena.copyOut(cost, near.cost);
  });
}

/** Where the invented pixels of a picture of a size were copied from. */
export interface Copied {
  width: number;
  height: number;
  /** Index of the pixel that was copied, -1 where nothing was invented. */
  from: Int32Array;
}

/** Steps to the eight neighbours, across and down: sides first. */
const across = [0, 1, 0, -1, 1, 1, -1, -1];
const down = [-1, 0, 1, 0, -1, 1, 1, -1];

/**
 * Where a pixel copies from at another size: by the shift chosen for it, else by that of a pixel near it.
 *
 * @param isSource whether a pixel of the picture may be copied from
 * @param rings how many px around its shift is looked for
 * @returns -1 when none of them leads to a source
 */
export function carriedSource(
  x: number,
  y: number,
  { width, height }: { width: number; height: number },
  copied: Copied,
  isSource: (p: number) => boolean,
  rings: number,
): number {
  const scale = width / copied.width;
  const cx = Math.min(copied.width - 1, Math.floor((x + 0.5) / scale));
  const cy = Math.min(copied.height - 1, Math.floor(((y + 0.5) * copied.height) / height));
  for (let ring = 0; ring <= rings; ring++) {
    for (let k = 0; k < (ring === 0 ? 1 : 8); k++) {
      const ux = cx + ring * across[k];
      const uy = cy + ring * down[k];
      if (ux < 0 || uy < 0 || ux >= copied.width || uy >= copied.height) continue;
      const c = copied.from[uy * copied.width + ux];
      if (c < 0) continue;
      const sx = x + Math.round(((c % copied.width) - ux) * scale);
      const sy = y + Math.round((Math.floor(c / copied.width) - uy) * scale);
      if (sx >= 0 && sy >= 0 && sx < width && sy < height && isSource(sy * width + sx)) return sy * width + sx;
    }
  }
  return -1;
}

/**
 * Where each target copies from at another size, from the sources of the pixels of a coarser one. Where that leads to no source, the
 * nearest that a neighbour leads to; failing that, any by hash.
 *
 * @param from for each pixel of the coarse level its source, -1 where there is none
 */
export function carriedOver(level: PatchLevel, coarse: { width: number; height: number }, from: Int32Array, seed: number): NearestPatches {
  const { width, height, box, source, target } = level;
  const sources = indicesOf(source);
  const at = new Int32Array(width * height).fill(-1);
  const copied = { width: coarse.width, height: coarse.height, from };
  const isSource = (p: number): boolean => source[p] !== 0;
  for (let y = box.y; y < box.y + box.height; y++) {
    for (let x = box.x; x < box.x + box.width; x++) {
      const p = y * width + x;
      if (target[p] === 0) continue;
      const found = carriedSource(x, y, level, copied, isSource, reach);
      at[p] = found >= 0 ? found : sources[hashed(x, y, seed, 77) % sources.length];
    }
  }
  return { at, cost: new Int32Array(width * height).fill(largest) };
}

/** Indices of all non-zero values. */
export function indicesOf(mask: Uint8Array): Int32Array {
  return indicesWhere(mask.length, (p) => mask[p] !== 0);
}

/**
 * All patches over an invented pixel say what it should be (Wexler et al. 2007), those whose middle is nearest the loudest, like
 * ones more than unlike ones. Writes the level's colours and codes.
 */
export function vote(level: PatchLevel, near: NearestPatches): void {
  const { width, open, box, colour } = level;
  const left = box.x - reach;
  const top = box.y - reach;
  const [w, h] = [box.width + 2 * reach, box.height + 2 * reach];
  const { r, g, b } = colour;
  const sums = votesOf(level, near);
  for (let y = 0, o = 0; y < h; y++) {
    for (let x = 0, p = (y + top) * width + left; x < w; x++, o += 4, p++) {
      if (open[p] === 0 || sums[o + 3] === 0) continue;
      r[p] = sums[o] / sums[o + 3];
      g[p] = sums[o + 1] / sums[o + 3];
      b[p] = sums[o + 2] / sums[o + 3];
    }
  }
  encode(colour, level.codes, { x: left, y: top, width: w, height: h });
}

/** Sums of red, green, blue and weight for each pixel of the level's box and so much around it as patches reach. */
function votesOf(level: PatchLevel, near: NearestPatches): Float32Array {
  const { width, height, open, target, box, colour } = level;
  const spread = Math.max(1, likely(near, level));
  const kernel = Float32Array.from({ length: patchArea }, (_, k) => {
    const [dx, dy] = [(k % (2 * reach + 1)) - reach, Math.floor(k / (2 * reach + 1)) - reach];
    return Math.exp(-(dx * dx + dy * dy) / 2);
  });
  const likeness = new Float64Array(box.width * box.height);
  for (let y = 0, k = 0; y < box.height; y++) {
    for (let p = (y + box.y) * width + box.x, end = p + box.width; p < end; p++, k++) {
      if (target[p]) likeness[k] = Math.exp(-near.cost[p] / (0.6 * spread)) + 1e-6;
    }
  }
  const light = new Float32Array(4 * width * height).fill(1);
  for (let p = 0; p < width * height; p++) {
    light[4 * p] = colour.r[p];
    light[4 * p + 1] = colour.g[p];
    light[4 * p + 2] = colour.b[p];
  }
  const sums = new Float32Array(4 * (box.width + 2 * reach) * (box.height + 2 * reach));
  inArenaNow((arena) => {
    const out = arena.filled(4 * sums.length);
    const [targets, opened, at, likely, lights, kernels] = arena.copiesIn(target, open, near.at, likeness, light, kernel);
    const [right, bottom] = [box.x + box.width, box.y + box.height];
    arena.run.votes(width, targets, opened, at, likely, lights, kernels, box.x, box.y, right, bottom, out);
    arena.copyOut(out, sums);
  });
  return sums;
}

/** The cost that three quarters of the targets stay under. */
function likely({ cost }: NearestPatches, { width, target, box }: PatchLevel): number {
  const some: number[] = [];
  for (let y = box.y; y < box.y + box.height; y += 3) {
    for (let p = y * width + box.x; p < y * width + box.x + box.width; p += 3) if (target[p]) some.push(cost[p]);
  }
  return some.sort((a, b) => a - b)[Math.floor(some.length * 0.75)] ?? 0;
}
