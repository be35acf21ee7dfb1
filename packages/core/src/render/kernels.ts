import { takeParts, type Kernel, type Shift } from '../context/together';
import { layTiles } from '../lens/layered';
import { placeRows } from '../lens/placing';
import { spreadBand } from '../lens/spread';
import { doubleBand, overBand } from '../lens/stack';

/** All that a crew can help with. */
export const kernels = [placeRows, spreadBand, layTiles, doubleBand, overBand] as Kernel<never>[];

/** What a thread of the crew does when it is asked: its share of a kernel's parts. */
export function join(shift: Shift): void {
  takeParts(kernels, shift);
}
