import { bytesFrom, inArenaNow } from '../../runtime/arena';
import type { Context } from '../../runtime/context';
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
const plainGap = -7;

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
  const { label, width, height, seeds, evidence: known } = cut;
  const n = width * height;
  const border = borderOf(label, width, height);
  const near = grownMask(border, width, height, reach);
  const along = grownMask(border, width, height, crisp);
  const [beside, deep] = [new Uint8Array(n), new Uint8Array(n)];
  inArenaNow((arena) => {
    const asked = known ? arena.copyIn(known.asked) : 0;
    const asks = [arena.filled(n), arena.filled(n)] as const;
    arena.run.bandAsks(n, arena.copyIn(seeds), arena.copyIn(near), arena.copyIn(label), asked, ...asks);
    [beside, deep].forEach((mask, k) => arena.copyOut(asks[k], mask));
  });
  const around = await colourEvidence(lab, cut, context, beside);
  // A gap between wires or canes may lie far from the border, but must then be plain.
  const within = await colourEvidence(lab, cut, context, deep, plainGap);
  const against = bytesFrom(n, (arena, out) => {
    const given = arena.copiesIn(seeds, near, label);
    const there = known ? arena.copiesIn(known.asked, known.colour) : ([0, 0] as const);
    const asked = arena.copiesIn(around, deep, within);
    arena.run.bandAgainst(n, ...given, ...there, ...asked, doubt, plainGap, out);
  });
  const doubtful = grownMask(against, width, height, 1.5);
  return bytesFrom(n, (arena, out) =>
    arena.run.bandTrimap(n, arena.copyIn(seeds), arena.copyIn(along), arena.copyIn(doubtful), arena.copyIn(label), out),
  );
}
