import { say } from '../../words/say';
import type { Step } from '../steps';
import type { ViewState } from '../viewStore';

/** Why the picture took no stroke, and the view in which it would. */
export interface NotTaken {
  says: string;
  cure: string;
  view: Partial<ViewState>;
}

type Looks = Pick<ViewState, 'picture' | 'compare' | 'tool' | 'way' | 'plateTool' | 'benchTool'>;

/** Why a stroke begun now would not be taken though a tool is in hand; nothing where none is, or where it is taken. */
export function notTaken(step: Step, view: Looks): NotTaken | undefined {
  if (step === 'matte' && !(view.tool === 'mark' && view.way === 'change')) {
    const there = view.picture === 'shot' || (view.picture === 'matte' && view.tool === 'hand');
    if (there && view.compare === 'whole') return undefined;
    return {
      says: say('Nothing was drawn: marks are drawn on the shot, shown whole.'),
      cure: say('Show the shot'),
      view: { picture: 'shot', compare: 'whole' },
    };
  }
  if (step === 'plate' && view.plateTool !== 'look') {
    if (view.picture === 'plate' && view.compare === 'whole') return undefined;
    return {
      says: say('Nothing was drawn: the plate is worked on where it is shown whole.'),
      cure: say('Show the plate'),
      view: { picture: 'plate', compare: 'whole' },
    };
  }
  const onBench = (step === 'stage' || step === 'lens' || step === 'match') && !['look', 'cards'].includes(view.benchTool);
  if (onBench && view.compare !== 'whole') {
    return {
      says: say('Nothing was taken: the tool in hand works where the picture is shown whole.'),
      cure: say('Show it whole'),
      view: { compare: 'whole' },
    };
  }
  return undefined;
}
