import { flatDistances } from '../lens/distances';
import { defaultDifference, defaultScreen } from '../matte/matte';
import { noWash } from '../grade/vignette';
import { defaultAdjustments, unlimited } from './grades';
import { centred } from '../placement/place';
import type { SubjectRecipe } from './recipe';

/** What a subject has beside its marks before anything is chosen. */
export const defaultCut = {
  cut: 'marks' as const,
  screen: defaultScreen,
  difference: { plate: null, ...defaultDifference },
  garbage: [],
  hand: [],
  with: [],
};

/** The plate's part of a recipe before anything is chosen; arrays of its own. */
export function newPlate(): SubjectRecipe['plate'] {
  return { grow: 'auto', feather: 1, regions: [], fill: { kind: 'patch', tries: 1, taken: 1 }, parts: [], moves: [], retouch: [] };
}

/** What every card has before anything is chosen. */
export const defaultCard = {
  name: '',
  placement: centred,
  opacity: 1,
  blend: 'normal' as const,
  hidden: false,
  locked: false,
  blur: null,
  band: null,
  blurLimit: unlimited,
  wash: noWash,
  ...defaultAdjustments,
  distances: { ...flatDistances, pegs: [], painted: [], standing: [] },
};
