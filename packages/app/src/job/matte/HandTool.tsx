import type { HandTip } from '@ritaglio/core';
import { Button } from '../../ui/Button';
import { Choice } from '../../ui/controls';
import { useViewOf } from '../viewStore';
import { TipControl } from './MarksTool';
import { useSubject } from './useSubject';
import { ParameterControl } from '../ParameterControl';
import { say } from '../../words/say';

/** Painting on the matte itself. */
export function HandTool() {
  const { subject, change } = useSubject();
  const { hand, tip, hardness, strength, set } = useViewOf('hand', 'tip', 'hardness', 'strength', 'set');
  const strokes = subject.hand;
  return (
    <>
      <Choice<HandTip>
        label={say('What the hand does')}
        value={hand}
        options={[
          { value: 'opaque', label: say('Opaque') },
          { value: 'clear', label: say('Clear') },
          { value: 'soften', label: say('Soften') },
        ]}
        onChange={(h) => set({ hand: h })}
      />
      <TipControl tip={tip} onChange={(v) => set({ tip: v })} />
      <ParameterControl param="hand.hardness" value={hardness} onCommit={(v) => set({ hardness: v })} />
      <ParameterControl param="hand.strength" value={strength} onCommit={(v) => set({ strength: v })} />
      <div className="mt-2 flex gap-1.5">
        <Button disabled={strokes.length === 0} onClick={() => change({ hand: strokes.slice(0, -1) })}>
          {say('Take the last off')}
        </Button>
        <Button disabled={strokes.length === 0} onClick={() => change({ hand: [] })}>
          {say('Clear all')}
        </Button>
      </div>
      <p className="mt-1.5 text-faint">{say('With Ctrl a press goes straight on from the last stroke’s end.')}</p>
    </>
  );
}
