import { alignPicture } from '../align/align';
import type { Triple } from '../colour/oklab';
import { encodedLight, perceived } from '../colour/perceived';
import { linearOfHex } from '../colour/srgb';
import { bytesFrom } from '../runtime/arena';
import { pause, type Context } from '../runtime/context';
import { makePlane, pictureOf, planesOf, seenPicture, withOpacity, type Picture, type Plane } from '../raster/plane';
import { resizePicture, resizePlane, resizeTogether, scaledSize } from '../raster/resize';
import { busyness } from './cut/busyness';
import { carryUp, type Carried } from './band/carryUp';
import { solveClosedForm, type ClosedFormOptions, type Solved } from './opacity/closedForm';
import { seenFeatures, type Features } from './cut/colourModel';
import { guessFromPairs, type Guess, type PairGuess } from './opacity/colourPairs';
import { combineMattes, type Combining } from './edit/combine';
import { compareWithPlate, type DifferenceParams } from './key/difference';
import { finishMatte, type Finish } from './edit/finish';
import { learnedOpacity, type Learned } from './opacity/learned';
import { closesSubject, markedEdge, markedInside, markedOutside, rasterMarks, type Mark } from './cut/marks';
import { cutMemory, enlarge, roughCut, type CutMemory } from './cut/roughCut';
import { withThinParts } from './cut/thinParts';
import { screenKey, type ScreenParams } from './key/screen';
import { findScreen } from './key/screenColour';
import { surelyIn, surelyOut, undecided, trimapOf } from './band/trimap';
import { maskAt, maskOfCode, nearestPlaces, placesOf } from '../raster/mask';
import { usualScale } from '../raster/usual';

/** What the subject is told from its background by. */
export type Cut = 'marks' | 'screen' | 'difference';

/** What the matte is made from besides the pictures. */
export interface MatteParams extends Finish {
  /** Default marks. With a screen or a difference, inside and outside marks hold in and hold out. */
  cut?: Cut;
  /** Strokes in pixels of the full-size shot, oldest first. */
  marks: readonly Mark[];
  screen?: ScreenChoice;
  difference?: DifferenceParams;
}

/** A screen's colour, found or picked, and how opacity is made from it. */
export interface ScreenChoice extends ScreenParams {
  /** `auto`, or #rrggbb. */
  colour: string;
  /** Share of the screen's light on the subject that is taken off, 0 to 1. */
  spill: number;
}

/** The screen as it is keyed unless asked otherwise. */
export const defaultScreen: ScreenChoice = { colour: 'auto', clear: 0.02, opaque: 0.02, spill: 1 };
/** What differs by four times the noise is subject. */
export const defaultDifference: DifferenceParams = { threshold: 4 };

/** Pictures and mattes that some ways of cutting need. */
export interface MatteInputs {
  ground: MatteGround;
  /** A photograph of the scene without the subject. */
  plate?: Picture;
  /** Mattes to be put together with the one made, in order. */
  kept?: readonly { matte: Plane; how: Combining }[];
}

/** A matte and how it came about. */
export interface MatteProduct {
  /** Opacity of the subject, 0 to 1. */
  matte: Plane;
  /** Share of the picture whose opacity was solved rather than taken as known, 0 to 1. */
  solved: number;
  /** 1 where opacity was solved, else 0; maybe of a smaller size than the matte. Left out where nothing was. */
  band?: { width: number; height: number; data: Uint8Array };
  /** What is known to have been behind the subject: the screen or the aligned plate, linear. */
  behind?: Picture;
  /** The screen's colour, linear. */
  screen?: Triple;
  /** How well a photographed plate fits, 0 to 1. */
  fits?: number;
  /** Why the matte is not what was asked for, as one sentence, or nothing. */
  note?: string;
}

/** Longest side of the picture on which the first whole cut is made, and of that for a draft. */
const cutSide = 420;
const draftCutSide = 240;
/** How much busyness counts beside colour. */
const busyWeight = 5;
/** Longest side at which the border is refined and opacity is solved, and of that at which it is corrected. */
const solveSide = 900;
const fineSide = 2 * solveSide;

/** What the solver needs of a shot, whatever is marked on it. */
export interface MatteGround extends OpacityGround {
  cuts: CutMemory;
}

