/** Checks of a finished composite: figures with tolerances, verdicts, places and cures. */
export type { Check, CheckId, CheckPlace, Verdict } from '../proof/checks/check';
export { checkKinds, isAccepted } from '../proof/checks/check';
export { counted, figureOf, inOrderOfConcern } from '../proof/sheet';
export { cureOf } from '../proof/checks/cures';
export { halo, matteErrors, meanDeltaE, psnr, ssim } from '../proof/compare';
