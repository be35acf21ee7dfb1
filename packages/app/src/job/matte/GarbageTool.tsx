import { Button } from '../../ui/Button';
import { Choice } from '../../ui/controls';
import { useViewOf, type GarbageShape } from '../viewStore';
import { useSubject } from './useSubject';
import { say } from '../../words/say';

/** Rough shapes: outside those that keep, and inside those that clear, nothing can be subject. */
export function GarbageTool() {
  const { subject, change } = useSubject();
  const { shape, clears, chosen, set } = useViewOf('shape', 'clears', 'chosen', 'set');
  const shapes = subject.garbage;
  const picked = chosen !== undefined && chosen < shapes.length;
  return (
    <>
      <div className="mb-1.5">
        <Choice<'keep' | 'clear'>
          label={say('What the shape does')}
          value={clears ? 'clear' : 'keep'}
          options={[
            { value: 'keep', label: say('Only inside it') },
            { value: 'clear', label: say('Nothing in it') },
          ]}
          onChange={(v) => set({ clears: v === 'clear' })}
        />
      </div>
      <Choice<GarbageShape>
        label={say('Shape')}
        value={shape}
        options={[
          { value: 'rectangle', label: say('Rectangle') },
          { value: 'ellipse', label: say('Ellipse') },
          { value: 'polygon', label: say('Polygon') },
        ]}
        onChange={(s) => set({ shape: s })}
      />
      <p className="mt-1.5 text-faint">
        {shape === 'polygon' ? say('Press for each corner; the first one again, or Enter, closes.') : say('Drag across the picture.')}{' '}
        {clears ? say('Nothing within it is subject.') : say('Outside all such shapes nothing is subject.')}
      </p>
      <div className="mt-1.5 flex gap-1.5">
        <Button
          disabled={!picked}
          title={say('Delete')}
          onClick={() => {
            set({ chosen: undefined });
            change({ garbage: shapes.filter((_, i) => i !== chosen) });
          }}
        >
          {say('Erase')}
        </Button>
        <Button disabled={shapes.length === 0} onClick={() => change({ garbage: [] })}>
          {say('Clear all')}
        </Button>
      </div>
    </>
  );
}