/** What opacity is solved on. */
export interface OpacityGround {
  shot: Picture;
  /** The shot at the size at which opacity is solved, encoded: light in which colour lines are straight and noise is even. */
  light: Picture;
  /** The same at the size of the first cut, where opacity is solved first; and both in linear light. */
  smallLight: Picture;
  middle: Picture;
  /** The shot, or if it is larger than opacity is corrected at, a reduced one, and that encoded. */
  fine: Picture;
  fineLight?: Picture;
  /** The shot at the size of the first cut, and at the size of the refined one when that is another. */
  levels: Features[];
  /** Full trust, of the size at which opacity is solved. */
  sure: Plane;
  /** Pixels of each level per pixel of the shot. */
  ratios: number[];
  /** What the last marks gave: with others only what can differ is worked out, and comes out the same. */
  last: LastOpacity;
}

/** Each step from states to opacity, as it was done last. */
interface LastOpacity {
  pairs?: PairGuess;
  small?: Solved;
  first?: Carried;
  solved?: Solved;
  carried?: Carried;
  learned?: Learned;
  large?: Carried;
}

/** Prepares a shot for any number of marks. @throws AbortError */
export async function matteGround(shot: Picture, context: Context): Promise<MatteGround> {
  const ground = await opacityGround(shot, context);
  const cuts = await cutMemory(ground.levels, context);
  await pause(context, 'Reducing the shot', 1);
  return { ...ground, cuts };
}

/** Prepares a shot whose cut is known. @throws AbortError */
export async function opacityGround(shot: Picture, context: Context): Promise<OpacityGround> {
  shot = await seenPicture(shot, context);
  const fine = await reduced(shot, fineSide, context);
  const middle = await reduced(fine, solveSide, context);
  const longest = Math.max(middle.width, middle.height);
  const small = await reduced(middle, Math.max(draftCutSide, Math.min(cutSide, longest / 2)), context);
  const { lab: middleLab, light } = await perceived(middle, context);
  const { lab, light: smallLight } = await perceived(small, context);
  const smallLab = seenFeatures({ ...lab, busy: busyness(middleLab, small.width, small.height).map((v) => busyWeight * v) }, context);
  const same = middle.width === small.width;
  const levels = same ? [smallLab] : [smallLab, middleLab];
  await pause(context, 'Reducing the shot', 1);
  return {
    ...{ shot, fine, middle, light, smallLight, levels, sure: makePlane(middle.width, middle.height, 1) },
    ...(fine !== shot && { fineLight: await encodedLight(fine, context) }),
    ratios: (same ? [middle] : [small, middle]).map((p) => p.width / shot.width),
    last: {},
  };
}

/** Marks to opacity on a shot: see `matteOn`. */
export async function matte(shot: Picture, params: MatteParams, context: Context): Promise<MatteProduct> {
  return matteOn({ ground: await matteGround(shot, context) }, params, context);
}

/**
 * Opacity by marks, by a screen or by a difference, then what is done to it by shape, number and hand.
 *
 * Defined for everything: when something is missing nothing is subject, and `note` says what.
 *
 * @throws AbortError
 */
export async function matteOn(inputs: MatteInputs, params: MatteParams, context: Context): Promise<MatteProduct> {
  return finishedCut(await cutOut(inputs, params, context), params, inputs.kept ?? [], context);
}

/** Opacity as it is found, before anything is done to it. @throws AbortError */
export function cutOut(inputs: MatteInputs, params: MatteParams, context: Context): Promise<MatteProduct> {
  const ways: Record<Cut, () => Promise<MatteProduct>> = {
    marks: () => byMarks(inputs.ground, params.marks, context),
    screen: () => byScreen(inputs.ground.shot, params, context),
    difference: () => byDifference(inputs, params, context),
  };
  return ways[params.cut ?? 'marks']();
}

/** A cut with its garbage shapes, trim, strokes by hand, and the kept mattes put together with it. */
export function finishedCut(cut: MatteProduct, finish: Finish, kept: NonNullable<MatteInputs['kept']>, context: Context): MatteProduct {
  const finished = finishMatte(cut.matte, finish, context.scale);
  return { ...cut, matte: kept.reduce((m, k) => combineMattes(m, k.matte, k.how), finished) };
}

/**
 * Rough cut, undecided band, opacity in the band. The cut is made small and refined along its border; opacity is solved
 * at about 900 px and carried up to the picture's size by local colour lines.
 */
