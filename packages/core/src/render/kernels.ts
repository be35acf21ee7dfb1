import { bringBand } from '../align/align';
import { takeParts, type Kernel, type Shift } from '../context/together';
import { layTiles } from '../lens/layered';
import { placeRows } from '../lens/placing';
import { spreadBand } from '../lens/spread';
import { doubleBand, overBand } from '../lens/stack';
import { carryBand } from '../matte/carryUp';
import { correctTile } from '../matte/learned';
import { assembleBand } from '../matte/closedForm';
import { flowPair } from '../motion/flow';
import { lookForPairs, takePairs } from '../matte/colourPairs';
import { perceiveStretch } from '../colour/perceived';
import { contourBand } from '../matte/contours';
import { learnSide } from '../matte/colourModel';
import { doubleNearest, halveNearest, keepWhole, relaxBand } from '../matte/edgeColour';
import { evidenceStretch } from '../matte/evidence';
import { askTiles, learnTiles } from '../matte/localEvidence';
import { copyBand, sourceBand } from '../plate/patchFill';
import { stretchBand } from '../plate/smooth';
import { resizeBand } from '../raster/resize';

/** All that a crew can help with. */
export const kernels = [
  ...[
    bringBand,
    resizeBand,
    perceiveStretch,
    contourBand,
    learnSide,
    evidenceStretch,
    learnTiles,
    askTiles,
    lookForPairs,
    takePairs,
    assembleBand,
    carryBand,
    correctTile,
    flowPair,
  ],
  ...[halveNearest, doubleNearest, relaxBand, keepWhole, stretchBand, sourceBand, copyBand],
  ...[placeRows, spreadBand, layTiles, doubleBand, overBand],
] as Kernel<never>[];

/** What a thread of the crew does when it is asked: its share of a kernel's parts. */
export function join(shift: Shift): void {
  takeParts(kernels, shift);
}
