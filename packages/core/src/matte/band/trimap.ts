import { bytesFrom } from '../../runtime/arena';
import type { Context } from '../../runtime/context';
import { eitherOf } from '../../raster/mask';
import { grownMask } from '../../raster/morphology';
import type { Features } from '../cut/colourModel';
import { colourEvidence } from '../cut/evidence';
import { borderOf, type RoughCut } from '../cut/roughCut';

/** What is known of a pixel before opacity is solved. */
export const surelyOut = 0;
export const undecided = 1;
export const surelyIn = 2;

/** Band kept undecided on either side of any border, px. */
const crisp = 2;
/** Evidence against the cut beside its border, and evidence of a gap far inside. */
const doubt = 3;
const plainGap = 7;

/**
 * Where opacity is still open: everything under edge marks, a pixel or two along crisp borders, and further
 * out where colour speaks against the cut: thin strands outside up to `reach` pixels away, gaps anywhere inside.
 * Hard marks are never undecided.
 *
 * @param reach how far from the border contradicting colours are believed, px
 * @returns one of `surelyOut`, `undecided`, `surelyIn` a pixel
 * @throws AbortError
 */
export async function trimapOf(cut: RoughCut, lab: Features, reach: number, context: Context): Promise<Uint8Array> {
  const { label, width, height, seeds, evidence: known, thin } = cut;
  const n = width * height;
  const border = borderOf(label, width, height);
  const near = grownMask(border, width, height, reach);
  // Thin parts have a rim of their own, but nothing else is believed because they are near.
  const sides = thin ? eitherOf(label, thin.parts) : label;
  const along = grownMask(thin ? borderOf(sides, width, height) : border, width, height, crisp);
  const asked = bytesFrom(n, (arena, out) =>
    arena.run.bandAsks(n, ...arena.copiesIn(seeds, near, label), known ? arena.copyIn(known.asked) : 0, out),
  );
  const found = await colourEvidence(lab, cut, context, asked);
  const against = bytesFrom(n, (arena, out) => {
    const given = arena.copiesIn(seeds, near, label);
    const told = known ? arena.copiesIn(known.asked, known.colour) : ([0, 0] as const);
    arena.run.bandAgainst(n, ...given, ...told, arena.copyIn(found), doubt, plainGap, out);
  });
  const spread = grownMask(against, width, height, 1.5);
  const doubtful = thin ? eitherOf(spread, thin.slits) : spread;
  return bytesFrom(n, (arena, out) =>
    arena.run.bandTrimap(n, arena.copyIn(seeds), arena.copyIn(along), arena.copyIn(doubtful), arena.copyIn(sides), out),
  );
}