async function byMarks(ground: MatteGround, marks: readonly Mark[], context: Context): Promise<MatteProduct> {
  const { shot, levels, cuts } = ground;
  const { width, height } = shot;
  const kinds = new Set(marks.map((m) => m.kind));
  if (shot.a && kinds.size === 0 && shot.a.some((v) => v < 1)) {
    return {
      matte: { width, height, data: shot.a },
      solved: 0,
      note: 'The picture’s own opacity is the matte; marks would replace it.',
    };
  }
  if (!marks.some(closesSubject)) {
    return nothing(
      shot,
      kinds.size === 0 ? 'Nothing is marked yet: draw an inside mark on the subject.' : 'No inside mark yet: draw one on the subject.',
    );
  }
  const scales = ground.ratios.map((r) => r * context.scale);
  const lab = levels[levels.length - 1];
  const cut = await withThinParts(await roughCut(levels, scales, marks, context, cuts), lab, context);
  const trimap = await trimapOf(cut, lab, fringeReach(lab, scales[scales.length - 1]), context);
  const guess = await guessBySmall(ground, trimap, context);
  const product = await opacityIn(ground, trimap, guess, { rounds: ground.levels.length > 1 ? 8 : 20 }, context);
  const note = noteOn(trimap);
  return { ...product, ...(note && { note }) };
}

/** How far from the cut fringes are looked for, px of the level that is refined. @param scale its pixels per pixel of the full-size shot */
export function fringeReach(level: { width: number; height: number }, scale: number): number {
  return Math.max(3, 21 * usualScale(level, scale));
}

/**
 * A first opacity from the small picture: sampled colour pairs and the same system on a quarter of the pixels, carried
 * up. Far cheaper than to begin from pairs at the larger size, and long ways across the band are bridged.
 */
export async function guessBySmall(ground: OpacityGround, trimap: Uint8Array, context: Context): Promise<Guess> {
  const { light, smallLight, middle, last } = ground;
  if (light.width === smallLight.width) return (last.pairs = await guessFromPairs(light, trimap, context, last.pairs));
  const small = smallState(trimap, light, smallLight);
  const guess = (last.pairs = await guessFromPairs(smallLight, small, context, last.pairs));
  const matte = inSteps(await solveClosedForm(smallLight, small, guess, { rounds: 20 }, context, last.small));
  last.small = { trimap: small, guess, matte };
  const solved = maskOfCode(small, undecided);
  const opacity = await carryUp(smallLight, middle, matte, solved, context, last.first);
  last.first = { small: matte, solved, large: opacity };
  return { opacity, trust: ground.sure };
}

/** Opacity in so few steps that what hardly differs does not differ: it is only a guess. */
function inSteps({ width, height, data }: Plane): Plane {
  const out = new Float32Array(data.length);
  for (let p = 0; p < out.length; p++) out[p] = Math.round(256 * data[p]) / 256;
  return { width, height, data: out };
}

/** The states of a smaller picture: undecided wherever anything under a pixel is, or both sides are. */
function smallState(trimap: Uint8Array, large: { width: number; height: number }, small: { width: number; height: number }): Uint8Array {
  return bytesFrom(small.width * small.height, (arena, out) => {
    const places = arena.copiesIn(nearestPlaces(large.width, small.width), nearestPlaces(large.height, small.height));
    arena.run.smallTrimap(arena.copyIn(trimap), large.width, large.height, ...places, small.width, small.height, out);
  });
}

/** Opacity of the undecided pixels, at the picture's size: solved, carried up, and corrected by what has been learned of strands. */
export async function opacityIn(
  { light, fine, fineLight, shot, last }: OpacityGround,
  trimap: Uint8Array,
  guess: Guess,
  options: ClosedFormOptions,
  context: Context,
): Promise<MatteProduct> {
  const { width, height } = light;
  const matte = await solveClosedForm(light, trimap, guess, options, context, last.solved);
  last.solved = { trimap, guess, matte };
  const open = maskOfCode(trimap, undecided);
  let opacity = matte;
  if (fine.width !== width || fine.height !== height) {
    opacity = await carryUp(light, fine, matte, open, context, last.carried);
    last.carried = { small: matte, solved: open, large: opacity };
  }
  const learned = await learnedOpacity(fine, opacity, { matte, trimap }, context, last.learned);
  last.learned = learned;
  opacity = learned.opacity;
  if (fineLight) {
    const small = opacity;
    const solved = maskAt(learned.open, width, height, fine.width, fine.height);
    opacity = await carryUp(fineLight, shot, small, solved, context, last.large);
    last.large = { small, solved, large: opacity };
  }
  return { matte: opacity, solved: placesOf(open).length / open.length, band: { width, height, data: open } };
}

