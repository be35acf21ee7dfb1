import { clsx } from 'clsx';
import { Button } from '../../ui/Button';
import { useChange, useProductsOfJob, useRecipe } from '../jobContext';
import { Old } from './Old';
import { toneProperties } from '@ritaglio/core';
import { gapRows, gradeSentence, hindrance, isMatched, matchedAll, toggled, unmatched } from '../match/matching';
import { figured, say } from '../../words/say';

/** Subject against background: both sides measured, the gap, and a press that closes it. */
export function SidesTable() {
  const { sides } = useProductsOfJob().figures;
  const recipe = useRecipe();
  const { commit } = useChange();
  return (
    <section aria-label={say('Subject against background')} className="px-3 pt-3">
      <h2 className="mb-1 font-bold">{say('Subject against background')}</h2>
      {!sides || sides.subject.tone.weight === 0 ? (
        <p className="text-faint">{say('Both sides are measured once the subject is cut out.')}</p>
      ) : (
        <>
          <Old what="sides">
            <table className="w-full">
              <thead>
                <tr className="text-right text-[11px] text-faint">
                  <th className="text-left font-normal">
                    <span className="sr-only">{say('Property')}</span>
                  </th>
                  <th className="font-normal">{say('subj.')}</th>
                  <th className="pl-1 font-normal">{say('behind')}</th>
                  <th className="pl-1 font-normal">{say('gap')}</th>
                  <th className="font-normal" title={say('Tolerance: a gap up to this is not seen')}>
                    {say('tol.')}
                  </th>
                  <th>
                    <span className="sr-only">{say('Make equal')}</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {gapRows(sides).map((g) => {
                  const on = isMatched(recipe, g.name);
                  const why = on ? undefined : hindrance(sides, g.name);
                  const what = g.name === 'light' ? say('Flip the background') : say('Match {name}', { name: g.name });
                  return (
                    <tr key={g.name} data-gap={g.name} className="border-t border-rule text-right font-mono text-[11px]">
                      <th className="py-px text-left font-sans text-[12px] font-normal whitespace-nowrap">
                        {say(g.title)} <span className="text-[10px] text-faint">{g.unit}</span>
                      </th>
                      <td>{g.subject}</td>
                      <td className="pl-1">{g.background}</td>
                      <td className={clsx('pl-1', !g.known || g.natural ? 'text-faint' : g.wide ? 'font-semibold text-hot' : 'text-fine')}>
                        {g.natural ? '–' : g.gap}
                        {g.known && !g.natural && (
                          <span className="sr-only">{g.wide ? say(' out of tolerance') : say(' within tolerance')}</span>
                        )}
                      </td>
                      <td className="pl-1 text-faint">{g.natural ? '' : g.tolerance}</td>
                      <td className="pl-1">
                        {(!g.natural || on) && (
                          <button
                            type="button"
                            aria-label={what}
                            aria-pressed={on}
                            title={why ?? what}
                            disabled={why !== undefined}
                            className={clsx(
                              'w-[18px] border text-center leading-4 font-bold disabled:border-rule disabled:text-rule',
                              on ? 'border-ink bg-ink text-paper' : 'border-ink bg-paper hover:bg-sheet',
                            )}
                            onClick={() => commit((r) => toggled(r, g.name, sides))}
                          >
                            {g.name === 'light' ? '⇋' : '='}
                          </button>
                        )}
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </Old>
          {sides.ownPlate && (
            <p className="mt-1 text-[11px] text-faint">{say('Both sides are of one photograph: only blur and grain are judged.')}</p>
          )}
          <div className="mt-2 flex items-center gap-1.5">
            <Button strong onClick={() => commit((r) => matchedAll(r, sides.ownPlate))}>
              {say('Match all')}
            </Button>
            <Button onClick={() => commit(unmatched)}>{say('Put back')}</Button>
          </div>
          <Done />
          <Directions />
        </>
      )}
    </section>
  );
}

/** What the match does, in a sentence a side. */
function Done() {
  const { matching } = useProductsOfJob().figures;
  const { match, finish } = useRecipe();
  const on = toneProperties.some((k) => match.strengths[k] > 0);
  if (!on && finish.grain.back === 0) return null;
  const said = [
    ...(on && matching && match.moves !== 'background' ? [gradeSentence(say('The subject'), matching.subject)] : []),
    ...(on && matching && match.moves !== 'subject' ? [gradeSentence(say('What is behind'), matching.background)] : []),
    ...(finish.grain.back > 0 ? [say('Grain is put back where blur took it.')] : []),
  ];
  return (
    <p className="mt-1.5" data-testid="match-done">
      {said.join(' ')}
    </p>
  );
}

/** Where light comes from on each side, as arrows. */
function Directions() {
  const { sides } = useProductsOfJob().figures;
  const ours = sides?.subject.light;
  const theirs = sides?.background.light;
  if (!ours && !theirs) return null;
  const arrow = (angle: number): string => {
    const [x, y] = [Math.cos((angle * Math.PI) / 180), -Math.sin((angle * Math.PI) / 180)];
    const [tx, ty] = [5 * x, 5 * y];
    return `M${18 * x} ${18 * y}L${tx} ${ty}M${tx + 6 * x - 3 * y} ${ty + 6 * y + 3 * x}L${tx} ${ty}L${tx + 6 * x + 3 * y} ${ty + 6 * y - 3 * x}`;
  };
  return (
    <div className="mt-2 flex items-center justify-between gap-2">
      {[
        { side: say('subject'), light: ours },
        { side: say('behind'), light: theirs },
      ].map(({ side, light }) => (
        <figure key={side} className="flex items-center gap-1">
          <svg
            width={42}
            height={42}
            viewBox="-21 -21 42 42"
            role="img"
            aria-label={say('Light on the {side}: {thing}', { side, thing: light ? `${figured(light.angle, 0)}°` : say('not known') })}
          >
            <circle r={20} fill="none" stroke="var(--color-rule)" />
            <circle r={3} fill="var(--color-ink)" />
            {light && <path d={arrow(light.angle)} fill="none" stroke="var(--color-ink)" strokeWidth={1.6} />}
          </svg>
          <figcaption className="text-[11px] leading-3.5 text-faint">
            {say('light, {side}', { side })}
            <br />
            {!light ? say('not known') : light.certainty > 0.5 ? say('clear') : light.certainty > 0.12 ? say('likely') : say('a guess')}
          </figcaption>
        </figure>
      ))}
    </div>
  );
}
