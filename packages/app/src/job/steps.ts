import type { PictureChoice } from './viewStore';
import { spoken, word } from '../words/say';

/** The steps in the order in which the products are made. */
export const steps = ['pictures', 'matte', 'plate', 'stage', 'lens', 'match', 'proof', 'export'] as const;
export type Step = (typeof steps)[number];

const names = spoken({
  pictures: word('Pictures'),
  matte: word('Matte'),
  plate: word('Plate'),
  stage: word('Stage'),
  lens: word('Lens'),
  match: word('Match'),
  proof: word('Proof'),
  export: word('Export'),
});
const purposes = spoken({
  pictures: word('What the job is made from: the shot, and what may stand behind it.'),
  matte: word('Scribble what is subject and what is not; wool and hair get edge marks.'),
  plate: word('Take the subject out, so that nothing of it smears when the ground is blurred.'),
  stage: word('Set what stands behind the subject, where, and how far away.'),
  lens: word('Decide what is sharp and how the rest dissolves.'),
  match: word('Bring light, colour, black level and grain of both sides together.'),
  proof: word('Look at what can be measured before you let it go.'),
  export: word('Write the finished picture, or the whole job in one file.'),
});
const pictures: Record<Step, PictureChoice> = {
  pictures: 'shot',
  matte: 'shot',
  plate: 'plate',
  stage: 'finished',
  lens: 'finished',
  match: 'finished',
  proof: 'finished',
  export: 'finished',
};

/** Name of a step, what it is for, and the product it shows when opened. */
export const about = Object.fromEntries(
  steps.map((step) => [
    step,
    {
      get name() {
        return names[step];
      },
      get purpose() {
        return purposes[step];
      },
      picture: pictures[step],
    },
  ]),
) as Record<Step, { name: string; purpose: string; picture: PictureChoice }>;

export function isStep(text: string | undefined): text is Step {
  return (steps as readonly (string | undefined)[]).includes(text);
}
