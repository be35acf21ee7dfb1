import type { SubjectRecipe } from '@ritaglio/core';
import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useNavigate } from 'react-router';
import { Button } from '../ui/Button';
import { Picker } from '../ui/Picker';
import { chooseLighting, lighting, type Lighting } from '../ui/screen';
import { editSubject } from './edit';
import { useOpenJob, useProductsOfJob } from './jobContext';
import type { JobStore } from './jobStore';
import { keepTake } from './takes/takes';
import { dropProposal, leaveOut, nextProposal, takeProposal } from './matte/proposals';
import { turned } from './matte/tools';
import { holdWithout, letGo } from './match/hold';
import { without } from './match/parts';
import { steps, type Step } from './steps';
import { useView } from './viewStore';
import { chooseWorkingSide, workingSide, workingSides } from './workingSide';
import { LanguagePicker } from '../words/LanguagePicker';
import { say, word } from '../words/say';

type Marks = SubjectRecipe['marks'];

const list: [string, string][] = [
  [word('B, held'), word('before: the shot as it came; in Match, the picture without all of it')],
  ['W', word('wipe between before and after')],
  ['1 – 8', word('the steps')],
  [word(', and .'), word('smaller and larger tip')],
  [word('Shift while marking'), word('outside')],
  [word('Alt while marking'), word('edge')],
  [word('Ctrl while painting'), word('straight on from the last end')],
  [word('X, Delete'), word('turn, erase what is picked out')],
  [word('Enter, N, Escape'), word('a proposed subject: take it, another, drop it')],
  [word('Space, held'), word('move the picture')],
  [word('Wheel'), word('zoom at the pointer')],
  ['0', word('fit')],
  ['9', word('100 %')],
  ['L', word('loupe to the next stretch of edge, spot of the plate that shows, or place of the proof')],
  ['T', word('keep a take')],
  ['P', word('play a job that has time, and pause')],
  [word('← →, with Shift'), word('a frame, ten frames')],
  [word('Home, End'), word('first and last frame')],
  [word('[ and ]'), word('point or marked frame before and after')],
  ['K', word('a point at this frame for the number in hand')],
  [word('Alt while retouching'), word('where it is copied from; the colour of paint')],
  [word('Ctrl Z, Ctrl Shift Z'), word('undo, redo')],
  [word('Ctrl K'), word('find a control by a word')],
  [word('Tab to the picture, then arrows'), word('move the tip, with Shift finely; Space begins and ends a stroke')],
  ['?', word('this list')],
];

