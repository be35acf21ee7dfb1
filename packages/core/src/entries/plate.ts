/** Making the ground behind a subject whole again. */
export type { Fill } from '../plate/fills';
export type { FilledHole, HoleParams, PlateInputs, PlateParams, PlateProduct } from '../plate/plate';
export { filledHole, finishedPlate, defaultPlate, plate } from '../plate/plate';
export type { Residue } from '../plate/residue';
export { residueOf } from '../plate/residue';
export { holeOf, suggestGrow } from '../plate/hole';
