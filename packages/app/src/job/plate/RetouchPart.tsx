import type { RetouchTip } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Choice, Part, Tick } from '../../ui/controls';
import { TipControl } from '../matte/MarksTool';
import { useView, useViewOf } from '../viewStore';
import { RegionWay, takeTool } from './HolePart';
import { usePlate } from './usePlate';
import { ParameterControl } from '../ParameterControl';
import { figured, say } from '../../words/say';

/** Strokes on the plate, and regions of it moved. */
export function RetouchPart() {
  const { plate, change, show } = usePlate();
  const view = useView();
  const { plateTool, retouch, set } = view;
  const { moves } = plate;
  const at = view.chosen !== undefined && view.chosen < moves.length ? view.chosen : moves.length - 1;
  const move = moves[at];
  const put = (part: Partial<typeof move>): void => change({ moves: moves.map((m, i) => (i === at ? { ...m, ...part } : m)) });
  const number = (key: 'x' | 'y' | 'feather' | 'size') => ({
    param: `move.${key}` as const,
    value: move[key],
    onPreview: (v: number) => show({ moves: moves.map((m, i) => (i === at ? { ...m, [key]: v } : m)) }),
    onCommit: (v: number) => put({ [key]: v }),
  });
  return (
    <>
      <Part
        title="Retouch"
        figure={plate.retouch.length ? say('{n, plural, one {# stroke} other {# strokes}}', { n: plate.retouch.length }) : undefined}
      >
        <Choice<RetouchTip | 'no'>
          label={say('Retouch with')}
          value={plateTool === 'retouch' ? retouch : 'no'}
          options={[
            { value: 'heal', label: say('Heal') },
            { value: 'clone', label: say('Clone') },
            { value: 'paint', label: say('Paint') },
            { value: 'no', label: say('Nothing') },
          ]}
          onChange={(tip) => {
            if (tip !== 'no') set({ retouch: tip });
            takeTool(tip === 'no' ? 'look' : 'retouch');
          }}
        />
        {plateTool === 'retouch' && (
          <>
            <TipControl tip={view.tip} onChange={(v) => set({ tip: v })} />
            <ParameterControl param="hand.hardness" value={view.hardness} onCommit={(v) => set({ hardness: v })} />
            <ParameterControl param="hand.strength" value={view.strength} onCommit={(v) => set({ strength: v })} />
            {retouch === 'paint' ? (
              <label className="mt-1.5 flex items-center gap-2">
                <input
                  type="color"
                  value={view.paint}
                  className="h-6 w-10 border border-ink"
                  onChange={(e) => set({ paint: e.currentTarget.value })}
                />
                {say('Colour; with Alt a press takes it from the picture')}
              </label>
            ) : (
              <Source />
            )}
          </>
        )}
        <div className="mt-2 flex gap-1.5">
          <Button disabled={plate.retouch.length === 0} onClick={() => change({ retouch: plate.retouch.slice(0, -1) })}>
            {say('Take the last off')}
          </Button>
          <Button disabled={plate.retouch.length === 0} onClick={() => change({ retouch: [] })}>
            {say('Clear all')}
          </Button>
        </div>
      </Part>
      <Part title="Move" figure={moves.length || undefined}>
        <Button
          aria-pressed={plateTool === 'move'}
          className={plateTool === 'move' ? 'bg-tray' : ''}
          onClick={() => takeTool(plateTool === 'move' ? 'look' : 'move')}
        >
          {say('Lift a region')}
        </Button>
        {plateTool === 'move' && (
          <>
            <p className="mt-1.5 text-faint">{say('Draw around it, then drag it where it belongs.')}</p>
            <RegionWay />
          </>
        )}
        {move && (
          <>
            <ParameterControl {...number('x')} />
            <ParameterControl {...number('y')} />
            <ParameterControl {...number('size')} />
            <ParameterControl {...number('feather')} />
            <Button className="mt-1.5" onClick={() => change({ moves: moves.filter((_, i) => i !== at) })}>
              {say('Put it back')}
            </Button>
          </>
        )}
      </Part>
    </>
  );
}

/** Where clone and heal take from. */
function Source() {
  const { source, settingSource, fixedSource, flipSource, sourceSize, set } = useViewOf(
    'source',
    'settingSource',
    'fixedSource',
    'flipSource',
    'sourceSize',
    'set',
  );
  return (
    <>
      <p className={`mt-1.5 ${source ? 'text-faint' : 'text-watch'}`}>
        {say('{thing} With Alt a press sets it.', {
          thing: source
            ? say('From {source}, {source2}.', { source: figured(source[0], 0), source2: figured(source[1], 0) })
            : say('No source yet.'),
        })}
      </p>
      <div className="mt-1 flex flex-wrap items-center gap-1.5">
        <Button
          aria-pressed={settingSource}
          className={settingSource ? 'bg-tray' : ''}
          onClick={() => set({ settingSource: !settingSource })}
        >
          {say('Set the source')}
        </Button>
        <Choice<'aligned' | 'fixed'>
          label={say('The source')}
          value={fixedSource ? 'fixed' : 'aligned'}
          options={[
            { value: 'aligned', label: say('Aligned') },
            { value: 'fixed', label: say('Fixed') },
          ]}
          onChange={(v) => set({ fixedSource: v === 'fixed', sourceFor: undefined })}
        />
      </div>
      <Tick className="mt-1.5" label={say('Flip what is copied')} on={flipSource} onChange={(on) => set({ flipSource: on })} />
      <ParameterControl param="source.size" value={sourceSize} onCommit={(v) => set({ sourceSize: v })} />
    </>
  );
}
