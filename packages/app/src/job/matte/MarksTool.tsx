import type { MarkKind } from '@ritaglio/core';
import { useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../ui/Button';
import { Choice, type Option } from '../../ui/controls';
import { refuse } from '../../ui/refuse';
import { renderer } from '../../worker/renderer';
import { useOpenJob, useProductsOfJob, useRecipe } from '../jobContext';
import { ParameterControl } from '../ParameterControl';
import { clipOf, isOnFrame, momentNow } from '../moments';
import { useView, useViewOf, type Way } from '../viewStore';
import { lookingScale } from './pointing';
import { dropProposal, leaveOut, nextProposal, propose, takeProposal } from './proposals';
import { turned } from './tools';
import { useSubject } from './useSubject';
import { choices, say, word } from '../../words/say';

/** How marks are made, and kinds for which a way means nothing: a loop goes around anyway, a border is pressed. */
const ways: Option<Way>[] = choices({
  stroke: word('Stroke'),
  outline: word('Around'),
  polygon: word('Corners'),
  change: word('Change'),
});
const notFor: Partial<Record<Way, MarkKind[]>> = { outline: ['loop', 'trace'], polygon: ['trace'] };

const named: Record<MarkKind, string> = {
  get inside() {
    return say('An inside mark');
  },
  get outside() {
    return say('An outside mark');
  },
  get edge() {
    return say('An edge mark');
  },
  get loop() {
    return say('A loop');
  },
  trace: 'A border',
};

/** Marks: their kind, how they are made, and changing those that are there. */
export function MarksTool() {
  const { subject, change } = useSubject();
  const { mark, way, tip, chosen, set } = useViewOf('mark', 'way', 'tip', 'chosen', 'set');
  const { marks } = subject;
  const recipe = useRecipe();
  const frame = useView((s) => s.frame);
  const here = marks.filter((m) => isOnFrame(recipe, subject.shot, m, frame));
  const ofClip = clipOf(recipe, subject.shot) !== undefined;
  const picked = way === 'change' && chosen !== undefined ? marks[chosen] : undefined;
  return (
    <>
      <Choice<MarkKind>
        label={say('Kind of mark')}
        value={mark}
        options={[
          { value: 'inside', label: say('● Inside') },
          { value: 'outside', label: say('○ Outside') },
          { value: 'edge', label: say('◌ Edge') },
          { value: 'loop', label: say('◯ Loop') },
          { value: 'trace', label: say('∿ Border') },
        ]}
        onChange={(kind) =>
          set({
            mark: kind,
            picture: 'shot',
            compare: 'whole',
            ...((way === 'change' || notFor[way]?.includes(kind)) && { way: 'stroke' }),
          })
        }
      />
      {(mark === 'loop' || mark === 'trace') && way !== 'change' && (
        <p className="mt-1.5 text-faint">
          {mark === 'loop'
            ? say('Draw roughly around the subject, a little away from it: what is outside is not subject, the rest is found.')
            : say(
                'Press along the subject’s border: between two presses the line follows it. The first point closes, Enter leaves it open.',
              )}
        </p>
      )}
      <div className="mt-1.5">
        <Choice<Way>
          label={say('How marks are made')}
          value={way}
          options={ways.filter((w) => !notFor[w.value]?.includes(mark))}
          onChange={(w) => set({ way: w, chosen: undefined, picture: 'shot', compare: 'whole' })}
        />
      </div>
      {way === 'stroke' && mark !== 'loop' && mark !== 'trace' && <TipControl tip={tip} onChange={(v) => set({ tip: v })} />}
      {way === 'polygon' && mark !== 'trace' && (
        <p className="mt-1.5 text-faint">{say('Press for each corner; the first one again, or Enter, closes.')}</p>
      )}
      {way === 'change' ? (
        <>
          <p className="mt-1.5 text-faint">
            {picked
              ? say('{named} is picked out.', { named: named[picked.kind] })
              : say('Press a mark to pick it out; drag it to move it.')}
          </p>
          <div className="mt-1.5 flex gap-1.5">
            <Button
              disabled={!picked || turned(picked.kind) === picked.kind}
              title={say('Turn (X)')}
              onClick={() => change({ marks: marks.map((m, i) => (i === chosen ? { ...m, kind: turned(m.kind) } : m)) })}
            >
              {say('Turn{thing}', {
                thing: picked && turned(picked.kind) !== picked.kind ? say(' to {turned}', { turned: turned(picked.kind) }) : '',
              })}
            </Button>
            <Button
              disabled={!picked}
              title={say('Erase (Delete)')}
              onClick={() => {
                set({ chosen: undefined });
                change({ marks: marks.filter((_, i) => i !== chosen) });
              }}
            >
              {say('Erase')}
            </Button>
          </div>
        </>
      ) : (
        <div className="mt-2 flex gap-1.5">
          <Button disabled={here.length === 0} onClick={() => change({ marks: marks.filter((m) => m !== here[here.length - 1]) })}>
            {say('Take the last off')}
          </Button>
          <Button disabled={here.length === 0} onClick={() => change({ marks: marks.filter((m) => !here.includes(m)) })}>
            {ofClip ? say('Clear this frame') : say('Clear all')}
          </Button>
        </div>
      )}
      <Pointing />
      <FindSubject />
    </>
  );
}

export function TipControl({ tip, onChange }: { tip: number; onChange: (tip: number) => void }) {
  return <ParameterControl param="mark.tip" value={tip} onCommit={onChange} />;
}

/** Tools of one press: the thing itself, or a gap in it. */
function Pointing() {
  const tool = useView((s) => s.tool);
  const set = useView((s) => s.set);
  const press = (wanted: 'this' | 'gap', text: string, title: string) => (
    <Button
      strong={tool === wanted}
      aria-pressed={tool === wanted}
      title={title}
      onClick={() => set({ tool: tool === wanted ? 'mark' : wanted, picture: 'shot', compare: 'whole' })}
    >
      {text}
    </Button>
  );
  return (
    <div className="mt-2 flex flex-wrap gap-1.5">
      {press('this', say('This one …'), say('Press on the thing in the picture: what it may be is proposed'))}
      {press('gap', say('Gaps like this …'), say('Press into one gap of the subject: others like it are found'))}
    </div>
  );
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
      const list = await renderer().findSubject(momentNow(recipe), lookingScale(recipe), useView.getState().subject);
      if (list.length === 0) toast(say('Nothing stands out enough to be proposed: draw an inside mark on the subject.'));
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
        {busy ? say('Looking …') : say('Find the subject')}
      </Button>
    );
  }
  const { of, list, at } = proposals;
  if (of === 'gaps') {
    return (
      <div className="mt-2 border border-ink bg-paper p-2" role="group" aria-label={say('Proposed gaps')}>
        <p className="mb-1.5">
          <b>{list.length === 1 ? say('One gap') : say('{length} gaps', { length: list.length })}</b>{' '}
          {say('like the one you pressed; number {at} is picked out.', { at: at + 1 })}
        </p>
        <div className="flex flex-wrap gap-1.5">
          <Button strong title={say('Enter')} onClick={() => takeProposal(store)}>
            {say('Clear {length, plural, one {it} other {them}}', { length: list.length })}
          </Button>
          <Button title="N" disabled={list.length === 1} onClick={() => nextProposal(store)}>
            {say('Next')}
          </Button>
          <Button title={say('Delete')} onClick={() => leaveOut(store)}>
            {say('Leave this out')}
          </Button>
          <Button title={say('Escape')} onClick={() => dropProposal(store)}>
            {say('None')}
          </Button>
        </div>
      </div>
    );
  }
  return (
    <div className="mt-2 border border-ink bg-paper p-2" role="group" aria-label={say('Proposed subject')}>
      <p className="mb-1.5">
        <b>{say('Proposed')}</b>
        {say(', {at} of {length}. Is this the subject?', { at: at + 1, length: list.length })}
      </p>
      <div className="flex flex-wrap gap-1.5">
        <Button strong title={say('Enter')} onClick={() => takeProposal(store)}>
          {say('Take it')}
        </Button>
        {list.length > 1 && (
          <Button title="N" onClick={() => nextProposal(store)}>
            {say('Another')}
          </Button>
        )}
        <Button title={say('Escape')} onClick={() => dropProposal(store)}>
          {say('Drop it')}
        </Button>
      </div>
    </div>
  );
}
