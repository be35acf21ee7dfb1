import { bringBand } from '../align/bring';
import { takeParts, type Kernel, type Task } from '../runtime/parallelFor';
import { layTiles } from '../lens/layered';
import { placeRows } from '../lens/placing';
import { spreadBand } from '../lens/spread';
import { doubleBand, overBand } from '../lens/stack';
import { bareBand, compareBand, lightBand } from '../matte/key/comparison';
import { carryBand } from '../matte/band/carryUp';
import { correctTile } from '../matte/opacity/learned';
import { assembleBand } from '../matte/opacity/closedForm';
import { medianBand } from '../motion/clipPlate';
import { solveFrame } from '../motion/frameSolve';
import { flowPair } from '../motion/flow';
import { lookForPairs, takePairs } from '../matte/opacity/colourPairs';
import { perceiveStretch } from '../colour/perceived';
import { contourBand } from '../matte/cut/contours';
import { learnSide } from '../matte/cut/colourModel';
import { doubleNearest, halveNearest, keepWhole, relaxBand } from '../matte/foreground/edgeColour';
import { evidenceStretch } from '../matte/cut/evidence';
import { askTiles, learnTiles } from '../matte/cut/localEvidence';
import { copyBand, sourceBand } from '../plate/patchFill';
import { stretchBand } from '../plate/smooth';
import { resizeBand } from '../raster/resize';

/** All that a pool can help with. */
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
    compareBand,
    lightBand,
    bareBand,
    medianBand,
    solveFrame,
  ],
  ...[halveNearest, doubleNearest, relaxBand, keepWhole, stretchBand, sourceBand, copyBand],
  ...[placeRows, spreadBand, layTiles, doubleBand, overBand],
] as Kernel<never>[];

/** What a thread of the pool does when it is asked: its share of a kernel's parts. */
export function runTask(task: Task): Promise<void> {
  return takeParts(kernels, task);
}
