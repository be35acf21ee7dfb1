import { encodeTable } from '../../colour/srgb';
import { inArenaNow, type Numbers } from '../../runtime/arena';
import type { Address } from '../../runtime/functions';
import type { Context } from '../../runtime/context';
import { toShared, sharedFloats, parallelFor, type Kernel } from '../../runtime/parallelFor';
import { bothOf, differing, maskOfCode, nearestPlaces, placesOf } from '../../raster/mask';
import { seenPicture, withOpacity, type Picture, type Plane } from '../../raster/plane';
import { widened } from '../../raster/widened';
import { weightsText } from './learnedWeights';
import { undecided } from '../band/trimap';

/** What was solved, maybe at a smaller size than that at which it is corrected, and what it was solved from. */
export interface Known {
  matte: Plane;
  /** One of `surelyOut`, `undecided`, `surelyIn` a pixel of the matte. */
  trimap: Uint8Array;
}

/** Opacity corrected before, and from what. */
export interface Learned {
  known: Known;
  carried: Plane;
  opacity: Plane;
  /** 1 for the pixels of the matte beside or on which it is corrected. */
  open: Uint8Array;
}

let weights: Float32Array | undefined;

/**
 * The network's weights: the first mixing by what is seen and channel, and its constants; of each layer the look around by
 * place and channel, the mixing by channel and channel, and its constants; the last look around by place, channel and pixel, and
 * its constants.
 */
export function learnedWeights(): Float32Array {
  return (weights ??= new Float32Array(Uint8Array.from(atob(weightsText), (c) => c.charCodeAt(0)).buffer));
}

/** How far apart the places are that each layer looks at around one. */
export const layerSteps: readonly number[] = [4, 2, 1, 1, 1, 1];
/** How much of what is said to lack is added: what is uncertain makes a haze. */
export const shareAdded = 0.95;
/** How much must lack where opacity was sure. */
export const leastLacking = 0.05;
/** How many places around one have a say in its correction; a place is 2 × 2 pixels. */
const halo = layerSteps.reduce((sum, step) => sum + step, 1);
/** Places of a tile, along and across, and channels of a layer. */
const tile = 48;
const channels = 32;

/**
 * Opacity corrected as strands, gaps and borders usually run: a small network of convolutions, one half of whose layers look
 * around and the other half mix (after Howard et al. 2017, at half the size by sub-pixels after Shi et al. 2016), sees the
 * picture, what was solved and what is known, and adds to each undecided pixel and those beside it. It was taught with made-up
 * subjects only (see scripts/teach). Costs what is undecided, not the picture.
 *
 * @param shot linear light
 * @param carried what was solved, carried up to the size of the shot: what is to be corrected, 0 to 1
 * @param last the correction of another answer on the same picture: only what can differ is worked out, and comes out the same
 * @throws AbortError
 */
export async function learnedOpacity(shot: Picture, carried: Plane, known: Known, context: Context, last?: Learned): Promise<Learned> {
  const { width, height } = carried;
  const { width: w, height: h } = known.matte;
  const differs = last && differing(asCodes(known), asCodes(last.known));
  if (differs?.includes(1) === false) return last!;
  const open = widened(maskOfCode(known.trimap, undecided), w, h, 1);
  const places: Places = {
    across: Math.ceil(width / 2),
    down: Math.ceil(height / 2),
    column: nearestPlaces(width, w),
    line: nearestPlaces(height, h),
  };
  const asked = placesUnder(open, w, places);
  let wanted = asked;
  const out = sharedFloats(width * height, context);
  if (last && differs) {
    out.set(last.opacity.data);
    // A small pixel has a say in what is carried up two beside it.
    const other = placesUnder(widened(differs, w, h, 3), w, places);
    const seen = seenToDiffer(other, asked, places, { known, carried }, last, out);
    wanted = bothOf(asked, widened(seen, places.across, places.down, halo));
  } else {
    out.set(carried.data);
  }
  const tiles = tilesOf(wanted, places);
  const job: LearnedJob = {
    shot: await seenPicture(withOpacity(shot), context),
    ...{ carried: toShared(carried.data, context), trimap: known.trimap, pitch: w, ...places, wanted, tiles, out },
  };
  if (tiles.length > 0) await parallelFor(correctTile, job, tiles.length, context, 'Correcting opacity');
  return { known, carried, opacity: { width, height, data: out }, open };
}

const asCodes = ({ matte, trimap }: Known): { codes: Uint8Array; numbers: Float32Array } => ({ codes: trimap, numbers: matte.data });

/** How many places, of 2 × 2 pixels each, and the solved matte's column of every pixel column, and its row of every row. */
interface Places {
  across: number;
  down: number;
  column: Int32Array;
  line: Int32Array;
}

/** The places of which any pixel lies where a mask of the solved matte's size is set. */
function placesUnder(mask: Uint8Array, pitch: number, { across, down, column, line }: Places): Uint8Array {
  // A place is just what a pixel of half the size is.
  if (column.length === 2 * pitch && line.length === 2 * (mask.length / pitch)) return mask;
  const out = new Uint8Array(across * down);
  for (let y = 0; y < line.length; y++) {
    const row = line[y] * pitch;
    if ((y % 2 && line[y] === line[y - 1]) || !mask.subarray(row, row + pitch).includes(1)) continue;
    const at = (y >> 1) * across;
    for (let x = 0; x < column.length; x += 2) {
      if (mask[row + column[x]] || mask[row + column[Math.min(x + 1, column.length - 1)]]) out[at + (x >> 1)] = 1;
    }
  }
  return out;
}