async function byScreen(shot: Picture, params: MatteParams, context: Context): Promise<MatteProduct> {
  const choice = params.screen ?? defaultScreen;
  const colour = choice.colour === 'auto' ? findScreen(shot)?.colour : linearOfHex(choice.colour);
  if (!colour) return nothing(shot, 'No coloured screen was found: pick its colour in the picture.');
  if (Math.max(...colour) - [...colour].sort((a, b) => a - b)[1] < 0.01) {
    return nothing(shot, 'That colour is too grey to be told from a subject: pick the screen where it is brightest.');
  }
  const { matte: keyed, field } = await screenKey(shot, colour, choice, context);
  const seeds = rasterMarks(params.marks, shot.width, shot.height, context.scale);
  let soft = 0;
  for (let p = 0; p < seeds.length; p++) {
    if (seeds[p] === markedInside) keyed.data[p] = 1;
    else if (seeds[p] === markedOutside) keyed.data[p] = 0;
    if (keyed.data[p] > 0.02 && keyed.data[p] < 0.98) soft++;
  }
  return { matte: keyed, solved: soft / seeds.length, behind: field, screen: colour };
}

async function byDifference(inputs: MatteInputs, params: MatteParams, context: Context): Promise<MatteProduct> {
  const { ground, plate } = inputs;
  const { shot, light } = ground;
  if (!plate) return nothing(shot, 'A photographed plate is missing: bring in a picture of the scene without the subject.');
  const aligned = await alignPicture(plate, shot, context);
  const small = resizePicture(aligned.picture, light.width, light.height);
  const seen = resizePlane(aligned.seen, light.width, light.height);
  const seeds = rasterMarks(params.marks, light.width, light.height, ground.ratios[ground.ratios.length - 1] * context.scale);
  const cut = (evidence: Float32Array): Promise<Uint8Array> => cutByEvidence(ground, evidence, params.marks, context);
  const { trimap, guess } = await compareWithPlate(light, small, seen, params.difference ?? defaultDifference, context, cut);
  const states: Record<number, number> = { [markedInside]: surelyIn, [markedOutside]: surelyOut, [markedEdge]: undecided };
  for (let p = 0; p < trimap.length; p++) trimap[p] = states[seeds[p]] ?? trimap[p];
  const product = await opacityIn({ ...ground, last: {} }, trimap, guess, { dataWeight: 1 }, context);
  const note =
    aligned.fits < 0.3
      ? 'The plate hardly fits the shot: it should show the same scene from the same place.'
      : product.matte.data.every((v) => v < 0.5)
        ? 'Nothing in the shot differs from the plate.'
        : undefined;
  return { ...product, behind: aligned.picture, fits: aligned.fits, ...(note && { note }) };
}

/** The whole cut of a shot under some evidence, with marks hard; both of the size at which opacity is solved. */
async function cutByEvidence(
  { levels, cuts, light, ratios }: MatteGround,
  evidence: Float32Array,
  marks: readonly Mark[],
  context: Context,
): Promise<Uint8Array> {
  const [{ width, height }] = levels;
  const seeds = rasterMarks(marks, width, height, ratios[0] * context.scale);
  const place = resizePlane({ width: light.width, height: light.height, data: evidence }, width, height).data;
  const label = await cuts.whole.cut(seeds, new Float32Array(place.length), place, context);
  return enlarge({ label, width, height }, light.width, light.height);
}

/** No subject, and why. */
function nothing(shot: Picture, note: string): MatteProduct {
  return { matte: makePlane(shot.width, shot.height), solved: 0, note };
}

function noteOn(trimap: Uint8Array): string | undefined {
  if (trimap.every((s) => s === surelyIn)) return 'The whole picture is marked inside: nothing is left to be background.';
  if (!trimap.some((s) => s === surelyOut)) return 'Nothing is surely background: draw an outside mark.';
  return undefined;
}

/** The picture with its longest side at most so long. */
async function reduced(p: Picture, longest: number, context: Context): Promise<Picture> {
  const ratio = longest / Math.max(p.width, p.height);
  if (ratio >= 1) return p;
  const { width, height } = scaledSize(p.width, p.height, ratio);
  return pictureOf(await resizeTogether(planesOf(withOpacity(p)), width, height, context, 'Reducing the shot'));
}
