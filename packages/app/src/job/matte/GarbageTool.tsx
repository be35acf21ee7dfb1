import { Button, Choice } from '../../ui/controls';
import { useView, type GarbageShape } from '../viewStore';
import { useSubject } from './useSubject';

/** Rough shapes outside which nothing can be subject. */
export function GarbageTool() {
  const { subject, change } = useSubject();
  const { shape, chosen, set } = useView();
  const shapes = subject.garbage;
  const picked = chosen !== undefined && chosen < shapes.length;
  return (
    <>
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
        {shape === 'polygon' ? 'Press for each corner; the first one again, or Enter, closes.' : 'Drag across the picture.'} Outside all
        shapes nothing is subject.
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
