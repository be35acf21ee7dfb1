import type { Box } from '../../raster/plane';

/** What is looked at before a picture is let go. */
export const checkIds = [
  'edge-residue',
  'edge-halo',
  'edge-torn',
  'matte-specks',
  'matte-holes',
  'plate-residue',
  'plate-shows',
  'plate-repeats',
  'blur-gap',
  'grain-gap',
  'cast-gap',
  'black-gap',
  'white-gap',
  'contrast-gap',
  'colour-gap',
  'light-gap',
  'contact',
  'banding',
  'clipping',
  'enlarged',
  'frame-open',
  'time-doubtful',
  'time-flicker',
] as const;
export type CheckId = (typeof checkIds)[number];

/** What a check says: fine as far as was looked; worth a look; wrong; or not known, which is never shown as good. */
export type Verdict = 'good' | 'look' | 'wrong' | 'unknown';

/** A place of a check: a box, of the shot or of the frame, px of the full size. */
export interface CheckPlace extends Box {
  on: 'shot' | 'frame';
  /** The frame of a clip, where it is not the one that is looked at. */
  frame?: number;
}

/** One measured check. */
export interface Check {
  id: CheckId;
  verdict: Verdict;
  /** Left out while it is not known. Less is better, for every check. */
  figure?: number;
  /** Worst first. */
  places: CheckPlace[];
  /** Why it is not known, as a sentence. */
  why?: string;
}

/** What a check is about. */
export interface CheckKind {
  /** In plain words, for people. */
  what: string;
  unit: string;
  /** The unit of a figure of one, where that is another word. */
  one?: string;
  digits: number;
  /** Above the first it is worth a look, above the second wrong; a check without a second is never wrong. */
  tolerance: number;
  wrong?: number;
  /** Where the tolerance comes from. */
  reason: string;
}

