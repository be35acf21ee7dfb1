import { encodeTable } from '../../colour/srgb';
import { inArenaNow, type Numbers } from '../../runtime/arena';
import type { Context } from '../../runtime/context';
import { toShared, sharedFloats, parallelFor, type Kernel } from '../../runtime/parallelFor';
import { bothOf, differing } from '../../raster/mask';
import { grownMask } from '../../raster/morphology';
import { seenPicture, withOpacity, type Picture, type Plane } from '../../raster/plane';
import { placesBetween } from '../../raster/resize';
import { widened } from '../../raster/widened';

/** What was carried up before, and from what. */
export interface Carried {
  small: Plane;
  solved: Uint8Array;
  large: Plane;
}

/**
 * A small matte made large with the detail of the large picture: in every 3 × 3 window of the small picture opacity is
 * fitted as a linear function of colour, and the coefficients, enlarged smoothly, are applied to the large
 * picture's own colours (guided upsampling; He et al. 2013, He & Sun 2015). Costs what was solved, not the picture.
 *
 * @param smallLight the picture at the matte's size, sRGB-encoded: the light in which mixing is taken as linear
 * @param shot the large picture, linear light
 * @param small opacity, 0 to 1
 * @param solved 1 for the small pixels whose opacity was solved; elsewhere the matte is simply enlarged
 * @param last another small matte of the same pictures, carried up: only what differs from it is carried, for the same answer
 * @throws AbortError
 */
export async function carryUp(
  smallLight: Picture,
  shot: Picture,
  small: Plane,
  solved: Uint8Array,
  context: Context,
  last?: Carried,
): Promise<Plane> {
  const { width: w, height: h } = small;
  const { width, height } = shot;
  const differs = last && differing({ codes: solved, numbers: small.data }, { codes: last.solved, numbers: last.small.data });
  if (differs?.includes(1) === false) return last!.large;
  let fitted = grownMask(solved, w, h, 3);
  let averaged = grownMask(solved, w, h, 1.5);
  const out = sharedFloats(width * height, context);
  if (last && differs) {
    // A line is fitted over its neighbours, averaged with theirs, and used from the next pixel.
    fitted = bothOf(fitted, widened(differs, w, h, 4));
    averaged = bothOf(averaged, widened(differs, w, h, 3));
    out.set(last.large.data);
  }
  const job: CarryJob = {
    light: await seenPicture(smallLight, context),
    shot: await seenPicture(withOpacity(shot), context),
    small: { ...small, data: toShared(small.data, context) },
    solved,
    ...(differs && { again: widened(differs, w, h, 2) }),
    ...{ fitted, averaged, out },
  };
  await parallelFor(carryBand, job, Math.ceil(h / band), context, 'Carrying opacity up');
  return { width, height, data: job.out };
}

interface CarryJob {
  light: Picture;
  shot: Picture;
  small: Plane;
  solved: Uint8Array;
  /** 1 for the small pixels around which the matte may be another than the last; everywhere when left out. */
  again?: Uint8Array;
  /** Where colour lines are fitted, and where they are averaged. */
  fitted: Uint8Array;
  averaged: Uint8Array;
  out: Float32Array;
}

/** Rows of the small matte that a thread carries up at a time. */
const band = 32;

/** Carries one band of the small matte up after the other. */
export const carryBand: Kernel<CarryJob> = {
  name: 'carryBand',
  begin({ light, shot, small: { width: w, height: h, data: a }, solved, again, fitted, averaged, out }) {
    const { width, height } = shot;
    const { left, share } = placesBetween(w, width);
    /** The small row above the middle of a large one, as a number with its fraction. */
    const rowOf = (y: number): number => Math.min(h - 1, Math.max(0, ((y + 0.5) * h) / height - 0.5));
    const firstOf = (row: number): number => {
      let y = Math.max(0, Math.floor((row * height) / h) - 1);
      while (y < height && rowOf(y) < row) y++;
      return y;
    };
    return (part) => {
      const from = part * band;
      const to = Math.min(h, from + band);
      // One row more is looked at from the last large row, and one more around each.
      const until = Math.min(h, to + 1);
      if (again && !again.subarray(from * w, until * w).includes(1)) return;
      const first = Math.max(0, from - 1);
      const last = Math.min(h, until + 1);
      const top = Math.max(0, first - 1);
      const rows = <T extends Numbers>(plane: T): Numbers => plane.subarray(top * w, Math.min(h, last + 1) * w);
      inArenaNow((arena) => {
        const { run } = arena;
        const [r, g, b, opacity, open] = [light.r, light.g, light.b, a, solved].map((plane) => arena.copyIn(rows(plane)));
        const redo = again ? arena.copyIn(rows(again)) : 0;
        const fit = arena.alloc(16 * w * (last - first));
        const lines = arena.alloc(16 * w * (until - from));
        run.colourLines(w, h, top, r, g, b, opacity, arena.copyIn(rows(fitted)), first, last, fit);
        run.smoothLines(w, h, first, fit, top, arena.copyIn(rows(averaged)), from, until, lines);
        const [ways, shares, codes] = arena.copiesIn(left, share, encodeTable);
        const [start, end] = [firstOf(from), to === h ? height : firstOf(to)];
        const [red, green, blue, large] = [shot.r, shot.g, shot.b, out].map((c) => arena.copyIn(c.subarray(start * width, end * width)));
        const kinds = arena.alloc(w);
        for (let y = start, sorted = -1; y < end; y++) {
          const above = rowOf(y) | 0;
          const below = Math.min(h - 1, above + 1);
          if (above !== sorted) run.carryKinds(w, (above - top) * w, (below - top) * w, open, redo, kinds);
          sorted = above;
          const at = 4 * width * (y - start);
          const linesOf = (row: number): number => lines + 16 * w * (row - from);
          const own = opacity + 4 * w * (above - top);
          const light = [red + at, green + at, blue + at] as const;
          run.carryRow(width, w, kinds, own, ways, shares, ...light, codes, linesOf(above), linesOf(below), rowOf(y) - above, large + at);
        }
        arena.copyOut(large, out.subarray(start * width, end * width));
      });
    };
  },
};
