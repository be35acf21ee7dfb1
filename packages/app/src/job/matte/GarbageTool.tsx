import { Button, Choice } from '../../ui/controls';
import { useView, type GarbageShape } from '../viewStore';
import { useSubject } from './useSubject';

/** Rough shapes: outside those that keep, and inside those that clear, nothing can be subject. */
export function GarbageTool() {
  const { subject, change } = useSubject();
  const { shape, clears, chosen, set } = useView();
  const shapes = subject.garbage;
  const picked = chosen !== undefined && chosen < shapes.length;
  return (
    <>
      <div className="mb-1.5">
        <Choice<'keep' | 'clear'>
          label="What the shape does"
          value={clears ? 'clear' : 'keep'}
          options={[
            { value: 'keep', label: 'Only inside it' },
            { value: 'clear', label: 'Nothing in it' },
          ]}
          onChange={(v) => set({ clears: v === 'clear' })}
        />
      </div>
      <Choice<GarbageShape>
        label="Shape"
        value={shape}
        options={[
          { value: 'rectangle', label: 'Rectangle' },
          { value: 'ellipse', label: 'Ellipse' },
          { value: 'polygon', label: 'Polygon' },
        ]}
        onChange={(s) => set({ shape: s })}
      />
      <p className="mt-1.5 text-faint">
        {shape === 'polygon' ? 'Press for each corner; the first one again, or Enter, closes.' : 'Drag across the picture.'}{' '}
        {clears ? 'Nothing within it is subject.' : 'Outside all such shapes nothing is subject.'}
      </p>
      <div className="mt-1.5 flex gap-1.5">
        <Button
          disabled={!picked}
          title="Delete"
          onClick={() => {
            set({ chosen: undefined });
            change({ garbage: shapes.filter((_, i) => i !== chosen) });
          }}
        >
          Erase
        </Button>
        <Button disabled={shapes.length === 0} onClick={() => change({ garbage: [] })}>
          Clear
        </Button>
      </div>
    </>
  );
}
