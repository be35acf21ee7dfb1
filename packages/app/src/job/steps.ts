import type { PictureChoice } from './viewStore';
import { say } from '../words/say';

/** The steps in the order in which the products are made. */
export const steps = ['pictures', 'matte', 'plate', 'stage', 'lens', 'match', 'proof', 'export'] as const;
export type Step = (typeof steps)[number];

/** Name of a step, what it is for, and the product it shows when opened. */
export const about: Record<Step, { name: string; purpose: string; picture: PictureChoice }> = {
  pictures: {
    get name() {
      return say('Pictures');
    },
    get purpose() {
      return say('What the job is made from: the shot, and what may stand behind it.');
    },
    picture: 'shot',
  },
  matte: {
    get name() {
      return say('Matte');
    },
    get purpose() {
      return say('Scribble what is subject and what is not; wool and hair get edge marks.');
    },
    picture: 'shot',
  },
  plate: {
    get name() {
      return say('Plate');
    },
    get purpose() {
      return say('Take the subject out, so that nothing of it smears when the ground is blurred.');
    },
    picture: 'plate',
  },
  stage: {
    get name() {
      return say('Stage');
    },
    get purpose() {
      return say('Set what stands behind the subject, where, and how far away.');
    },
    picture: 'finished',
  },
  lens: {
    get name() {
      return say('Lens');
    },
    get purpose() {
      return say('Decide what is sharp and how the rest dissolves.');
    },
    picture: 'finished',
  },
  match: {
    get name() {
      return say('Match');
    },
    get purpose() {
      return say('Bring light, colour, black level and grain of both sides together.');
    },
    picture: 'finished',
  },
  proof: {
    get name() {
      return say('Proof');
    },
    get purpose() {
      return say('Look at what can be measured before you let it go.');
    },
    picture: 'finished',
  },
  export: {
    get name() {
      return say('Export');
    },
    get purpose() {
      return say('Write the finished picture, or the whole job in one file.');
    },
    picture: 'finished',
  },
};

export function isStep(text: string | undefined): text is Step {
  return (steps as readonly (string | undefined)[]).includes(text);
}
