/** Blur as a lens makes it: circles of confusion by distance, aperture shapes, lamps above display white. */
export type { Aperture } from '../lens/aperture';
export { roundAperture } from '../lens/aperture';
export type { Lens, Optics } from '../lens/thinLens';
export { blurDiscAt, fNumberFor, opticsOf, sharpZone, signedDisc } from '../lens/thinLens';
export type { Distances } from '../lens/distances';
export { distanceField, flatDistances } from '../lens/distances';
export type { FoundLamps, Lamp, LampParams, SeenLamp } from '../lens/lamps';
export { findLamps, defaultLamps, lampsFor, seenLamps } from '../lens/lamps';
export { blurredBy, defocus, discBlur } from '../lens/defocus';