/** All checks, each with its unit, its tolerance, and why. */
export const checkKinds: Record<CheckId, CheckKind> = {
  'edge-residue': { what: 'Old background in the edge', unit: 'ΔE', digits: 1, tolerance: 9, wrong: 14, reason: 'a quarter of a true edge’s places comes to 8 at most; of an untreated one to 12 at least' },
  'edge-halo': { what: 'Rim of another colour around the subject', unit: '% of the outline', digits: 0, tolerance: 8, wrong: 35, reason: 'on pictures without one up to 8 % of the outline looks so beyond chance' },
  'edge-torn': { what: 'Hard cuts in a soft edge', unit: '% of the outline', digits: 0, tolerance: 4, wrong: 15, reason: 'a soft edge has hardly a hard stretch by itself' },
  'matte-specks': { what: 'Loose specks beside the subject', unit: 'specks', one: 'speck', digits: 0, tolerance: 0, wrong: 60, reason: 'a speck is seen as dirt' },
  'matte-holes': { what: 'Pinholes in the subject', unit: 'holes', one: 'hole', digits: 0, tolerance: 0, wrong: 60, reason: 'the background shines through' },
  'plate-residue': { what: 'Something of the subject left on the plate', unit: 'px along the outline', digits: 1, tolerance: 1, wrong: 4, reason: 'a blur of 48 px hides one pixel, not four' },
  'plate-shows': { what: 'Invented ground that is seen', unit: '% of the picture', digits: 1, tolerance: 1.5, reason: 'what is seen was made up; look whether it holds' },
  'plate-repeats': { what: 'Pieces of invented ground seen twice', unit: 'pieces', one: 'piece', digits: 0, tolerance: 0, reason: 'the eye finds what is there twice' },
  'blur-gap': { what: 'Blur of the subject and of what is as near', unit: 'px apart', digits: 1, tolerance: 0, reason: 'a quarter of the larger, or 1.5 px' },
  'grain-gap': { what: 'Grain of both sides', unit: 'L* apart', digits: 2, tolerance: 0, reason: 'a quarter of the subject’s, or 0.15 L*' },
  'cast-gap': { what: 'Warmth of both sides', unit: 'mired apart', digits: 0, tolerance: 30, reason: 'a step that a trained eye sees side by side' },
  'black-gap': { what: 'Darkest tones of both sides', unit: 'L* apart', digits: 1, tolerance: 6, reason: 'blacks of one photograph lie within it' },
  'white-gap': { what: 'Brightest tones of both sides', unit: 'L* apart', digits: 1, tolerance: 12, reason: 'whites of one photograph lie within it' },
  'contrast-gap': { what: 'Contrast of both sides', unit: 'L* apart', digits: 1, tolerance: 8, reason: 'the scene’s own to a good part: look, it may be right' },
  'colour-gap': { what: 'Strength of colour of both sides', unit: '% apart', digits: 1, tolerance: 4, reason: 'the scene’s own to a good part: look, it may be right' },
  'light-gap': { what: 'Direction of the light on both sides', unit: '° apart', digits: 0, tolerance: 40, reason: 'up to 20° is how well it is measured' },
  contact: { what: 'No shadow where the subject stands', unit: '% of the ground’s light', digits: 0, tolerance: 94, reason: 'ground under a foot loses at least a tenth of its light' },
  banding: { what: 'Visible steps in what should be smooth', unit: '% of the picture', digits: 2, tolerance: 0.5, wrong: 4, reason: 'even runs of one code, step by step' },
  clipping: { what: 'Light lost that the sources had', unit: '% of the picture', digits: 2, tolerance: 0.3, wrong: 2, reason: 'only what the recipe clips counts, not what the shot had' },
  enlarged: { what: 'A source shown larger than it is', unit: 'times', digits: 2, tolerance: 1.3, wrong: 2.2, reason: 'above it there are fewer pixels than are shown' },
  'frame-open': { what: 'What stands behind ends inside the frame', unit: 'px short', digits: 0, tolerance: 1.5, wrong: 8, reason: 'beyond its border the last row is drawn out' },
  'time-flicker': { what: 'Opacity along the edge that changes from frame to frame', unit: '% of opacity', digits: 0, tolerance: 18, reason: 'the worst stretch of what only moves seldom changes by more' },
  'time-doubtful': { what: 'Frames whose neighbours disagree about the subject', unit: '% of the frames', digits: 0, tolerance: 0, reason: 'the measure is not calibrated: it tells where to look, not that the rest is right' },
}; // prettier-ignore

/** The unit that stands behind a check's figure as it is written. */
export function unitOf({ id, figure }: Pick<Check, 'id' | 'figure'>): string {
  const { unit, one, digits } = checkKinds[id];
  return one !== undefined && figure?.toFixed(digits) === '1' ? one : unit;
}

/** A check by its figure. */
export function judged(id: CheckId, figure: number, places: CheckPlace[] = [], tolerance = checkKinds[id].tolerance): Check {
  const { wrong } = checkKinds[id];
  const verdict: Verdict = figure <= tolerance ? 'good' : wrong !== undefined && figure > wrong ? 'wrong' : 'look';
  // Where all is well there is nowhere to go.
  return { id, verdict, figure, places: verdict === 'good' ? [] : places.slice(0, 24) };
}

/** A check that cannot be made, with the reason. */
export function unknown(id: CheckId, why: string): Check {
  return { id, verdict: 'unknown', places: [], why };
}

/** A check that was accepted by somebody, with a word and the figure it had then. */
export interface Accepted {
  /** Its identifier. */
  check: string;
  word: string;
  figure: number;
}

/** Whether a check is accepted still: not when it has become worse by more than its tolerance (a tenth at least) since. */
export function isAccepted({ id, figure }: Check, accepted: readonly Accepted[]): boolean {
  const found = accepted.find((a) => a.check === id);
  if (!found || figure === undefined) return false;
  return figure <= found.figure + Math.max(0.1 * Math.abs(found.figure), 0.5 * checkKinds[id].tolerance, 1e-6);
}

/** A box around a point. */
export function around(x: number, y: number, size: number, on: CheckPlace['on']): CheckPlace {
  return { x: x - size / 2, y: y - size / 2, width: size, height: size, on };
}
