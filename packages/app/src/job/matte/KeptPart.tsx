import type { Combining } from '@ritaglio/core';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { keepPicture } from '../../data/pictures';
import { Button } from '../../ui/Button';
import { Part } from '../../ui/controls';
import { Picker } from '../../ui/Picker';
import { refuse } from '../../ui/refuse';
import { fileNameOf, save } from '../../ui/save';
import { renderer } from '../../worker/renderer';
import { useChange, useOpenJob, useProductsOfJob, useRecipe } from '../jobContext';
import { holdPicture } from '../steps/PicturesControls';
import { withoutMatte } from '../edit';
import { momentNow } from '../moments';
import { useView } from '../viewStore';
import { useSubject } from './useSubject';
import { say } from '../../words/say';

type How = Combining | 'no';

/** Mattes kept under a name, and put together with the one being made. */
export function KeptPart() {
  const recipe = useRecipe();
  const { id, store } = useOpenJob();
  const { commit } = useChange();
  const { resume } = useProductsOfJob();
  const { subject, change } = useSubject();
  const [name, setName] = useState('');
  const [busy, setBusy] = useState(false);

  const keepFile = async (file: File, called: string): Promise<void> => {
    const picture = await keepPicture(file.name, file);
    await holdPicture(id, picture.id);
    const fresh = { id: `matte-${crypto.randomUUID().slice(0, 8)}`, name: called, picture: picture.id };
    commit((r) => ({ ...r, mattes: [...r.mattes, fresh] }));
  };
  const working = (work: () => Promise<void>): void => {
    setBusy(true);
    void work()
      .catch(refuse)
      .finally(() => setBusy(false));
  };
  const written = async (): Promise<File> => {
    const now = store.getState().recipe;
    const bytes = await renderer().matteFile(momentNow(now), 1, useView.getState().subject);
    return new File([bytes], `${fileNameOf(now.name)} matte.png`, { type: 'image/png' });
  };
  const keep = (): void =>
    working(async () => {
      await keepFile(await written(), name.trim() || say('Matte {length}', { length: recipe.mattes.length + 1 }));
      setName('');
      resume();
    });
  const drop = useDropzone({
    noClick: true,
    noDrag: true,
    onDrop: (files) => working(async () => void (await Promise.all(files.map((f) => keepFile(f, f.name.replace(/\.[^.]+$/, '')))))),
  });
  const howOf = (matte: string): How => subject.with.find((w) => w.matte === matte)?.how ?? 'no';
  const put = (matte: string, how: How): void => {
    const others = subject.with.filter((w) => w.matte !== matte);
    change({ with: how === 'no' ? others : [...others, { matte, how }] });
  };

  return (
    <Part title="Kept mattes" figure={recipe.mattes.length || undefined}>
      <input {...drop.getInputProps({ 'aria-label': say('Mattes to bring in') })} />
      <div className="flex items-end gap-1.5">
        <input
          aria-label={say('Name of the matte')}
          placeholder={say('Matte {length}', { length: recipe.mattes.length + 1 })}
          value={name}
          maxLength={100}
          className="min-w-0 grow border-b border-faint bg-transparent placeholder:text-faint"
          onChange={(e) => setName(e.currentTarget.value)}
          onKeyDown={(e) => e.key === 'Enter' && keep()}
        />
        <Button disabled={busy} onClick={keep}>
          {say('Keep')}
        </Button>
      </div>
      <ul className="mt-2 space-y-1.5">
        {recipe.mattes.map((m) => (
          <li key={m.id} className="flex items-center gap-1.5">
            <span className="min-w-0 grow truncate">{m.name}</span>
            <Picker<How>
              label={say('How {name} is used', { name: m.name })}
              value={howOf(m.id)}
              options={[
                { value: 'no', label: say('not used') },
                { value: 'union', label: say('added') },
                { value: 'subtract', label: say('taken away') },
                { value: 'intersect', label: say('only where both') },
                { value: 'instead', label: say('instead') },
              ]}
              onChange={(how) => put(m.id, how)}
            />
            <Button aria-label={say('Remove {name}', { name: m.name })} onClick={() => commit((r) => withoutMatte(r, m.id))}>
              ×
            </Button>
          </li>
        ))}
      </ul>
      <div className="mt-2 flex gap-1.5">
        <Button onClick={drop.open}>{say('Bring in')}</Button>
        <Button
          disabled={busy}
          onClick={() =>
            working(async () => {
              const file = await written();
              save(file.name, file);
              resume();
            })
          }
        >
          {say('Write as PNG')}
        </Button>
      </div>
    </Part>
  );
}
