import { clsx } from 'clsx';
import { Circle, CircleAlert, CircleCheck } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Link } from 'react-router';
import { blurDiscAt, counted } from '@ritaglio/core';
import type { Shown, ViewName } from '../worker/protocol';
import { backgroundCard } from './edit';
import { useProductsOfJob, useRecipe } from './jobContext';
import { about, steps, type Step } from './steps';
import { gapRows } from './match/matching';
import { figured, say } from '../words/say';

type StepState = 'done' | 'look' | 'open';

interface Line {
  print?: ViewName;
  figure: string;
  state: StepState;
  /** What is told is of an older recipe. */
  old?: boolean;
}

/** The products in the order in which they are made: a print, a figure and a state each. */
export function WorkLine({ step, jobId, narrow = false }: { step: Step; jobId: string; narrow?: boolean }) {
  const lines = useLines();
  const { shown, isOld } = useProductsOfJob();
  return (
    <nav
      aria-label={say('Work line')}
      className={clsx('flex border-b border-rule', narrow ? 'shrink-0 overflow-x-auto' : 'min-w-0 pl-2.5')}
    >
      {steps.map((s, i) => {
        const line = lines[s];
        const Mark = { done: CircleCheck, look: CircleAlert, open: Circle }[line.state];
        const old = line.old === true || (line.print !== undefined && isOld(line.print));
        const words = old
          ? say('old, being worked out anew')
          : { done: say('done'), look: say('needs a look'), open: say('not yet') }[line.state];
        return (
          <div key={s} className={clsx('flex flex-1 items-start', narrow ? 'min-w-[5.6rem]' : 'min-w-0')}>
            {!narrow && i > 0 && <span aria-hidden className="mt-[30px] h-px w-2 shrink-0 bg-ink" />}
            <Link
              to={`/job/${jobId}/${s}`}
              aria-current={step === s ? 'step' : undefined}
              ref={narrow && step === s ? inSight : undefined}
              title={`${about[s].name}: ${words}`}
              className={clsx(
                'block min-w-0 flex-1 px-2 pt-2 pb-1.5',
                step === s ? 'border-b-4 border-ink bg-tray' : 'border-b-4 border-transparent hover:bg-tray',
              )}
            >
              <span className={clsx('block', old && 'opacity-40', narrow && 'hidden')}>
                <Print shown={line.print && shown[line.print]} />
              </span>
              <span className="mt-0.5 flex items-center gap-1 font-semibold">
                <Mark
                  size={11}
                  strokeWidth={3}
                  aria-label={words}
                  className={clsx({
                    'text-fine': line.state === 'done' && !old,
                    'text-watch': line.state === 'look' && !old,
                    'text-faint': line.state === 'open' || old,
                  })}
                />
                {about[s].name}
              </span>
              <span className="block truncate font-mono text-[11px] leading-3 text-faint">
                {old && line.figure !== '–' ? say('was {figure}', { figure: line.figure }) : line.figure}
              </span>
            </Link>
          </div>
        );
      })}
    </nav>
  );
}

function useLines(): Record<Step, Line> {
  const recipe = useRecipe();
  const { shown, figures, settled, isOld } = useProductsOfJob();
  const { matte, plate, sides, checks } = figures;
  const counts = checks && counted(checks, recipe.accepted);
  const has = (view: ViewName): StepState => (shown[view] ? 'done' : 'open');
  const [subject] = recipe.subjects;
  // By marks, by a screen or a plate, by a kept matte, by the picture's own opacity: whatever there is of a subject counts.
  const cut = subject.marks.length > 0 || subject.cut !== 'marks' || subject.with.length > 0 || (matte?.subject ?? 0) > 0.0002;
  const behind = backgroundCard(recipe);
  const disc = behind ? blurDiscAt(recipe.lens, behind.distance, recipe.lens.across) : 0;
  const gaps = sides ? gapRows(sides).filter((g) => g.wide).length : 0;
  const noted = matte?.note !== undefined || (matte && matte.specks + matte.pinholes > 0);
  return {
    pictures: {
      print: 'shot',
      figure: String(
        new Set([recipe.subjects[0].shot, ...recipe.cards.map((c) => (c.kind === 'picture' ? c.picture : ''))].filter(Boolean)).size,
      ),
      state: has('shot'),
    },
    matte: {
      print: 'matte',
      figure: matte ? say('{soft} % soft', { soft: figured(100 * matte.soft, 1) }) : '–',
      state: !matte ? 'open' : noted ? 'look' : 'done',
      old: isOld('matte'),
    },
    plate: {
      print: 'plate',
      figure: plate ? say('{showing} % seen', { showing: figured(100 * plate.showing, 0) }) : '–',
      state: plate && cut ? 'done' : 'open',
      old: isOld('plate'),
    },
    stage: {
      print: cut ? 'finished' : undefined,
      figure: say('{n, plural, one {# card} other {# cards}}', { n: recipe.cards.length }),
      state: cut ? has('finished') : 'open',
    },
    lens: { print: 'background', figure: `${figured(disc, 0)} px`, state: has('background') },
    match: {
      print: cut ? 'finished' : undefined,
      figure: sides && cut ? say('{gaps, plural, one {# gap} other {# gaps}}', { gaps }) : '–',
      state: !sides || !cut ? 'open' : gaps > 0 ? 'look' : 'done',
      old: isOld('sides'),
    },
    proof: {
      print: cut ? 'finished' : undefined,
      figure: counts ? say('{wrong} wrong, {look} look', { wrong: counts.wrong, look: counts.look }) : '–',
      state: !counts || !cut ? 'open' : counts.wrong + counts.look > 0 ? 'look' : 'done',
      old: isOld('checks'),
    },
    export: {
      print: cut ? 'finished' : undefined,
      figure: `${recipe.frame.width} × ${recipe.frame.height}`,
      state: settled && cut ? 'done' : 'open',
    },
  };
}

/** The open step is in sight when the strip is wider than the screen. */
const inSight = (link: HTMLElement | null): void => link?.scrollIntoView({ inline: 'center', block: 'nearest' });

/** A small print with a cut corner; hatched while there is nothing. */
function Print({ shown }: { shown?: Shown }) {
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const canvas = ref.current;
    const context = canvas?.getContext('2d');
    if (!canvas || !context || !shown) return;
    const { bitmap } = shown;
    context.imageSmoothingQuality = 'high';
    // Cover: the print is wider than most pictures.
    const ratio = Math.max(canvas.width / bitmap.width, canvas.height / bitmap.height);
    const w = bitmap.width * ratio;
    const h = bitmap.height * ratio;
    context.drawImage(bitmap, (canvas.width - w) / 2, (canvas.height - h) / 2, w, h);
  }, [shown]);
  return shown ? (
    <canvas ref={ref} width={208} height={88} className="cut-corner block h-11 w-full" aria-hidden />
  ) : (
    <span className="hatch cut-corner block h-11 w-full" aria-hidden />
  );
}
