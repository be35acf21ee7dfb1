import { clsx } from 'clsx';
import { useLayoutEffect, useRef, useState } from 'react';
import { Button } from '../../ui/Button';
import { Choice } from '../../ui/controls';
import { Picker } from '../../ui/Picker';
import { useProductsOfJob } from '../jobContext';
import type { Step } from '../steps';
import { useProgress } from '../useProducts';
import { useView, useViewOf, type Compare, type PictureChoice, type Removed } from '../viewStore';
import { Tape } from '../tape/Tape';
import { notTaken } from './notTaken';
import { PictureStage } from './PictureStage';
import { choices, figured, say, told, word } from '../../words/say';

const pictures: { value: PictureChoice; label: string }[] = choices({
  shot: word('Shot'),
  matte: word('Matte'),
  plate: word('Plate'),
  background: word('Behind'),
  finished: word('Finished'),
});

/** The picture on its neutral grey, with the bar that says what is shown and the slip that says what is computed. */
export function PicturePane({ step, narrow = false }: { step: Step; narrow?: boolean }) {
  const { settled, answered } = useProductsOfJob();
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return (
    <main className={clsx('flex min-w-0 flex-col bg-mid', narrow && 'min-h-0 grow')} data-settled={settled} data-answered={answered}>
      <div ref={box} className="relative min-h-0 flex-1 overflow-hidden">
        {size.width > 0 && <PictureStage step={step} width={size.width} height={size.height} />}
      </div>
      <Slip step={step} />
      <Tape />
      <ViewBar step={step} narrow={narrow} />
    </main>
  );
}

function ViewBar({ step, narrow }: { step: Step; narrow: boolean }) {
  const { picture, compare, removed, look, fitZoom, set } = useViewOf('picture', 'compare', 'removed', 'look', 'fitZoom', 'set');
  const removes = step === 'matte' && picture === 'shot';
  return (
    <div
      className={clsx(
        'flex items-center gap-x-2.5 gap-y-1 bg-mid-dark px-3 py-1.5 text-white',
        narrow ? 'shrink-0 overflow-x-auto whitespace-nowrap [&>*]:shrink-0 [&_[role=radiogroup]]:flex-nowrap' : 'flex-wrap',
      )}
    >
      <Choice
        tone="mid"
        label={say('Product shown')}
        value={picture}
        options={step === 'lens' ? [...pictures, { value: 'distances' as const, label: say('Distances') }] : pictures}
        onChange={(p) => set({ picture: p })}
      />
      <Choice<Compare>
        tone="mid"
        label={say('Compare')}
        value={compare}
        options={[
          { value: 'whole', label: say('Whole') },
          { value: 'wipe', label: say('Wipe') },
          { value: 'beside', label: say('Beside') },
        ]}
        onChange={(c) => set({ compare: c, against: 'shot' })}
      />
      <span className="ml-auto flex items-center gap-1.5">
        {removes && <span>{say('Removed')}</span>}
        {removes && (
          <Picker<Removed>
            label={say('Removed as')}
            value={removed}
            options={[
              { value: 'hatch', label: say('hatch') },
              { value: 'dimmed', label: say('dimmed') },
              { value: 'outline', label: say('outline only') },
              { value: 'black', label: say('black') },
              { value: 'white', label: say('white') },
              { value: 'grey', label: say('mid-grey') },
              { value: 'behind', label: say('what is behind') },
            ]}
            onChange={(r) => set({ removed: r })}
          />
        )}
        <button type="button" className="w-12 text-right font-mono text-xs" title={say('Fit (0)')} onClick={() => set({ look: undefined })}>
          {Math.round(100 * (look?.zoom ?? fitZoom))} %
        </button>
      </span>
    </div>
  );
}

/** Why a stroke was not taken, or what is being computed, how far it is, and how to stop it: a strip of its own, so that nothing lies over the picture. */
function Slip({ step }: { step: Step }) {
  const { stopped, answered, cancel, resume } = useProductsOfJob();
  const progress = useProgress((s) => s.progress);
  const missed = useView((s) => (s.notTaken && notTaken(step, s) ? s.notTaken : undefined));
  const set = useView((s) => s.set);
  return (
    <div role="status" className="flex h-8 shrink-0 items-center gap-3 border-t border-rule bg-paper px-3 text-ink">
      {missed ? (
        <>
          <span className="text-watch">{missed.says}</span>
          <Button onClick={() => set({ ...missed.view, notTaken: undefined })}>{missed.cure}</Button>
        </>
      ) : progress ? (
        <>
          <span>{told(progress.what)}</span>
          <span className="h-[3px] w-20 bg-rule">
            <span className="block h-full bg-ink" style={{ width: `${Math.round(100 * progress.fraction)}%` }} />
          </span>
          <span className="w-12 text-right font-mono text-xs">{figured(progress.elapsed / 1000, 1)} s</span>
          <Button onClick={cancel}>{say('Cancel')}</Button>
        </>
      ) : stopped ? (
        <>
          <span>{say('Stopped. What is shown may be older than your last change.')}</span>
          <Button onClick={resume}>{say('Go on')}</Button>
        </>
      ) : (
        <span className="text-faint">{answered ? say('What is shown is of your last change.') : ''}</span>
      )}
    </div>
  );
}
