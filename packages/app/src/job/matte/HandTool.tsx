import type { HandTip } from '@ritaglio/core';
import { Button, Choice, NumberControl } from '../../ui/controls';
import { useView } from '../viewStore';
import { TipControl } from './MarksTool';
import { useSubject } from './useSubject';

/** Painting on the matte itself. */
export function HandTool() {
  const { subject, change } = useSubject();
  const { hand, tip, hardness, strength, set } = useView();
  const strokes = subject.hand;
  return (
    <>
      <Choice<HandTip>
        label="What the hand does"
        value={hand}
        options={[
          { value: 'opaque', label: 'Opaque' },
          { value: 'clear', label: 'Clear' },
          { value: 'soften', label: 'Soften' },
        ]}
        onChange={(h) => set({ hand: h })}
      />
      <TipControl tip={tip} onChange={(v) => set({ tip: v })} />
      <NumberControl
        label="Hardness"
        value={100 * hardness}
        normal={50}
        min={0}
        max={100}
        step={1}
        unit="%"
        onCommit={(v) => set({ hardness: v / 100 })}
      />
      <NumberControl
        label="Strength"
        value={100 * strength}
        normal={100}
        min={1}
        max={100}
        step={1}
        unit="%"
        onCommit={(v) => set({ strength: v / 100 })}
      />
      <div className="mt-2 flex gap-1.5">
        <Button disabled={strokes.length === 0} onClick={() => change({ hand: strokes.slice(0, -1) })}>
          Take the last off
        </Button>
        <Button disabled={strokes.length === 0} onClick={() => change({ hand: [] })}>
          Clear
        </Button>
      </div>
      <p className="mt-1.5 text-faint">With Ctrl a press goes straight on from the last stroke’s end.</p>
    </>
  );
}
