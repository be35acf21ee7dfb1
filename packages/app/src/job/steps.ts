import type { PictureChoice } from './viewStore';

/** The steps in the order in which the products are made. */
export const steps = ['pictures', 'matte', 'plate', 'stage', 'lens', 'match', 'proof', 'export'] as const;
export type Step = (typeof steps)[number];

/** Name of a step, what it is for, and the product it shows when opened. */
export const about: Record<Step, { name: string; purpose: string; picture: PictureChoice }> = {
  pictures: { name: 'Pictures', purpose: 'What the job is made from: the shot, and what may stand behind it.', picture: 'shot' },
  matte: { name: 'Matte', purpose: 'Scribble what is subject and what is not; wool and hair get edge marks.', picture: 'shot' },
  plate: { name: 'Plate', purpose: 'Take the subject out, so that nothing of it smears when the ground is blurred.', picture: 'plate' },
  stage: { name: 'Stage', purpose: 'Set what stands behind the subject, where, and how far away.', picture: 'finished' },
  lens: { name: 'Lens', purpose: 'Decide what is sharp and how the rest dissolves.', picture: 'finished' },
  match: { name: 'Match', purpose: 'Bring light, colour, black level and grain of both sides together.', picture: 'finished' },
  proof: { name: 'Proof', purpose: 'Look at what can be measured before you let it go.', picture: 'finished' },
  export: { name: 'Export', purpose: 'Write the finished picture, or the whole job in one file.', picture: 'finished' },
};

export function isStep(text: string | undefined): text is Step {
  return (steps as readonly (string | undefined)[]).includes(text);
}
