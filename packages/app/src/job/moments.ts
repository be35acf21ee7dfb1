import { clipFrame, closesSubject, momentOf, type ClipRecipe, type Recipe } from '@ritaglio/core';
import { openSubject } from './edit';
import { useView, type ViewState } from './viewStore';

/** The clip that a subject is cut from; nothing of a still. */
export function clipOf(recipe: Recipe, shot: string): ClipRecipe | undefined {
  return recipe.clips.find((c) => c.id === shot);
}

/**
 * The plain recipe of the frame that is looked at. A subject by marks is followed through its clip while its marks are those it was
 * asked to be followed by; else each frame is cut by itself, which answers at once.
 */
export function momentIn(recipe: Recipe, { frame, followed, subject }: Pick<ViewState, 'frame' | 'followed' | 'subject'>): Recipe {
  const { cut, marks, shot } = openSubject(recipe, subject);
  if (cut !== 'marks' || marks === followed) return momentOf(recipe, frame);
  // A frame that has no cut of its own shows what was followed before its marks were changed.
  const own = marks.some((m) => closesSubject(m) && isOnFrame(recipe, shot, m, frame));
  if (own || !followed) return momentOf(recipe, frame, { alone: true });
  const before = recipe.subjects.map((s) => (s.marks === marks ? { ...s, marks: followed } : s));
  return momentOf({ ...recipe, subjects: before }, frame);
}

/** Whether the subject is followed by marks that have been changed since. */
export function followsOldMarks(marks: unknown, followed: ViewState['followed']): boolean {
  return followed !== undefined && marks !== followed;
}

/** The same for the frame that is looked at now. */
export function momentNow(recipe: Recipe): Recipe {
  return momentIn(recipe, useView.getState());
}

/** What of a mark or stroke says on which frame it is drawn; nothing for a still. */
export function onFrameNow(recipe: Recipe, shot: string): { frame?: number } {
  const clip = clipOf(recipe, shot);
  return clip ? { frame: clipFrame(clip, useView.getState().frame) } : {};
}

/** Whether something is drawn on the frame that is looked at. */
export function isOnFrame(recipe: Recipe, shot: string, drawn: { frame?: number | undefined }, frame: number): boolean {
  const clip = clipOf(recipe, shot);
  return !clip || (drawn.frame ?? 0) === clipFrame(clip, frame);
}

/** First and last frame of the job. */
export function rangeOf({ time }: Recipe): { first: number; last: number } {
  return { first: time?.first ?? 0, last: time?.last ?? 0 };
}

/** How many frames there are to be looked at: as many as the longest clip, or up to the last that is exported. */
export function lengthOf(recipe: Recipe): number {
  const ends = recipe.clips.map((c) => Math.ceil(c.offset + c.count / c.speed));
  return Math.max(1, (recipe.time?.last ?? 0) + 1, ...ends);
}
