export * from './minimumCut';
export { askTiles, cluster, evidence, tilesOf } from './evidence';
export { carryKinds, carryRow, colourLines, smoothLines } from './carry';
export { lookForPairs, pairsOn, takePairs } from './pairs';
export { addWindows, round, roundsBegin } from './closedForm';
export { bandAgainst, bandAsks, bandTrimap, between, growMask, runsOf, widenMask } from './masks';
export { blurRows } from './blur';
export { followWays } from './geodesic';
export { borderOf, joinAll, joinNarrowBand, pairwiseOn, markLabel, numberPixels, unaryAnew, takeSides } from './narrowBand';
export { addDown, takeAcross } from './resize';
export { encode, perceive, sumSlopes } from './perceive';
export {
  addTo,
  agreedPlaces,
  differing,
  enlargeLabel,
  keepWhere,
  maskOfCode,
  openUnknowns,
  placesOf,
  sampleOf,
  settleUnknowns,
  smallTrimap,
  sourcesOf,
} from './states';
export { groundEvidence, lightOnGround, plainOf, shadeOf, squaredAway, unexplained } from './compare';
export { bringRows } from './bring';
export { flanked, onPaths } from './flanked';
export { shed } from './shed';
export { distanceTo } from './distance';
export { correct, learnedBy, learnedOn } from './learned';
export { halfDiscs, thinContours } from './contour';
export { bringAlong, flowBegin, flowOn, flowSearch, flowSpread, patchesAlong } from './flow';
export { boxMean, pullDown, pullWeight, pushUp } from './spread';
export { linesBegin, linesGrow } from './lines';
export { betterRow, costPatches, patchesOn, votes } from './patches';
export { alignOn, alignResiduals, alignSums } from './align';
