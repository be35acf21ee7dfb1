import { bytesFrom } from '../../runtime/arena';
import type { Context } from '../../runtime/context';
import { regionRuns } from '../../raster/components';
import { convexHull } from '../../raster/hull';
import { bothOf, butNot, eitherOf, maskOfCode, placesOf } from '../../raster/mask';
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
  const flanked = (where: Uint8Array, sign: 1 | -1, { most, beside, drop }: typeof slit): Uint8Array =>
    bytesFrom(n, (arena, out) =>
      arena.run.flanked(width, height, arena.copyIn(colour), arena.copyIn(where), sign, most, beside, drop, steps, out),
    );
  const open = bothOf(asked, maskOfCode(seeds, unmarked));
  const outside = butNot(open, label);
  const found = flanked(outside, 1, thinPart);
  const beside = butNot(outside, hull);
  const busy = placesOf(bothOf(found, beside)).length > chance * placesOf(beside).length;
  const lines = (): Uint8Array =>
    bytesFrom(n, (arena, out) => arena.run.onPaths(width, height, arena.copyIn(found), leastLine, gapOfLine, arena.alloc(16 * n), out));
  const parts = busy ? new Uint8Array(n) : joinedTo(label, lines(), width, height);
  const slits = wideOf(flanked(bothOf(open, label), -1, slit), width, height);
  return { ...cut, evidence: { colour, asked }, thin: { parts, slits: grownMask(slits, width, height, rimOfSlit) } };
}

/** Those of some lines that lead to a region, over gaps of two pixels at most. */
function joinedTo(label: Uint8Array, lines: Uint8Array, width: number, height: number): Uint8Array {
  const { start, end, region, area } = regionRuns(grownMask(eitherOf(label, lines), width, height, 1), width, height);
  const reached = new Uint8Array(area.length);
  for (let i = 0; i < region.length; i++)
    if (reached[region[i]] === 0 && label.subarray(start[i], end[i]).includes(1)) reached[region[i]] = 1;
  const joined = new Uint8Array(lines.length);
  for (let i = 0; i < region.length; i++) if (reached[region[i]] !== 0) joined.set(lines.subarray(start[i], end[i]), start[i]);
  return joined;
}

/** The parts of a mask that have the area of a slit. */
function wideOf(mask: Uint8Array, width: number, height: number): Uint8Array {
  const { start, end, region, area } = regionRuns(mask, width, height);
  const wide = new Uint8Array(mask.length);
  for (let i = 0; i < region.length; i++) if (area[region[i]] >= leastSlit) wide.fill(1, start[i], end[i]);
  return wide;
}