/**
 * The places that the network sees otherwise than before, of those where something may differ. What is not corrected there
 * takes the opacity that was carried up.
 */
function seenToDiffer(
  other: Uint8Array,
  asked: Uint8Array,
  { across, down, column, line }: Places,
  { known, carried }: Pick<Learned, 'known' | 'carried'>,
  last: Learned,
  out: Float32Array,
): Uint8Array {
  const seen = new Uint8Array(across * down);
  const { width, height } = carried;
  const pitch = known.matte.width;
  for (let y = 0; y < down; y++) {
    if (!other.subarray(y * across, (y + 1) * across).includes(1)) continue;
    for (let x = 0, at = y * across; x < across; x++, at++) {
      if (!other[at]) continue;
      for (let k = 0; k < 4; k++) {
        const u = 2 * x + (k & 1);
        const v = 2 * y + (k >> 1);
        if (u >= width || v >= height) continue;
        const p = v * width + u;
        const q = line[v] * pitch + column[u];
        if (known.trimap[q] !== last.known.trimap[q] || stepOf(carried.data[p]) !== stepOf(last.carried.data[p])) seen[at] = 1;
        if (!asked[at]) out[p] = carried.data[p];
      }
    }
  }
  return seen;
}

/** Opacity as the network sees it. */
function stepOf(opacity: number): number {
  return Math.floor(255 * opacity + 0.5);
}

/** The first places of the tiles in which something is wanted, as numbers of places. */
function tilesOf(wanted: Uint8Array, { across, down }: Places): Int32Array {
  const wide = Math.ceil(across / tile);
  const has = new Uint8Array(wide * Math.ceil(down / tile));
  for (let y = 0; y < down; y++) {
    const row = wanted.subarray(y * across, (y + 1) * across);
    const at = Math.floor(y / tile) * wide;
    // What comes after something wanted is looked at from the next tile on.
    for (let x = row.indexOf(1); x >= 0; x = row.indexOf(1, (Math.floor(x / tile) + 1) * tile)) has[at + Math.floor(x / tile)] = 1;
  }
  return placesOf(has).map((t) => tile * (Math.floor(t / wide) * across + (t % wide)));
}

interface LearnedJob extends Places {
  shot: Picture;
  carried: Float32Array;
  /** The trimap of each pixel of the solved matte, `pitch` a row. */
  trimap: Uint8Array;
  pitch: number;
  /** 1 for the places to be corrected. */
  wanted: Uint8Array;
  tiles: Int32Array;
  out: Float32Array;
}

/** Corrects one tile after the other: a window of the picture, as far as it is looked at. */
export const correctTile: Kernel<LearnedJob> = {
  name: 'correctTile',
  begin({ shot, carried, trimap, pitch, across, down, column, line, wanted, tiles, out }) {
    const { width, height } = shot;
    return (part) => {
      const [x, y] = [tiles[part] % across, Math.floor(tiles[part] / across)];
      const [wide, high] = [Math.min(tile, across - x), Math.min(tile, down - y)];
      const [left, top] = [Math.max(0, x - halo), Math.max(0, y - halo)];
      const [right, bottom] = [Math.min(width, 2 * (x + wide + halo)), Math.min(height, 2 * (y + high + halo))];
      const [w, h] = [right - 2 * left, bottom - 2 * top];
      const known = new Uint8Array(w * h);
      for (let v = 0, p = 0; v < h; v++) {
        if (v > 0 && line[2 * top + v] === line[2 * top + v - 1]) {
          known.copyWithin(p, p - w, p);
          p += w;
          continue;
        }
        const row = line[2 * top + v] * pitch;
        for (let u = 0; u < w; u++, p++) known[p] = trimap[row + column[2 * left + u]];
      }
      inArenaNow((arena) => {
        const { run } = arena;
        const first = 2 * top * width + 2 * left;
        const window = (plane: Numbers): Address => arena.copyInWindow(plane, first, width, w, h);
        run.learnedOn(
          w,
          h,
          window(shot.r),
          window(shot.g),
          window(shot.b),
          window(carried),
          arena.copyIn(encodeTable),
          arena.copyIn(known),
        );
        run.learnedBy(
          layerSteps.length,
          arena.copyIn(Int32Array.from(layerSteps)),
          arena.copyIn(learnedWeights()),
          shareAdded,
          leastLacking,
        );
        const mine = arena.copyInWindow(wanted, y * across + x, across, wide, high);
        const goal = window(out);
        const places = (wide + 2 * halo) * (high + 2 * halo);
        const all = 4 * channels * places;
        const rooms = arena.allocs(8 * (high + 2 * halo), all, all, 4 * channels * (wide + 2 * halo));
        run.correct(x - left, y - top, wide, high, mine, halo, ...rooms, goal);
        const [inside, end] = [2 * (x - left), Math.min(2 * (x + wide), width)];
        for (let v = 2 * y; v < Math.min(2 * (y + high), height); v++) {
          arena.copyOut(goal + 4 * ((v - 2 * top) * w + inside), out.subarray(v * width + 2 * x, v * width + end));
        }
      });
    };
  },
};
