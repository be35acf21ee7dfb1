import type { Step } from '../steps';
import list from './catalogue.json';

/** A control: the step and the part it is in, and its name. */
export interface Found {
  step: Step;
  part: string;
  name: string;
}

/** All controls by their steps, as `npm run controls` finds them in the real interface. */
export const catalogue: readonly Found[] = list as Found[];
