import { everywhere, type Recipe } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Tick } from '../../ui/controls';
import { Picker } from '../../ui/Picker';
import { TipControl } from '../matte/MarksTool';
import { useRecipe } from '../jobContext';
import { useEdit, type PartOf } from '../useEdit';
import type { ToolPress } from '../useTool';
import { useViewOf, type BenchTool } from '../viewStore';
import { say } from '../../words/say';

/** Where something works: within a kept matte, along a graduation, where it is painted. */
export function LimitControls(props: { part: PartOf<Recipe['finish']['limit']>; tool: (tool: BenchTool) => ToolPress; paint?: string }) {
  const { part, tool, paint = say('Paint') } = props;
  const limit = useEdit(part);
  const { tip, set } = useViewOf('tip', 'set');
  const { mattes } = useRecipe();
  const { matte, graduated, painted, outside } = limit.value;
  return (
    <>
      <div className="mt-1 flex flex-wrap items-center gap-1.5">
        <Button {...tool('graduate')}>{graduated ? say('Graduate anew') : say('Graduate')}</Button>
        <Button {...tool('limit')}>{paint}</Button>
        <Button
          disabled={!matte && !graduated && painted.length === 0}
          onClick={() => limit.commit({ ...everywhere, painted: [] } as typeof limit.value)}
        >
          {say('Everywhere')}
        </Button>
      </div>
      {mattes.length > 0 && (
        <div className="mt-1 flex items-center gap-2">
          <span className="text-faint">{say('Within')}</span>
          <Picker
            label={say('Kept matte that limits it')}
            value={matte ?? ''}
            options={[{ value: '', label: say('any matte') }, ...mattes.map((m) => ({ value: m.id, label: m.name }))]}
            onChange={(id) => limit.commit({ matte: id || null })}
          />
        </div>
      )}
      <TipControl tip={tip} onChange={(v) => set({ tip: v })} />
      <Tick className="mt-1" label={say('Outside instead')} on={outside} onChange={(v) => limit.commit({ outside: v })} />
    </>
  );
}
