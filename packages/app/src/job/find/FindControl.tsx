import { clsx } from 'clsx';
import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useNavigate } from 'react-router';
import { about } from '../steps';
import { useView } from '../viewStore';
import { catalogue, type Found } from './catalogue';
import { foundBy } from './foundBy';
import { showControl } from './showControl';
import { say } from '../../words/say';

/** So many are listed. */
const most = 12;

/** A search over all controls of all steps: what is chosen is opened, brought into sight and given the focus. */
export function FindControl({ jobId }: { jobId: string }) {
  const open = useView((s) => s.finding);
  const set = useView((s) => s.set);
  useHotkeys('mod+k', () => set({ finding: true }), { preventDefault: true, enableOnFormTags: true });
  return (
    <Dialog.Root open={open} onOpenChange={(finding) => set({ finding })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-10 bg-[#20211f80]" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[12vh] left-1/2 z-20 w-[34rem] max-w-[96vw] -translate-x-1/2 border border-ink bg-card p-4"
          onCloseAutoFocus={(e) => e.preventDefault()}
        >
          <Dialog.Title className="mb-2 text-base font-bold">{say('Find a control')}</Dialog.Title>
          <Search jobId={jobId} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** Words, and the controls that they find. */
function Search({ jobId }: { jobId: string }) {
  const set = useView((s) => s.set);
  const navigate = useNavigate();
  const [words, setWords] = useState('');
  const [at, setAt] = useState(0);
  const spoken = catalogue.map((f) => ({ ...f, part: say(f.part), name: say(f.name) }));
  const found = foundBy(words, spoken).slice(0, most);
  const go = ({ step, part, name }: Found): void => {
    // What only all controls show is not hidden from whoever asks for it.
    set({ finding: false, quick: undefined, sheet: 'controls' });
    void navigate(`/job/${jobId}/${step}`);
    void showControl(step, part, name);
  };
  return (
    <>
      <input
        aria-label={say('Words of the control')}
        role="combobox"
        aria-expanded={found.length > 0}
        aria-controls="found-controls"
        aria-activedescendant={found.length > 0 ? `found-${at}` : undefined}
        placeholder={say('blur, grain, hair …')}
        className="w-full border border-ink bg-paper px-2 py-1 text-base"
        value={words}
        onChange={(e) => {
          setWords(e.currentTarget.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          const by = { ArrowDown: 1, ArrowUp: -1 }[e.key];
          if (by !== undefined && found.length > 0) {
            e.preventDefault();
            setAt((at + by + found.length) % found.length);
          } else if (e.key === 'Enter' && found[at]) {
            // The next thing to be focused shall not take this key.
            e.preventDefault();
            go(found[at]);
          }
        }}
      />
      <ul id="found-controls" role="listbox" aria-label={say('Controls found')} className="mt-2">
        {found.map((f, i) => (
          <li
            key={`${f.step} ${f.part} ${f.name}`}
            id={`found-${i}`}
            role="option"
            aria-selected={i === at}
            className={clsx('flex cursor-pointer justify-between gap-3 px-2 py-1', i === at && 'bg-ink text-paper')}
            onPointerEnter={() => setAt(i)}
            onClick={() => go(f)}
          >
            <span className="font-semibold">{f.name.replace(/^\W /, '')}</span>
            <span>
              {about[f.step].name} · {f.part}
            </span>
          </li>
        ))}
      </ul>
      {words.trim() !== '' && found.length === 0 && (
        <p className="mt-2 text-faint">{say('Nothing is called that. Try one word of what it does.')}</p>
      )}
    </>
  );
}
