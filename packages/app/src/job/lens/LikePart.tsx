import { blurToAdd, fNumberFor } from '@ritaglio/core';
import { useState } from 'react';
import { Button } from '../../ui/Button';
import { Figures, Part } from '../../ui/controls';
import { refuse } from '../../ui/refuse';
import { renderer } from '../../worker/renderer';
import { backgroundCard } from '../edit';
import { useChange, useOpenJob, useRecipe } from '../jobContext';
import { momentNow } from '../moments';
import { useTool } from '../useTool';
import { useView, useViewOf } from '../viewStore';
import { figured, say } from '../../words/say';

/** Gaps under this share of the blur are within what the measurement can tell. */
const tolerance = 0.12;
/** Longest side, px, at which blur is measured. */
const side = 1800;

/** Makes what stands behind as blurred as a region of the shot. */
export function LikePart() {
  const recipe = useRecipe();
  const { store } = useOpenJob();
  const { commit } = useChange();
  const { like, likeness, set } = useViewOf('like', 'likeness', 'set');
  const tool = useTool({ picture: 'shot', compare: 'whole' });
  const [busy, setBusy] = useState(false);
  const behind = backgroundCard(recipe);
  const measure = async (): Promise<void> => {
    setBusy(true);
    try {
      const { recipe: now } = store.getState();
      const scale = Math.min(1, side / Math.max(now.frame.width, now.frame.height));
      set({ likeness: await renderer().likeness(momentNow(now), useView.getState().like, scale) });
    } catch (error) {
      refuse(error);
    }
    setBusy(false);
  };
  const wanted = likeness?.wanted?.diameter;
  const has = likeness?.has?.diameter;
  const now = likeness?.now?.diameter;
  const gap = wanted !== undefined && now !== undefined ? now - wanted : undefined;
  const apply = async (): Promise<void> => {
    if (wanted === undefined || !behind) return;
    const add = Math.max(0.5, blurToAdd(has ?? 0, wanted));
    commit((r) => {
      const f = fNumberFor(r.lens, behind.distance, r.lens.across, add);
      return { ...r, lens: { ...r.lens, fNumber: Math.min(1000, Math.max(0.5, f)) } };
    });
    await measure();
  };
  const figure = (px: number | undefined): string => (px === undefined ? (likeness ? say('no edges') : '–') : `${figured(px, 1)} px`);
  return (
    <Part
      title="Blur like this"
      figure={gap === undefined ? undefined : say('gap {thing}{gap} px', { thing: gap > 0 ? '+' : '−', gap: figured(Math.abs(gap), 1) })}
    >
      <p className="mb-1.5 text-faint">
        {say('Go around a part of the shot whose blur what stands behind must share, or let it be all that is not the subject.')}
      </p>
      <div className="flex flex-wrap gap-1.5">
        <Button {...tool('like')}>{like ? say('Another part') : say('Point at a part')}</Button>
        {like && <Button onClick={() => set({ like: undefined, likeness: undefined })}>{say('All of it')}</Button>}
        <Button disabled={busy} onClick={() => void measure()}>
          {busy ? say('Measuring …') : say('Measure')}
        </Button>
      </div>
      {likeness && (
        <div className="mt-1.5">
          <Figures
            rows={[
              { name: say('In the shot'), figure: figure(wanted) },
              { name: say('Behind, unblurred'), figure: figure(has) },
              {
                name: say('Behind, as it is now'),
                figure: figure(now),
                state: gap === undefined || !wanted ? undefined : Math.abs(gap) <= tolerance * wanted ? 'fine' : 'watch',
              },
            ]}
          />
          <Button className="mt-1.5" strong disabled={wanted === undefined || !behind || busy} onClick={() => void apply()}>
            {say('Blur like this')}
          </Button>
        </div>
      )}
    </Part>
  );
}
