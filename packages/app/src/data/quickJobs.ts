import type { Recipe } from '@ritaglio/core';
import { say } from '../words/say';

/** The commonest jobs: each sets its recipe up, and shows only the controls that it needs. */
export const quickJobs = ['blur', 'background', 'screen'] as const;
export type QuickJob = (typeof quickJobs)[number];

/** What each is called, and what it comes to. */
export const aboutQuick: Record<QuickJob, { name: string; says: string }> = {
  blur: {
    get name() {
      return say('Blur what is behind');
    },
    get says() {
      return say('Cut the subject, and its own background goes soft like through a wide lens, without a halo.');
    },
  },
  background: {
    get name() {
      return say('Put it before something else');
    },
    get says() {
      return say('Cut the subject, choose what stands behind it, and bring light, colour and grain of both together.');
    },
  },
  screen: {
    get name() {
      return say('Take it off a screen');
    },
    get says() {
      return say('A subject before green, blue or another even colour: it is keyed by itself, its spill taken off.');
    },
  },
};

/** Blur behind to begin with: f-number. */
const wide = 1.4;

/** A new recipe set up for a common job. */
export function setUp(recipe: Recipe, quick: QuickJob): Recipe {
  if (quick === 'blur') return { ...recipe, lens: { ...recipe.lens, fNumber: wide } };
  if (quick === 'screen') return { ...recipe, subjects: recipe.subjects.map((s) => ({ ...s, cut: 'screen' as const })) };
  return recipe;
}

/** Parts of the controls that a common job needs, by their titles. */
const needed: Record<QuickJob, readonly string[]> = {
  blur: ['Draw', 'Through the clip', 'Left of the subject', 'Fill', 'Amount', 'Focus', 'Lamps', 'Camera', 'Match', 'Grain, banding', 'Checks', 'Sheet', 'Clip', 'Picture', 'This frame', 'Job', 'Time', 'Clips', 'In this job'],
  background: ['Draw', 'Through the clip', 'Behind the subject', 'Amount', 'Focus', 'Match', 'Light and air', 'Grain, banding', 'Checks', 'Sheet', 'Clip', 'Picture', 'This frame', 'Job', 'Time', 'Clips', 'In this job', 'Bring in'],
  screen: ['Cut by', 'Edge', 'Behind the subject', 'Amount', 'Match', 'Light and air', 'Checks', 'Sheet', 'Clip', 'Picture', 'This frame', 'Job', 'Time', 'Clips', 'In this job', 'Bring in'],
}; // prettier-ignore

/** Whether a part of the controls is seen. */
export function isNeeded(title: string, quick: QuickJob | undefined): boolean {
  return quick === undefined || needed[quick].includes(title);
}
