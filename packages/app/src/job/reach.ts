import type { Reach } from '../worker/protocol';
import type { Step } from './steps';
import type { ViewState } from './viewStore';

/** From the least to the most that is worked out. */
export const reaches: readonly Reach[] = ['cut', 'plate', 'finished', 'proof'];

const ofStep: Record<Step, Reach> = {
  pictures: 'cut',
  matte: 'cut',
  plate: 'plate',
  stage: 'finished',
  lens: 'finished',
  match: 'finished',
  proof: 'proof',
  export: 'finished',
};

/** How far the line has to be walked for what is looked at: by the open step, and by what is shown on the picture. */
export function reachFor(step: Step, view: Pick<ViewState, 'picture' | 'against' | 'compare' | 'removed'>): Reach {
  const wanted: Reach[] = [ofStep[step]];
  if (view.picture === 'plate') wanted.push('plate');
  if (view.picture === 'background' || view.picture === 'finished' || view.picture === 'distances') wanted.push('finished');
  if (view.compare !== 'whole' && view.against !== 'shot') wanted.push('finished');
  if (step === 'matte' && view.removed === 'behind') wanted.push('finished');
  return wanted.reduce((most, r) => (reaches.indexOf(r) > reaches.indexOf(most) ? r : most));
}
