export * from './minimumCut';
export { evidence } from './evidence';
export { carryKinds, carryRow, colourLines, smoothLines } from './carry';
export { lookForPairs, pairsOn, takePairs } from './pairs';
export { addWindows, round, roundsBegin } from './closedForm';
export { growMask, widenMask } from './masks';
export { followWays } from './geodesic';
export { borderOf, joinAll, joinRibbon, jointsOn, numberPixels, pullAnew } from './ribbon';
