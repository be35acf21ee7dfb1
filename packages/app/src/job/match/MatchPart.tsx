import { toneProperties, type Grade, type Recipe } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Choice, Part, Tick } from '../../ui/controls';
import { useChange, useProductsOfJob, useRecipe } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { useMatchTool } from '../useTool';
import { Without } from './hold';
import { without } from './parts';
import { figured, say } from '../../words/say';

/** Which side is moved, how far, by what is measured where, and what is left alone. */
export function MatchPart() {
  const { match } = useRecipe();
  const { matching } = useProductsOfJob().figures;
  const { preview, commit } = useChange();
  const tool = useMatchTool();
  const on = toneProperties.filter((k) => match.strengths[k] > 0);
  const strength = on.length > 0 ? Math.max(...on.map((k) => match.strengths[k])) : 1;
  // What is matched less than the rest stays so. Told from the recipe that is changed: while dragging another one is seen.
  const strong = (v: number) => (r: Recipe) => {
    const most = Math.max(...toneProperties.map((k) => r.match.strengths[k]));
    const share = (k: (typeof toneProperties)[number]): number => Math.max(0.01, v) * (r.match.strengths[k] / most);
    const strengths = Object.fromEntries(toneProperties.map((k) => [k, most > 0 ? share(k) : 0])) as typeof match.strengths;
    return { ...r, match: { ...r.match, strengths } };
  };
  const put = (part: Partial<typeof match>) => (r: Recipe) => ({ ...r, match: { ...r.match, ...part } });
  const moved = matching && [
    ...(match.moves === 'background' ? [] : [['subject', matching.subject] as const]),
    ...(match.moves === 'subject' ? [] : [['behind', matching.background] as const]),
  ];
  return (
    <Part title="Match" figure={<Without name={say('the match')} undone={without.match} />}>
      <Choice<typeof match.moves>
        label={say('Which side moves')}
        value={match.moves}
        options={[
          { value: 'subject', label: say('Subject') },
          { value: 'background', label: say('Behind') },
          { value: 'both', label: say('Half way') },
        ]}
        onChange={(moves) => commit(put({ moves }))}
      />
      <ParameterControl
        param="match.strength"
        value={strength}
        disabled={on.length === 0}
        onPreview={(v) => preview(strong(v))}
        onCommit={(v) => commit(strong(v))}
      />
      <ParameterControl
        param="match.palette"
        value={match.palette}
        onPreview={(palette) => preview(put({ palette }))}
        onCommit={(palette) => commit(put({ palette }))}
      />
      {on.length > 0 &&
        moved?.map(([side, grade]) => (
          <p key={side} className="mt-1 font-mono text-[11px]" data-testid={`solved-${side}`}>
            {side === 'subject' ? say('subject') : say('background')}: {gradeWords(grade)}
          </p>
        ))}
      <div className="mt-1.5 grid grid-cols-[5.3rem_1fr] items-center gap-x-2 gap-y-1">
        {(
          [
            [say('Subject’s'), 'ours', 'subject'],
            [say('Behind’s'), 'theirs', 'background'],
          ] as const
        ).map(([label, which, side]) => (
          <div key={side} className="contents">
            <span className="text-faint">{label}</span>
            <span className="flex gap-1.5">
              <Button {...tool(which)}>{match.references[side] ? say('Another part') : say('Point at a part')}</Button>
              {match.references[side] && (
                <Button onClick={() => commit(put({ references: { ...match.references, [side]: null } }))}>{say('All')}</Button>
              )}
            </span>
          </div>
        ))}
        <span className="text-faint">{say('Protected')}</span>
        <span>
          <Button {...tool('protect')}>{say('Pick a hue')}</Button>
        </span>
      </div>
      <Tick className="mt-1" label={say('Leave what glows')} on={match.glow} onChange={(glow) => commit(put({ glow }))} />
      {match.protect.map((h, i) => {
        const each = (change: (hue: typeof h) => typeof h | undefined) =>
          put({ protect: match.protect.flatMap((o, k) => (k === i ? (change(o) ?? []) : [o])) });
        return (
          <div key={i} className="flex items-center gap-1">
            <div className="grow">
              <ParameterControl
                param="protect.width"
                label={say('Hue {hue}° ±', { hue: figured(h.hue, 0) })}
                value={h.width}
                onPreview={(v) => preview(each((o) => ({ ...o, width: v })))}
                onCommit={(v) => commit(each((o) => ({ ...o, width: v })))}
              />
            </div>
            <Button
              aria-label={say('Protect hue {hue}° no longer', { hue: figured(h.hue, 0) })}
              onClick={() => commit(each(() => undefined))}
            >
              ×
            </Button>
          </div>
        );
      })}
    </Part>
  );
}

/** What a solved grade does, in a few figures. */
export function gradeWords(g: Grade): string {
  const signed = (v: number, digits: number): string => (v < 0 ? '−' : '+') + figured(Math.abs(v), digits);
  const told = [
    [g.temperature, 0, 'mired'],
    [g.tint, 1, 'Δu′v′'],
    [g.exposure, 2, 'st'],
    [g.black, 1, say('L* black')],
    [g.middle, 1, say('L* middle')],
    [100 * g.contrast, 0, say('contrast')],
    [100 * (g.saturation - 1), 0, say('% saturation')],
  ] as const;
  const words = told.filter(([v, digits]) => Number(v.toFixed(digits)) !== 0).map(([v, digits, unit]) => `${signed(v, digits)} ${unit}`);
  return words.length > 0 ? words.join(', ') : say('nothing to move');
}
