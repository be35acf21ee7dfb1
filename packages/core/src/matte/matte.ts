import { oklabPlanes } from '../colour/oklab';
import { encodeQuickly } from '../colour/srgb';
import type { Context } from '../context/context';
import { makePlane, type Picture, type Plane } from '../raster/plane';
import { resizePicture, scaledSize } from '../raster/resize';
import { carryUp } from './carryUp';
import { solveClosedForm } from './closedForm';
import { guessFromPairs } from './colourPairs';
import { rasterMarks, type Mark } from './marks';
import { roughCut } from './roughCut';
import type { Features } from './colourModel';
import { roughness } from './roughness';
import { trimMatte, type Trim } from './trim';
import { surelyIn, surelyOut, undecided, undecidedBand } from './undecided';

/** What the matte is made from besides the shot. */
export interface MatteParams {
  /** Strokes in pixels of the full-size shot, oldest first. */
  marks: readonly Mark[];
  /** Corrections of the edge. */
  trim: Trim;
}

/** A matte and how it came about. */
export interface MatteProduct {
  /** Opacity of the subject, 0 to 1. */
  matte: Plane;
  /** Share of the picture whose opacity was solved rather than taken as known, 0 to 1. */
  solved: number;
  /** Why the matte is not what was asked for, as one sentence, or nothing. */
  note?: string;
}

/** Longest side of the picture on which the first whole cut is made, and of that for a draft. */
const cutSide = 420;
const draftCutSide = 240;
/** Longest side at which the border is refined and opacity is solved. */
const solveSide = 900;

/** What the solver needs of a shot, whatever is marked on it. */
export interface MatteGround {
  shot: Picture;
  /** The shot at the size at which opacity is solved, encoded: light in which colour lines are straight and noise is even. */
  light: Picture;
  /** The shot at the size of the first cut, and at the size of the refined one when that is another. */
  levels: Features[];
  /** Pixels of each level per pixel of the shot. */
  ratios: number[];
}

/** Prepares a shot for any number of marks. */
export function matteGround(shot: Picture): MatteGround {
  const middle = reduced(shot, solveSide);
  const longest = Math.max(middle.width, middle.height);
  const small = reduced(middle, Math.max(draftCutSide, Math.min(cutSide, longest / 2)));
  const middleLab = oklabPlanes(middle);
  const smallLab = { ...oklabPlanes(small), rough: roughness(middleLab, small.width, small.height) };
  const { width, height } = middle;
  const light = { width, height, r: encodeQuickly(middle.r), g: encodeQuickly(middle.g), b: encodeQuickly(middle.b) };
  const same = middle.width === small.width;
  return {
    shot,
    light,
    levels: same ? [smallLab] : [smallLab, middleLab],
    ratios: (same ? [middle] : [small, middle]).map((p) => p.width / shot.width),
  };
}

/** Marks to opacity on a shot: see `matteOn`. */
export function matte(shot: Picture, params: MatteParams, context: Context): Promise<MatteProduct> {
  return matteOn(matteGround(shot), params, context);
}

/**
 * Marks to opacity: rough cut, undecided band, opacity in the band. The cut is made small and refined along its
 * border; opacity is solved at about 900 px and carried up to the picture's size by local colour lines.
 *
 * Defined for everything: without inside marks (or marks at all) nothing is subject, and `note` says so.
 *
 * @throws AbortError
 */
export async function matteOn(ground: MatteGround, params: MatteParams, context: Context): Promise<MatteProduct> {
  const { shot, light, levels } = ground;
  const { width, height } = shot;
  const kinds = new Set(params.marks.map((m) => m.kind));
  if (shot.a && kinds.size === 0 && shot.a.some((v) => v < 1)) {
    const own: Plane = { width, height, data: shot.a };
    return {
      matte: trimMatte(own, params.trim, context.scale),
      solved: 0,
      note: 'The picture’s own opacity is the matte; marks would replace it.',
    };
  }
  if (!kinds.has('inside')) {
    const note =
      kinds.size === 0 ? 'Nothing is marked yet: draw an inside mark on the subject.' : 'No inside mark yet: draw one on the subject.';
    return { matte: makePlane(width, height), solved: 0, note };
  }

  const scales = ground.ratios.map((r) => r * context.scale);
  const ratio = scales[scales.length - 1];
  const cut = await roughCut(levels, scales, params.marks, context);
  const said = rasterMarks(params.marks, light.width, light.height, ratio);
  const state = undecidedBand(cut, levels[levels.length - 1], said, Math.max(3, 14 * ratio));

  const guess = await guessFromPairs(light, state, context);
  const solved = await solveClosedForm(light, state, guess, {}, context);
  const open = new Uint8Array(state.length);
  let count = 0;
  for (let p = 0; p < state.length; p++) if (state[p] === undecided) count += open[p] = 1;
  const large = light.width === width && light.height === height ? solved : await carryUp(light, shot, solved, open, context);
  const note = noteOn(state);
  return {
    matte: trimMatte(large, params.trim, context.scale),
    solved: count / state.length,
    ...(note && { note }),
  };
}

function noteOn(state: Uint8Array): string | undefined {
  if (state.every((s) => s === surelyIn)) return 'The whole picture is marked inside: nothing is left to be background.';
  if (!state.some((s) => s === surelyOut)) return 'Nothing is surely background: draw an outside mark.';
  return undefined;
}

/** The picture with its longest side at most so long. */
function reduced(p: Picture, longest: number): Picture {
  const ratio = longest / Math.max(p.width, p.height);
  if (ratio >= 1) return p;
  const { width, height } = scaledSize(p.width, p.height, ratio);
  return resizePicture({ ...p, a: undefined }, width, height);
}
