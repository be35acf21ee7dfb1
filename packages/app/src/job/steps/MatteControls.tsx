import type { Trim } from '@ritaglio/core';
import { ThroughPart } from '../matte/ThroughPart';
import { Choice, Part, Tick } from '../../ui/controls';
import { useProductsOfJob } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { CutPart } from '../matte/CutPart';
import { GarbageTool } from '../matte/GarbageTool';
import { HandTool } from '../matte/HandTool';
import { KeptPart } from '../matte/KeptPart';
import { MarksTool } from '../matte/MarksTool';
import { useSubject } from '../matte/useSubject';
import { useView, type Tool } from '../viewStore';
import { figured, say } from '../../words/say';

type DrawingTool = Exclude<Tool, 'pick' | 'this' | 'gap'>;

/** How the subject is cut, what is drawn on it, and what is done to its edge. */
export function MatteControls() {
  const { subject, change, show } = useSubject();
  const { figures } = useProductsOfJob();
  const tool = useView((s) => s.tool);
  const band = useView((s) => s.band);
  const set = useView((s) => s.set);
  const { trim } = subject;
  const part = (key: keyof Trim) => ({
    param: `trim.${key}` as const,
    value: trim[key],
    onPreview: (v: number) => show({ trim: { ...trim, [key]: v } }),
    onCommit: (v: number) => change({ trim: { ...trim, [key]: v } }),
  });
  const counts: Record<DrawingTool, string> = {
    mark: say('{n, plural, one {# mark} other {# marks}}', { n: subject.marks.length }),
    hand: say('{n, plural, one {# stroke} other {# strokes}}', { n: subject.hand.length }),
    garbage: say('{n, plural, one {# shape} other {# shapes}}', { n: subject.garbage.length }),
  };
  const drawing: DrawingTool = tool === 'hand' || tool === 'garbage' ? tool : 'mark';
  return (
    <>
      <CutPart />
      <Part title="Draw" figure={counts[drawing]}>
        <div className="mb-2 border-b border-rule pb-2">
          <Choice<DrawingTool>
            label={say('What is drawn')}
            value={drawing}
            options={[
              { value: 'mark', label: say('Mark') },
              { value: 'hand', label: say('By hand') },
              { value: 'garbage', label: say('Shapes') },
            ]}
            onChange={(t) => set({ tool: t, chosen: undefined, picture: 'shot', compare: 'whole' })}
          />
        </div>
        {drawing === 'mark' ? <MarksTool /> : drawing === 'hand' ? <HandTool /> : <GarbageTool />}
      </Part>
      <ThroughPart />
      <Part title="Undecided" figure={figures.matte ? `${figured(100 * figures.matte.solved, 1)} %` : undefined}>
        <Tick label={say('Show where opacity is solved')} on={band} onChange={(on) => set({ band: on })} />
        <p className="mt-1 text-faint">{say('Edge marks widen it; inside and outside marks end it.')}</p>
      </Part>
      <Part title="Edge" figure={figures.matte ? say('soft {soft} %', { soft: figured(100 * figures.matte.soft, 1) }) : undefined}>
        <ParameterControl {...part('shift')} />
        <ParameterControl {...part('feather')} />
        <ParameterControl {...part('firmness')} />
        <ParameterControl {...part('specks')} />
      </Part>
      <KeptPart />
    </>
  );
}
