/** Measuring two sides of a composite and bringing them together: cast, tone, grain, light. */
export type { Tone } from '../match/tone';
export { measureTone } from '../match/tone';
export { measureBlur } from '../match/blurMeasure';
export type { Grain } from '../match/grain';
export { addGrain, measureGrain } from '../match/grain';
export type { Gap, Side } from '../match/sides';
export { gapsOf, isWide } from '../match/sides';
export { restrained, solveGrade } from '../match/solve';
export type { Grade } from '../grade/grade';
export { graded, defaultGrade } from '../grade/grade';
export { over } from '../placement/blend';
