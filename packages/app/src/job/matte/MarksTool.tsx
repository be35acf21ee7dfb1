import type { MarkKind } from '@ritaglio/core';
import { useState } from 'react';
import { toast } from 'sonner';
import { Button, Choice, NumberControl } from '../../ui/controls';
import { refuse } from '../../ui/refuse';
import { renderer } from '../../worker/renderer';
import { useOpenJob, useProductsOfJob } from '../jobContext';
import { useView, type Way } from '../viewStore';
import { dropProposal, propose, takeProposal } from './proposals';
import { turned } from './tools';
import { useSubject } from './useSubject';

/** Marks: their kind, how they are made, and changing those that are there. */
export function MarksTool() {
  const { subject, change } = useSubject();
  const { mark, way, tip, chosen, set } = useView();
  const { marks } = subject;
  const picked = way === 'change' && chosen !== undefined ? marks[chosen] : undefined;
  return (
    <>
      <Choice<MarkKind>
        label="Kind of mark"
        value={mark}
        options={[
          { value: 'inside', label: '● Inside' },
          { value: 'outside', label: '○ Outside' },
          { value: 'edge', label: '◌ Edge' },
        ]}
        onChange={(kind) => set({ mark: kind, picture: 'shot', compare: 'whole', ...(way === 'change' && { way: 'stroke' }) })}
      />
      <div className="mt-1.5">
        <Choice<Way>
          label="How marks are made"
          value={way}
          options={[
            { value: 'stroke', label: 'Stroke' },
            { value: 'outline', label: 'Around' },
            { value: 'polygon', label: 'Corners' },
            { value: 'change', label: 'Change' },
          ]}
          onChange={(w) => set({ way: w, chosen: undefined, picture: 'shot', compare: 'whole' })}
        />
      </div>
      {way === 'stroke' && <TipControl tip={tip} onChange={(v) => set({ tip: v })} />}
      {way === 'polygon' && <p className="mt-1.5 text-faint">Press for each corner; the first one again, or Enter, closes.</p>}
      {way === 'change' ? (
        <>
          <p className="mt-1.5 text-faint">
            {picked ? `An ${picked.kind} mark is picked out.` : 'Press a mark to pick it out; drag it to move it.'}
          </p>
          <div className="mt-1.5 flex gap-1.5">
            <Button
              disabled={!picked}
              title="Turn (X)"
              onClick={() => change({ marks: marks.map((m, i) => (i === chosen ? { ...m, kind: turned(m.kind) } : m)) })}
            >
              Turn{picked ? ` to ${turned(picked.kind)}` : ''}
            </Button>
            <Button
              disabled={!picked}
              title="Erase (Delete)"
              onClick={() => {
                set({ chosen: undefined });
                change({ marks: marks.filter((_, i) => i !== chosen) });
              }}
            >
              Erase
            </Button>
          </div>
        </>
      ) : (
        <div className="mt-2 flex gap-1.5">
          <Button disabled={marks.length === 0} onClick={() => change({ marks: marks.slice(0, -1) })}>
            Take the last off
          </Button>
          <Button disabled={marks.length === 0} onClick={() => change({ marks: [] })}>
            Clear
          </Button>
        </div>
      )}
      <FindSubject />
    </>
  );
}

export function TipControl({ tip, onChange }: { tip: number; onChange: (tip: number) => void }) {
  return <NumberControl label="Tip" value={tip} normal={28} min={1} max={400} step={1} unit="px" logarithmic onCommit={onChange} />;
}

/** A proposal without marks: looked for, shown as a draft, taken or dropped. */
function FindSubject() {
  const { store } = useOpenJob();
  const { resume } = useProductsOfJob();
  const proposals = useView((s) => s.proposals);
  const set = useView((s) => s.set);
  const [busy, setBusy] = useState(false);

  const find = async (): Promise<void> => {
    setBusy(true);
    try {
      const { recipe } = store.getState();
      const scale = Math.min(1, 900 / Math.max(recipe.frame.width, recipe.frame.height));
      const list = await renderer().findSubject(recipe, scale, useView.getState().subject);
      if (list.length === 0) toast('Nothing stands out enough to be proposed: draw an inside mark on the subject.');
      else {
        set({ picture: 'shot', compare: 'whole' });
        propose(store, list, 0);
        return;
      }
    } catch (error) {
      refuse(error);
    } finally {
      setBusy(false);
    }
    resume();
  };

  if (!proposals) {
    return (
      <Button className="mt-2" disabled={busy} onClick={() => void find()}>
        {busy ? 'Looking …' : 'Find the subject'}
      </Button>
    );
  }
  const { list, at } = proposals;
  return (
    <div className="mt-2 border border-ink bg-paper p-2" role="group" aria-label="Proposed subject">
      <p className="mb-1.5">
        <b>Proposed</b>, {at + 1} of {list.length}. Is this the subject?
      </p>
      <div className="flex flex-wrap gap-1.5">
        <Button strong title="Enter" onClick={() => takeProposal(store)}>
          Take it
        </Button>
        {list.length > 1 && (
          <Button title="N" onClick={() => propose(store, list, at + 1)}>
            Another
          </Button>
        )}
        <Button title="Escape" onClick={() => dropProposal(store)}>
          Drop it
        </Button>
      </div>
    </div>
  );
}
