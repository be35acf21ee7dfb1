import { useLiveQuery } from 'dexie-react-hooks';
import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { toast } from 'sonner';
import { store as kept, type KeptTake } from '../../data/store';
import { BlobImage } from '../../shelf/BlobImage';
import { Button } from '../../ui/Button';
import { refuse } from '../../ui/refuse';
import { givePictures } from '../../worker/givePictures';
import { renderer } from '../../worker/renderer';
import { useChange, useOpenJob } from '../jobContext';
import { momentNow } from '../moments';
import { useView, useViewOf } from '../viewStore';
import { keepRow, keepTake } from './takes';
import { workingScale } from '../workingSide';
import { fileNameOf, save } from '../../ui/save';
import { contactSheet } from './contactSheet';
import { say } from '../../words/say';

function useTakes(): KeptTake[] {
  const { id } = useOpenJob();
  return useLiveQuery(() => kept.takes.where('job').equals(id).sortBy('made'), [id]) ?? [];
}

/** Opens the takes; says how many there are. */
export function TakesButton() {
  const takes = useTakes();
  const set = useView((s) => s.set);
  return (
    <button
      type="button"
      className="font-mono text-xs whitespace-nowrap underline"
      title={say('Takes (T keeps one)')}
      onClick={() => set({ takes: true })}
    >
      {say('{n, plural, one {# take} other {# takes}}', { n: takes.length })}
    </button>
  );
}

/** Kept states of the job: keep, look, compare, go back. */
export function Takes() {
  const { id: job, store } = useOpenJob();
  const { commit } = useChange();
  const { takes: open, take: compared, set } = useViewOf('takes', 'take', 'set');
  const takes = useTakes();
  const [name, setName] = useState('');
  const [busy, setBusy] = useState(false);

  const during = async (work: () => Promise<void>): Promise<void> => {
    setBusy(true);
    await work().catch(refuse);
    setBusy(false);
  };
  const compare = (t: KeptTake, how: 'wipe' | 'beside'): Promise<void> =>
    during(async () => {
      await givePictures(t.recipe);
      const now = momentNow(t.recipe);
      const scale = workingScale(now);
      const bitmap = await renderer().finished(now, scale);
      set({ take: { id: t.id, name: t.name, bitmap, scale }, against: 'take', compare: how, picture: 'finished', takes: false });
    });
  const back = (t: KeptTake): void => {
    commit(() => t.recipe);
    set({ takes: false });
    toast(say('Back at “{name}”. Undo brings what was before.', { name: t.name }));
  };

  const drop = (t: KeptTake): void => {
    void kept.takes.delete(t.id);
    toast(say('“{name}” was dropped.', { name: t.name }), {
      action: { label: say('Keep it after all'), onClick: () => void kept.takes.put(t) },
    });
  };

  return (
    <Dialog.Root open={open} onOpenChange={(next) => set({ takes: next })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-10 bg-[#20211f80]" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-20 max-h-[86vh] w-[56rem] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 overflow-y-auto border border-ink bg-card p-5"
        >
          <Dialog.Title className="mb-1 text-base font-bold">{say('Takes')}</Dialog.Title>
          <p className="mb-3 text-faint">{say('A take is the whole job as it stands now, under a name. Pictures are not copied.')}</p>
          <form
            className="mb-4 flex flex-wrap items-center gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              void during(() => keepTake(job, store, name)).then(() => setName(''));
            }}
          >
            <input
              aria-label={say('Name of the take')}
              className="w-56 border border-rule bg-paper px-2 py-0.5"
              placeholder={say('take {length}', { length: takes.length + 1 })}
              maxLength={80}
              value={name}
              onChange={(e) => setName(e.currentTarget.value)}
            />
            <Button type="submit" strong disabled={busy}>
              {say('Keep as a take')}
            </Button>
            <Button disabled={busy} onClick={() => void during(() => keepRow(job, store))}>
              {say('A row at f/1.4, 2, 2.8, 4, 5.6')}
            </Button>
            {takes.length > 1 && (
              <Button
                disabled={busy}
                onClick={() =>
                  void during(async () => {
                    const title = store.getState().recipe.name;
                    save(`${fileNameOf(title)} takes.png`, await contactSheet(title, takes));
                  })
                }
              >
                {say('All on one picture')}
              </Button>
            )}
            {busy && <span role="status">{say('Making prints …')}</span>}
          </form>
          {takes.length === 0 ? (
            <p>{say('None kept yet.')}</p>
          ) : (
            <ul className="grid grid-cols-4 gap-4">
              {takes.map((t) => (
                <li key={t.id}>
                  {t.print ? (
                    <BlobImage blob={t.print} className="cut-corner h-32 w-full object-cover" />
                  ) : (
                    <span className="hatch cut-corner block h-32" />
                  )}
                  <p className="mt-1 flex justify-between gap-2">
                    <span className="truncate font-semibold">{t.name}</span>
                    {compared?.id === t.id && <span className="text-faint">{say('compared')}</span>}
                  </p>
                  <p className="mt-1 flex flex-wrap gap-1">
                    <Button disabled={busy} onClick={() => void compare(t, 'wipe')}>
                      {say('Wipe')}
                    </Button>
                    <Button disabled={busy} onClick={() => void compare(t, 'beside')}>
                      {say('Beside')}
                    </Button>
                    <Button onClick={() => back(t)}>{say('Go back')}</Button>
                    <Button aria-label={say('Drop the take {name}', { name: t.name })} onClick={() => drop(t)}>
                      {say('Drop')}
                    </Button>
                  </p>
                </li>
              ))}
            </ul>
          )}
          <Dialog.Close asChild>
            <Button className="mt-4">{say('Close')}</Button>
          </Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
