/** What the other packages of this repository use of the core. What others may rely on are its entries (`entries/`). */
export { defaultContext, isAbort, type Context } from './runtime/context';
export { sharedFloats, type Task, type WorkerPool } from './runtime/parallelFor';
export { makePicture, makePlane, meanColour, meanOf, pictureOf, planesOf, withOpacity, type Picture, type Plane } from './raster/plane';
export { halve, resizeHoled, resizePicture, resizePlane, resizeTogether, scaledSize } from './raster/resize';
export { gaussian } from './raster/filter';
export { sampleAt } from './raster/sample';
export { grownMask } from './raster/morphology';
export { distanceTo } from './raster/distance';
export { components } from './raster/components';
export { seeded, type Random } from './raster/random';
export { pushPull } from './raster/pushPull';
export { fillPolygon } from './raster/fillPolygon';
export { maskAt, maskOf, weightOf } from './raster/mask';
export { widened } from './raster/widened';
export { alignPicture } from './align/align';
export { displayP3FromSrgb, leavesSrgb, lightInDisplayP3, type CodeSpace } from './colour/displayP3';
export {
  decodeSrgb,
  decodedQuickly,
  encodeSrgb,
  encodedFinely,
  encodedQuickly,
  fromSamples,
  greyRgba8,
  hexOf,
  linearOfHex,
  matteSamples16,
  toRgba8,
  toSamples16,
  type Samples,
} from './colour/srgb';
export { premultipliedOver, straightened } from './colour/premultiplied';
export { pictureAtScale } from './colour/atScale';
export { oklabOf } from './colour/oklab';
export { cielabOf, deltaE2000, lightnessOf, luminance } from './colour/cielab';
export { brightnessOf, encodedLight } from './colour/perceived';
export { chromaticityOf, locus } from './colour/whitepoint';
export { closesSubject, rasterMarks, type Mark, type MarkKind } from './matte/cut/marks';
export { borderOf, enlarge, roughCut } from './matte/cut/roughCut';
export { solveClosedForm } from './matte/opacity/closedForm';
export { layerSteps, learnedOpacity, learnedWeights, leastLacking, shareAdded } from './matte/opacity/learned';
export {
  defaultDifference,
  defaultScreen,
  matte,
  matteGround,
  matteOn,
  type Cut,
  type MatteGround,
  type MatteParams,
  type MatteProduct,
} from './matte/matte';
export { edgeColour } from './matte/foreground/edgeColour';
export { cornersOf, type Shape } from './matte/edit/shapes';
export type { HandStroke, HandTip } from './matte/edit/hand';
export type { Combining } from './matte/edit/combine';
export { findScreen } from './matte/key/screenColour';
export { unmix } from './matte/foreground/unmix';
export { compareWithPlate } from './matte/key/difference';
export { findSubject, pointedSubject } from './matte/cut/findSubject';
export { loopedThing, pointedThing } from './matte/cut/thing';
export { contoursOf, type Contours } from './matte/cut/contours';
export { gapsLike } from './matte/cut/gaps';
export { pathTo, snapped, waysAlong, type Ways } from './matte/cut/snap';
export { noTrim, type Trim } from './matte/edit/trim';
export { surelyIn, surelyOut, undecided } from './matte/band/trimap';
export { holeOf } from './plate/hole';
export { smoothFill } from './plate/smooth';
export { defaultPlate, plate, type PlateParams, type PlateProduct } from './plate/plate';
export { blurDiscAt, fNumberFor, opticsOf, sharpZone, signedDisc, type Optics } from './lens/thinLens';
export { apertureOutline, roundAperture, type Aperture } from './lens/aperture';
export { distanceField, flatDistances, groundDistance, groundUnder, isFlat, type Distances } from './lens/distances';
export { defaultLamps, findLamps, lampsFor, seenLamps, sizeClasses, type LampParams } from './lens/lamps';
export { defaultArea } from './lens/strewn';
export { blurredBy, defocus, discBlur } from './lens/defocus';
export { measureTone, sampleColours, toneOf, type Tone } from './match/tone';
export { surrounded } from './match/wrap';
export { gapsOf, isWide, type Gap, type GapName, type Side } from './match/sides';
export { restrained, solveGrade, toneProperties, type Strengths, type ToneProperty } from './match/solve';
export { addGrain, measureGrain } from './match/grain';
export { dithered, findBanding } from './match/banding';
export { angleBetween, lightOnOutline } from './match/lightDirection';
export { daylight } from './grade/cast';
export { curveThrough, isStraight } from './grade/curves';
export { defaultGrade, graded, grader, isPlainGrade, luminanceOf, type Grade } from './grade/grade';
export { defaultDetail } from './grade/detail';
export { everywhere } from './grade/limit';
export type { Wash } from './grade/vignette';
export { scopeColumns, scopeLevels, scopeSide, scopesOf, type Scope } from './grade/scopes';
export { blurToAdd, measureBlur, type MeasuredBlur } from './match/blurMeasure';
export { blendModes, over, type BlendMode } from './placement/blend';
export { centred, coverUnit, place, placedPoint, unplacedPoint, wayTo, type Way } from './placement/place';
export type { Outlines } from './placement/drawn';
export { defaultCard } from './recipe/defaults';
export { defaultAdjustments, defaultFinish, defaultMatch } from './recipe/grades';
export { bandOutside, halo, matteErrors, meanDeltaE, psnr, ssim } from './proof/compare';
export { matteFigures, type MatteFigures } from './proof/matteFigures';
export { edgeWalk, type EdgePlace } from './proof/edgeWalk';
export {
  checkHalo,
  checkKinds,
  checkResidueInEdge,
  checkSpecks,
  checkTorn,
  cureOf,
  isAccepted,
  judged,
  unitOf,
  type Check,
  type CheckPlace,
  type Cure,
  type Verdict,
} from './proof/checks/index';
export {
  markSchema,
  newClipRecipe,
  newRecipe,
  picturesOf,
  readRecipe,
  shapeSchema,
  withPictures,
  type Card,
  type Recipe,
  type SubjectRecipe,
} from './recipe/recipe';
export type { ClipRecipe, Keyed } from './recipe/time';
export { asShown, boundsOf, held, parameters, type Parameter, type ParameterKey } from './recipe/parameters';
export {
  canBeKeyed,
  changedAt,
  clipFrame,
  jobFrame,
  keyedAt,
  keyedValue,
  momentOf,
  newClip,
  valueAt,
  videoFrame,
  withPoint,
} from './recipe/moment';
export { forShot } from './recipe/series';
export { cameraRests, throughCamera } from './placement/camera';
export { renderFrame } from './render/overTime';
export { sheetInputs } from './render/sheetOf';
export { counted, inOrderOfConcern, sheetHtml, sheetSize, sheetSvg, type SheetInputs, type Writing } from './proof/sheet';
export { runTask } from './render/kernels';
export { ProductMemory, keyOf } from './render/memory';
export type { PictureSource, Products, Want } from './render/products';
export { render } from './render/render';
export type { BenchLamps } from './render/bench';
export type { Matching } from './render/matching';
export { patchFill } from './plate/patchFill';
export { rasterRegions, type Region } from './raster/strokeCover';
export { leftOutside, residueOf, type Left } from './plate/residue';
export type { ResidueKind } from './plate/residueKinds';
export type { RetouchStroke, RetouchTip } from './plate/retouch';
export { stretchFill, type Fill } from './plate/fills';
export type { Repeat } from './plate/repeats';
export type { ShowingPlace } from './plate/showing';
export { broughtBy, opticalFlow, type Flow } from './motion/flow';
export type { Frames } from './motion/frames';
export { groundBehindMattes, groundInFrame } from './motion/clipPlate';
export { followClip, frameMatte } from './motion/clipMatte';
export { dtSsd, messdDt } from './motion/coherence';
export type { FrameMark } from './motion/sweep';
