import { defaultGrade, type Grade } from '../grade/grade';
import { solveGrade, toneProperties } from '../match/solve';
import { sampleColours, toneOf, type Tone } from '../match/tone';
import type { Picture } from '../raster/plane';
import { rasterRegions, type Region } from '../raster/strokeCover';
import type { Recipe } from '../recipe/recipe';

/** Cast and tone of both sides, where they are to meet, and the grade that brings each there. */
export interface Matching {
  before: { subject: Tone; background: Tone };
  /** What the subject is moved towards. */
  goal: Tone;
  subject: Grade;
  background: Grade;
}

/** Share of a drawn reference at each pixel of the frame; nothing without one. */
export function referenceMask(region: Region | null, p: { width: number; height: number }, scale: number): Float32Array | undefined {
  return region ? rasterRegions([region], p.width, p.height, scale).data : undefined;
}

/** A mask within another. */
export function within(mask: Float32Array | undefined, other: Float32Array | undefined): Float32Array | undefined {
  return mask && other ? mask.map((v, i) => v * other[i]) : (mask ?? other);
}

/**
 * Measures both sides and solves the grades that bring them together.
 *
 * @param subject in its place in the frame, with opacity, unmatched
 * @param behind what is seen behind it, unmatched
 */
export function matchingOf(subject: Picture, behind: Picture, match: Recipe['match'], scale: number): Matching {
  const { references, moves, strengths, palette, protect, glow } = match;
  const ours = sampleColours(subject, within(subject.a, referenceMask(references.subject, subject, scale)));
  const theirs = sampleColours(behind, referenceMask(references.background, behind, scale));
  const before = { subject: toneOf(ours), background: toneOf(theirs) };
  const idle = palette === 0 && toneProperties.every((k) => strengths[k] === 0);
  if (idle || before.subject.weight === 0 || before.background.weight === 0) {
    return { before, goal: before.background, subject: defaultGrade, background: defaultGrade };
  }
  const middle = moves === 'both' ? halfWay(before.subject, before.background) : before.background;
  const goal = moves === 'background' ? before.subject : middle;
  const solve = (from: typeof ours, to: Tone): Grade => solveGrade(from, to, strengths, { protect, glow, quick: scale < 0.5 });
  return {
    before,
    goal,
    subject: moves === 'background' ? defaultGrade : solve(ours, goal),
    background: moves === 'subject' ? defaultGrade : solve(theirs, moves === 'both' ? middle : before.subject),
  };
}

function halfWay(a: Tone, b: Tone): Tone {
  const mid = (x: number, y: number): number => (x + y) / 2;
  const three = (x: Tone['mean'], y: Tone['mean']): Tone['mean'] => [mid(x[0], y[0]), mid(x[1], y[1]), mid(x[2], y[2])];
  return {
    mean: three(a.mean, b.mean),
    chroma: three(a.chroma, b.chroma),
    black: mid(a.black, b.black),
    middle: mid(a.middle, b.middle),
    white: mid(a.white, b.white),
    contrast: mid(a.contrast, b.contrast),
    saturation: mid(a.saturation, b.saturation),
    mired: mid(a.mired, b.mired),
    tint: mid(a.tint, b.tint),
    weight: a.weight,
  };
}