/** Listens to the keys of a job, and lists them. */
export function Keys({ jobId, step }: { jobId: string; step: Step }) {
  const { store } = useOpenJob();
  const navigate = useNavigate();
  const view = useView.getState;
  const set = useView((s) => s.set);
  const keys = useView((s) => s.keys);
  const { resume } = useProductsOfJob();
  const [side, setSide] = useState(workingSide);
  const [light, setLight] = useState(lighting);

  useHotkeys(
    'b',
    (e) => {
      const down = e.type === 'keydown';
      if (step !== 'match') set({ before: down });
      else if (down) void holdWithout(store, say('all of this step'), without.all);
      else letGo();
    },
    { keydown: true, keyup: true },
    [step, store],
  );
  useHotkeys('w', () => set({ compare: view().compare === 'wipe' ? 'whole' : 'wipe' }));
  useHotkeys('1,2,3,4,5,6,7,8', (e) => void navigate(`/job/${jobId}/${steps[Number(e.key) - 1]}`), { useKey: true });
  useHotkeys(',', () => set({ tip: Math.max(1, Math.round(view().tip / 1.2 - 0.5)) }), { useKey: true, splitKey: '|' });
  useHotkeys('.', () => set({ tip: Math.min(400, Math.round(view().tip * 1.2 + 0.5)) }), { useKey: true });
  useHotkeys('0', () => set({ look: undefined }), { useKey: true });
  useHotkeys('9', () => set({ look: { ...(view().look ?? middleOf(store.getState().recipe.frame)), zoom: 1 } }), { useKey: true });
  useHotkeys('t', () => void keepTake(jobId, store));
  useHotkeys('l', () => step !== 'proof' && set({ place: view().place + 1 }), [step]);
  useHotkeys('x', () => changeChosen(store, (marks, i) => marks.map((m, k) => (k === i ? { ...m, kind: turned(m.kind) } : m))));
  useHotkeys('delete, backspace', () => {
    const { tool, chosen, proposals } = view();
    if (proposals) leaveOut(store);
    else if (tool === 'garbage' && chosen !== undefined) {
      set({ chosen: undefined });
      store.getState().commit((r) => editSubject(r, (s) => ({ ...s, garbage: s.garbage.filter((_, k) => k !== chosen) })));
    } else changeChosen(store, (marks, i) => marks.filter((_, k) => k !== i), true);
  });
  useHotkeys('enter', () => takeProposal(store));
  useHotkeys('escape', () => view().proposals && dropProposal(store));
  useHotkeys('n', () => nextProposal(store));
  useHotkeys('?, shift+?', () => set({ keys: true }), { useKey: true });
  useHotkeys('mod+z', () => store.temporal.getState().undo(), { preventDefault: true });
  useHotkeys('mod+shift+z, mod+y', () => store.temporal.getState().redo(), { preventDefault: true });

  return (
    <Dialog.Root open={keys} onOpenChange={(open) => set({ keys: open })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-10 bg-[#20211f80]" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-20 max-h-[94vh] w-96 max-w-[96vw] -translate-x-1/2 -translate-y-1/2 overflow-y-auto border border-ink bg-card p-5"
        >
          <Dialog.Title className="mb-3 text-base font-bold">{say('Keys, working size, light, language')}</Dialog.Title>
          <dl className="mb-4">
            {list.map(([key, what]) => (
              <div key={key} className="flex justify-between gap-4 border-b border-rule py-1">
                <dt className="font-mono text-xs">{say(key)}</dt>
                <dd>{say(what)}</dd>
              </div>
            ))}
          </dl>
          <label className="mb-4 flex items-center justify-between gap-3">
            <span>
              {say('Working size')}
              <span className="block text-faint">{say('Smaller is quicker. What is exported is always of full size.')}</span>
            </span>
            <Picker
              label={say('Working size')}
              value={String(side)}
              options={workingSides.map((px) => ({ value: String(px), label: `${px} px` }))}
              onChange={(px) => {
                chooseWorkingSide(Number(px));
                setSide(workingSide());
                resume();
              }}
            />
          </label>
          <label className="mb-4 flex items-center justify-between gap-3">
            <span>
              {say('Interface')}
              <span className="block text-faint">{say('Both are of neutral greys.')}</span>
            </span>
            <Picker<Lighting>
              label={say('Interface light or dark')}
              value={light}
              options={[
                { value: 'system', label: say('as the system') },
                { value: 'light', label: say('light') },
                { value: 'dark', label: say('dark') },
              ]}
              onChange={(to) => {
                chooseLighting(to);
                setLight(to);
              }}
            />
          </label>
          <label className="mb-4 flex items-center justify-between gap-3">
            {say('Language')}
            <LanguagePicker />
          </label>
          <Dialog.Close asChild>
            <Button>{say('Close')}</Button>
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function middleOf(frame: { width: number; height: number }): { x: number; y: number } {
  return { x: frame.width / 2, y: frame.height / 2 };
}

/** Changes the mark that is picked out, if one is. */
function changeChosen(store: JobStore, change: (marks: Marks, index: number) => Marks, gone = false): void {
  const { tool, way, chosen, set } = useView.getState();
  if (tool !== 'mark' || way !== 'change' || chosen === undefined) return;
  if (gone) set({ chosen: undefined });
  store.getState().commit((r) => editSubject(r, (s) => ({ ...s, marks: change(s.marks, chosen) })));
}
