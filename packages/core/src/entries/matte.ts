/** Cutting a subject out: opacity from marks, a screen or an empty picture, and the subject's own colour in half-covered pixels. */
export type { Context } from '../runtime/context';
export type { WorkerPool } from '../runtime/parallelFor';
export { defaultContext } from '../runtime/context';
export type { Picture, Plane } from '../raster/plane';
export { makePicture, makePlane } from '../raster/plane';
export { fromSamples, toRgba8 } from '../colour/srgb';
export type { Mark, MarkKind } from '../matte/cut/marks';
export type { Cut, MatteGround, MatteInputs, MatteParams, MatteProduct } from '../matte/matte';
export { matte, matteGround, matteOn, defaultDifference, defaultScreen } from '../matte/matte';
export type { Trim } from '../matte/edit/trim';
export { noTrim } from '../matte/edit/trim';
export { unmix } from '../matte/foreground/unmix';
export { findSubject, pointedSubject } from '../matte/cut/findSubject';
export { loopedThing, pointedThing } from '../matte/cut/thing';
export { gapsLike } from '../matte/cut/gaps';
export { matteFigures } from '../proof/matteFigures';
