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

/** Longest side of the picture on which the first whole cut is made. */
const cutSide = 420;
/** Longest side at which the border is refined and opacity is solved. */
const solveSide = 900;

/**
 * Marks to opacity: rough cut, undecided band, opacity in the band. The cut is made small and refined along its
 * border; opacity is solved at about 900 px and carried up to the picture's size by local colour lines.
 *
 * Defined for everything: without inside marks (or marks at all) nothing is subject, and `note` says so.
 *
 * @throws AbortError
 */
export async function matte(shot: Picture, params: MatteParams, context: Context): Promise<MatteProduct> {
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

  const middle = reduced(shot, solveSide);
  const small = reduced(middle, cutSide);
  const middleLab = oklabPlanes(middle);
  const smallLab = { ...oklabPlanes(small), rough: roughness(middleLab, small.width, small.height) };
  const ratio = context.scale * (middle.width / shot.width);
  const same = middle.width === small.width;
  const cut = await roughCut(
    same ? [smallLab] : [smallLab, middleLab],
    same ? [ratio] : [context.scale * (small.width / shot.width), ratio],
    params.marks,
    context,
  );
  const said = rasterMarks(params.marks, middle.width, middle.height, ratio);
  const state = undecidedBand(cut, middleLab, said, Math.max(3, 14 * ratio));

  const light = evenLight(middle);
  const guess = await guessFromPairs(light, state, context);
  const solved = await solveClosedForm(light, state, guess, {}, context);
  const large =
    middle === shot
      ? solved
      : await carryUp(
          light,
          evenLight(shot),
          solved,
          state.map((s) => (s === undecided ? 1 : 0)),
          context,
        );
  const note = noteOn(state);
  return {
    matte: trimMatte(large, params.trim, context.scale),
    solved: state.reduce((n, s) => n + (s === undecided ? 1 : 0), 0) / state.length,
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

/** Light in which local colour lines are straight and noise is about even: the encoded picture. */
function evenLight(p: Picture): Picture {
  return { width: p.width, height: p.height, r: encodeQuickly(p.r), g: encodeQuickly(p.g), b: encodeQuickly(p.b) };
}
