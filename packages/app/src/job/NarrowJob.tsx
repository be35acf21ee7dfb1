import { clsx } from 'clsx';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { Bench } from './bench/Bench';
import { Controls } from './Controls';
import { Evidence } from './evidence/Evidence';
import { NextThing } from './NextThing';
import { PicturePane } from './picture/PicturePane';
import { about, type Step } from './steps';
import { TakesButton } from './takes/Takes';
import { useViewOf, type ViewState } from './viewStore';
import { WorkLine } from './WorkLine';
import { say } from '../words/say';

type Sheet = NonNullable<ViewState['sheet']>;

/** A job on a narrow screen: the picture first, the work line as a strip that is swiped, all else in sheets below that leave the picture in sight. */
export function NarrowJob({ jobId, step, name, withBench }: { jobId: string; step: Step; name?: string; withBench: boolean }) {
  const { sheet: chosen, set } = useViewOf('sheet', 'set');
  const sheet = chosen === 'bench' && !withBench ? undefined : chosen;
  const contents: Record<Sheet, { text: string; label: string; inside: () => ReactNode }> = {
    controls: { text: say('Controls'), label: say('Controls: {name}', { name: about[step].name }), inside: () => <Controls step={step} /> },
    evidence: { text: say('Evidence'), label: say('Evidence'), inside: () => <Evidence step={step} /> },
    bench: { text: say('Bench'), label: say('Bench, drawn'), inside: () => <Bench open /> },
  };
  const open = sheet && contents[sheet];
  return (
    <div className="flex min-h-0 grow flex-col">
      <header className="flex items-center gap-3 border-b border-rule px-3">
        <Link to="/" className="flex min-h-11 items-center text-base font-extrabold tracking-tight" title={say('Back to the shelf')}>
          {say('Ritaglio')}
        </Link>
        <h1 className="min-w-0 grow truncate text-faint">{name}</h1>
        <TakesButton />
      </header>
      <WorkLine step={step} jobId={jobId} narrow />
      <PicturePane step={step} narrow />
      {open ? (
        <aside aria-label={open.label} className="max-h-[46%] shrink-0 overflow-y-auto overscroll-contain border-t border-ink bg-card">
          {open.inside()}
        </aside>
      ) : (
        <section aria-label={say('Next')}>
          <NextThing step={step} />
        </section>
      )}
      <nav aria-label={say('Sheets')} className="flex shrink-0 border-t border-ink">
        {(Object.keys(contents) as Sheet[])
          .filter((s) => s !== 'bench' || withBench)
          .map((s) => (
            <button
              key={s}
              type="button"
              aria-expanded={sheet === s}
              className={clsx('min-h-12 flex-1 font-semibold', sheet === s ? 'bg-ink text-paper' : 'bg-paper')}
              onClick={() => set({ sheet: sheet === s ? undefined : s })}
            >
              {contents[s].text}
            </button>
          ))}
      </nav>
    </div>
  );
}
