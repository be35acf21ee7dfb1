import { blurDiscAt, fNumberFor } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Part } from '../../ui/controls';
import { CameraPart } from '../lens/CameraPart';
import { BlurLimitPart } from '../lens/BlurLimitPart';
import { BandPart } from '../lens/BandPart';
import { DistancesPart } from '../lens/DistancesPart';
import { LampsPart } from '../lens/LampsPart';
import { LikePart } from '../lens/LikePart';
import { ShapePart } from '../lens/ShapePart';
import { useTool } from '../useTool';
import { backgroundCard, moveCard, subjectCard } from '../edit';
import { useChange, useRecipe } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { theLens, useEdit } from '../useEdit';
import { figured, say } from '../../words/say';

/** Focus, aperture, and the plain amount for those who do not think in lenses. */
export function LensControls() {
  const recipe = useRecipe();
  const { preview, commit } = useChange();
  const { value: lens, commit: change, number } = useEdit(theLens);
  const tool = useTool();
  const behind = backgroundCard(recipe);
  const front = subjectCard(recipe);
  const onSubject = front !== undefined && Math.abs(front.distance - lens.focus) < 1e-3;
  const amount = behind ? blurDiscAt(lens, behind.distance, lens.across) : 0;
  const amounted = (v: number) => (r: typeof recipe) => {
    const card = backgroundCard(r);
    const f = card ? fNumberFor(r.lens, card.distance, r.lens.across, Math.max(0.01, v)) : r.lens.fNumber;
    return { ...r, lens: { ...r.lens, fNumber: Math.min(1000, Math.max(0.5, f)) } };
  };
  return (
    <>
      <Part title="Amount" figure={say('{amount} px behind', { amount: figured(amount, 0) })}>
        <ParameterControl
          param="lens.amount"
          value={amount}
          onPreview={(v) => preview(amounted(v))}
          onCommit={(v) => commit(amounted(v))}
        />
        <p className="mt-1.5 text-faint">{say('The diameter of a point’s blur disc at the background. It sets the aperture.')}</p>
      </Part>
      <Part title="Focus" figure={onSubject ? say('on the subject') : `${figured(lens.focus, 2)} m`}>
        <ParameterControl {...number('focus', 'lens.focus')} {...(front && { normal: front.distance })} />
        <ParameterControl {...number('fNumber', 'lens.fNumber')} />
        <ParameterControl {...number('focalLength', 'lens.focalLength')} />
        <div className="mt-2 flex flex-wrap gap-1.5">
          <Button {...tool('focus')}>{say('Focus by a press')}</Button>
          {front && !onSubject && <Button onClick={() => change({ focus: front.distance })}>{say('Focus on the subject')}</Button>}
        </div>
      </Part>
      <CameraPart />
      <ShapePart />
      <LampsPart />
      {behind && (
        <Part title="How far behind">
          <ParameterControl
            param="card.distance"
            label={say('Background')}
            value={behind.distance}
            onPreview={(v) => preview((r) => moveCard(r, behind.id, v))}
            onCommit={(v) => commit((r) => moveCard(r, behind.id, v))}
          />
        </Part>
      )}
      <BlurLimitPart />
      <BandPart />
      <DistancesPart />
      <LikePart />
    </>
  );
}
