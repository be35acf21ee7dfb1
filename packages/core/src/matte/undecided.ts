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

/**
 * Where opacity is still open: everything under edge marks, a pixel or two along crisp borders, and further
 * out where colour speaks against the cut: thin strands outside up to `reach` pixels away, gaps anywhere inside.
 * Hard marks are never undecided.
 *
 * @param said the marks' codes, of the picture's size
 * @param reach how far from the border contradicting colours are believed, px
 * @returns one of `surelyOut`, `undecided`, `surelyIn` a pixel
 * @throws AbortError
 */
export async function undecidedBand(cut: RoughCut, lab: Features, said: Uint8Array, reach: number, context: Context): Promise<Uint8Array> {
  const { label, width, height } = cut;
  const n = width * height;
  const border = borderOf(label, width, height);
  const near = grownMask(border, width, height, reach);
  const along = grownMask(border, width, height, crisp);
  const open = new Uint8Array(n);
  for (let p = 0; p < n; p++) open[p] = said[p] === 0 && (near[p] || label[p] !== 0) ? 1 : 0;
  const evidences = await colourEvidence(lab, cut, context, open);
  const against = new Uint8Array(n);
  for (let p = 0; p < n; p++) {
    if (!open[p]) continue;
    const evidence = evidences[p];
    // A gap between wires or canes may lie far from the border, but must then be plain.
    if (label[p] === 1 ? evidence < (near[p] ? -3 : -7) : evidence > 3) against[p] = 1;
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
