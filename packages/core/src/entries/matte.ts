/** Cutting a subject out: opacity from marks, a screen or an empty picture, and the subject's own colour in half-covered pixels. */
export type { Context } from '../context/context';
export type { Crew } from '../context/together';
export { plainContext } from '../context/context';
export type { Picture, Plane } from '../raster/plane';
export { makePicture, makePlane } from '../raster/plane';
export { fromSamples, toRgba8 } from '../colour/srgb';
export type { Mark, MarkKind } from '../matte/marks';
export type { Cut, MatteGround, MatteInputs, MatteParams, MatteProduct } from '../matte/matte';
export { matte, matteGround, matteOn, plainDifference, plainScreen } from '../matte/matte';
export type { Trim } from '../matte/trim';
export { noTrim } from '../matte/trim';
export { unmix } from '../matte/unmix';
export { findSubject, pointedSubject } from '../matte/findSubject';
export { loopedThing, pointedThing } from '../matte/thing';
export { gapsLike } from '../matte/gaps';
export { matteFigures } from '../proof/matteFigures';
