import type { Recipe } from '@ritaglio/core';

/** Longest sides, px, at which a job may be worked out while it is looked at; exports are always of full size. */
export const workingSides = [450, 720, 1200, 1800, 2700] as const;

const usual = 1800;
/** Smaller ones than this show nothing. */
const smallest = 200;
const key = 'ritaglio.workingSide';

/** The one chosen in this browser. */
export function workingSide(): number {
  const kept = Number(localStorage.getItem(key));
  return kept >= smallest ? kept : usual;
}

/** Longest side, px, at which a subject is followed through a clip while it is looked at. */
const clipSide = 720;
/** Longest side, px, of what is shown while something is dragged. */
const draftSide = 450;

/** Pixels per full-size pixel at which what is looked at is worked out: whatever is asked of it beside is known already. */
export function workingScale(recipe: Recipe): number {
  // A followed subject is followed at one size: another would follow it once more.
  return Math.min(1, (follows(recipe) ? Math.min(workingSide(), clipSide) : workingSide()) / longestOf(recipe));
}

/** The same while something is dragged. */
export function draftScale(recipe: Recipe): number {
  return follows(recipe) ? workingScale(recipe) : Math.min(workingScale(recipe), draftSide / longestOf(recipe));
}

function follows(recipe: Recipe): boolean {
  return recipe.subjects.some((s) => s.follows);
}

/**
 * The side that counts, full-size px: the shot's, so that a cut frame does not ask for another size of all that is known; the frame's where
 * that is much smaller or larger.
 */
function longestOf({ frame, subjects }: Recipe): number {
  const shown = Math.max(frame.width, frame.height);
  const shot = Math.max(subjects[0].size.width, subjects[0].size.height);
  return Math.min(2 * shown, Math.max(shot, shown / 1.5));
}

export function chooseWorkingSide(side: number): void {
  localStorage.setItem(key, String(side));
}
