import { bytesFrom } from '../../runtime/arena';
import type { Context } from '../../runtime/context';
import { components } from '../../raster/components';
import { convexHull } from '../../raster/hull';
import { bothOf, maskOf, maskOfCode, placesOf } from '../../raster/mask';
import { grownMask } from '../../raster/morphology';
import type { Features } from './colourModel';
import { colourEvidence } from './evidence';
import { unmarked } from './marks';
import type { RoughCut } from './roughCut';

/** How far from its hull a subject is thought to have thin parts, px. */
const around = 15;
/** Half the width of what is thin, px. */
const steps = 6;
/** Evidence for inside on a thin part, for outside on both sides of it, and how much less there than on it. */
const thinPart = { most: -2, beside: 2, drop: 4 };
/** So many pixels in a row make a line, over gaps of so many; texture has short ones. */
const leastLine = 20;
const gapOfLine = 2;
/** Evidence for outside in a slit, and for inside on both sides of it; and the least area of one, px. */
const slit = { most: 2, beside: 2, drop: 0 };
const leastSlit = 12;
/** What is undecided around a slit, px. */
const rimOfSlit = 2;
/** Share of the pixels beside the hull that are flanked, from which on they are what chance makes: of noise alone it is about 0.3. */
const chance = 0.15;

/**
 * A cut with its thin parts. A wire, a stem or a rope is a pixel wide or less where the whole picture is cut, and dear to a minimum cut
 * at any size, which pays for every pixel of its border. Here a pixel whose colour speaks for inside much more than what is a few pixels
 * away on both sides of it is taken where such pixels make a long line that leads to the subject, and where they are rare beside it. A
 * slit between two parts is left undecided by the same rule the other way about. Only near the subject's convex hull is looked: what
 * belongs together is rarely far outside it.
 *
 * @returns the cut with what colour says wherever it was asked
 * @throws AbortError
 */
export async function withThinParts(cut: RoughCut, lab: Features, context: Context): Promise<RoughCut> {
  const { label, width, height, seeds } = cut;
  const n = label.length;
  const hull = convexHull(label, width, height);
  const asked = grownMask(hull, width, height, around);
  const colour = await colourEvidence(lab, cut, context, asked);
  const free = maskOfCode(seeds, unmarked);
  const flanked = (where: Uint8Array, sign: 1 | -1, { most, beside, drop }: typeof slit): Uint8Array =>
    bytesFrom(n, (arena, out) =>
      arena.run.flanked(width, height, arena.copyIn(colour), arena.copyIn(where), sign, most, beside, drop, steps, out),
    );
  const within = (mask: Uint8Array, side: number): Uint8Array => maskOf(mask, (v, p) => v !== 0 && free[p] !== 0 && label[p] === side);
  const outside = within(asked, 0);
  const found = flanked(outside, 1, thinPart);
  const beside = maskOf(outside, (v, p) => v !== 0 && hull[p] === 0);
  const busy = placesOf(bothOf(found, beside)).length > chance * placesOf(beside).length;
  const lines = (): Uint8Array =>
    bytesFrom(n, (arena, out) => arena.run.onPaths(width, height, arena.copyIn(found), leastLine, gapOfLine, arena.alloc(16 * n), out));
  const parts = busy ? new Uint8Array(n) : joinedTo(label, lines(), width, height);
  const slits = components(flanked(within(asked, 1), -1, slit), width, height);
  const wide = maskOf(label, (_, p) => slits.area[slits.label[p]] >= leastSlit);
  return { ...cut, evidence: { colour, asked }, thin: { parts, slits: grownMask(wide, width, height, rimOfSlit) } };
}

/** Those of some lines that lead to a region, over gaps of two pixels at most. */
function joinedTo(label: Uint8Array, lines: Uint8Array, width: number, height: number): Uint8Array {
  const near = grownMask(
    maskOf(label, (v, p) => v !== 0 || lines[p] !== 0),
    width,
    height,
    1,
  );
  const joined = components(near, width, height);
  const reached = new Uint8Array(joined.area.length);
  for (let p = 0; p < label.length; p++) if (label[p] !== 0) reached[joined.label[p]] = 1;
  return maskOf(lines, (v, p) => v !== 0 && reached[joined.label[p]] !== 0);
}
