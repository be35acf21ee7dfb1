import type { Context } from '../context/context';
import { grownMask } from '../raster/morphology';
import type { Features } from './colourModel';
import { colourEvidence } from './evidence';
import { markedEdge, markedInside, markedOutside } from './marks';
import { borderOf, type RoughCut } from './roughCut';

/** What is known of a pixel before opacity is solved. */
export const surelyOut = 0;
export const undecided = 1;
export const surelyIn = 2;

/** Band kept undecided on either side of any border, px. */
const crisp = 2;
/** Evidence of a gap far inside. */
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
export async function undecidedBand(cut: RoughCut, lab: Features, reach: number, context: Context): Promise<Uint8Array> {
  const { label, width, height, said, evidence: known } = cut;
  const n = width * height;
  const border = borderOf(label, width, height);
  const near = grownMask(border, width, height, reach);
  const along = grownMask(border, width, height, crisp);
  const against = new Uint8Array(n);
  const beside = new Uint8Array(n);
  const deep = new Uint8Array(n);
  for (let p = 0; p < n; p++) {
    if (said[p] !== 0) continue;
    if (near[p]) beside[p] = known?.asked[p] ? 0 : 1;
    else deep[p] = label[p];
  }
  const around = await colourEvidence(lab, cut, context, beside);
  // A gap between wires or canes may lie far from the border, but must then be plain.
  const within = await colourEvidence(lab, cut, context, deep, plainGap);
  for (let p = 0; p < n; p++) {
    if (deep[p]) against[p] = within[p] < plainGap ? 1 : 0;
    else if (near[p] && said[p] === 0) {
      const says = known?.asked[p] ? known.colour[p] : around[p];
      against[p] = (label[p] === 1 ? says < -3 : says > 3) ? 1 : 0;
    }
  }
  const doubtful = grownMask(against, width, height, 1.5);
  const out = new Uint8Array(n);
  for (let p = 0; p < n; p++) {
    if (said[p] === markedInside) out[p] = surelyIn;
    else if (said[p] === markedOutside) out[p] = surelyOut;
    else if (said[p] === markedEdge || along[p] || doubtful[p]) out[p] = undecided;
    else out[p] = label[p] === 1 ? surelyIn : surelyOut;
  }
  return out;
}
