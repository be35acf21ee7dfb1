import { newRecipe, plainCard, plainLamps } from '@ritaglio/core';
import { saidOfMultiplied } from '@ritaglio/formats';
import { useLiveQuery } from 'dexie-react-hooks';
import { useDropzone } from 'react-dropzone';
import { useState } from 'react';
import { toast } from 'sonner';
import { withMultiplied } from '../../data/jobs';
import { keepPicture } from '../../data/pictures';
import { store as kept, type KeptPicture } from '../../data/store';
import { BlobImage } from '../../shelf/BlobImage';
import { Library } from '../../shelf/Library';
import { Button, Part } from '../../ui/controls';
import { refuse } from '../../ui/refuse';
import { backgroundCard, editCard } from '../edit';
import { useChange, useOpenJob, useRecipe } from '../jobContext';

/** The job's pictures, and bringing in more. */
export function PicturesControls() {
  const recipe = useRecipe();
  const { commit } = useChange();
  const { pictures, bring } = useJobPictures();
  const [library, setLibrary] = useState(false);
  const drop = useDropzone({ noClick: true, onDrop: (files) => void bring(files) });
  const behind = backgroundCard(recipe);

  const makeShot = (p: KeptPicture): void =>
    commit((r) => {
      const fresh = newRecipe(r.name, p.id, p.width, p.height);
      return {
        ...r,
        frame: fresh.frame,
        lens: { ...r.lens, across: p.width },
        subjects: r.subjects.map((s, i) =>
          i === 0 ? { ...s, shot: p.id, size: fresh.subjects[0].size, marks: [], hand: [], garbage: [], with: [] } : s,
        ),
      };
    });
  const standBehind = (p: KeptPicture): void =>
    commit((r) =>
      behind
        ? editCard(r, behind.id, ({ id, distance, placement }) => ({
            ...plainCard,
            kind: 'picture',
            picture: p.id,
            matte: null,
            lamps: plainLamps,
            id,
            distance,
            placement: { ...placement, x: 0, y: 0, scale: 1 },
          }))
        : r,
    );

  return (
    <div {...drop.getRootProps({ role: undefined, tabIndex: undefined })}>
      <Part title="In this job" figure={pictures.length}>
        <ul className="space-y-3">
          {pictures.map((p) => {
            const isShot = recipe.subjects[0].shot === p.id;
            const isBehind = behind?.kind === 'picture' && behind.picture === p.id;
            return (
              <li key={p.id} className="grid grid-cols-[5.5rem_1fr] gap-3">
                <BlobImage blob={p.blob} className="cut-corner h-15 w-22 object-cover" />
                <div className="min-w-0">
                  <p className="truncate font-semibold">{p.name}</p>
                  <p className="font-mono text-xs text-faint">
                    {p.width} × {p.height}
                  </p>
                  <p className="mt-1 flex flex-wrap gap-1.5">
                    {isShot && <span className="font-semibold">Shot</span>}
                    {isBehind && <span className="font-semibold">Behind the subject</span>}
                    {!isBehind && <Button onClick={() => standBehind(p)}>Stand behind</Button>}
                    {!isShot && <Button onClick={() => makeShot(p)}>Use as shot</Button>}
                  </p>
                  {p.multiplied && <Multiplied picture={p} />}
                  {p.notes.map((n) => (
                    <p key={n} className="mt-1 text-watch">
                      {n}
                    </p>
                  ))}
                </div>
              </li>
            );
          })}
        </ul>
      </Part>
      <Part title="Bring in">
        <input {...drop.getInputProps({ 'aria-label': 'Pictures to bring in' })} />
        <p className="mb-2 text-faint">
          {drop.isDragActive
            ? 'Let go to bring it in.'
            : 'Drop pictures here, or take one from elsewhere. A background replaces what stands behind the subject.'}
        </p>
        <div className="flex flex-wrap gap-1.5">
          <Button onClick={drop.open}>Choose files</Button>
          <Button onClick={() => setLibrary(true)}>Picture library</Button>
        </div>
      </Part>
      {library && (
        <Library
          title="Bring in a picture of the library"
          onClose={() => setLibrary(false)}
          onPick={(file) => {
            setLibrary(false);
            void bring([file]);
          }}
        />
      )}
    </div>
  );
}

/** Says that a picture's multiplication by its opacity was undone, and lets it be left as it is. */
function Multiplied({ picture }: { picture: KeptPicture }) {
  const recipe = useRecipe();
  const { commit } = useChange();
  const undone = recipe.multiplied.some((m) => m.picture === picture.id);
  return (
    <p className="mt-1 text-watch">
      {undone
        ? saidOfMultiplied(picture.name, picture.multiplied!)
        : 'Taken as it is in the file: its soft edges are multiplied by its opacity.'}{' '}
      <Button
        onClick={() =>
          commit((r) => (undone ? { ...r, multiplied: r.multiplied.filter((m) => m.picture !== picture.id) } : withMultiplied(r, picture)))
        }
      >
        {undone ? 'Leave it as it is' : 'Undo it'}
      </Button>
    </p>
  );
}

/** The pictures of the open job, and how to add files to them: `bring` gives the identifiers of those that could be read. */
export function useJobPictures(): { pictures: KeptPicture[]; bring: (files: File[]) => Promise<string[]> } {
  const { id, store } = useOpenJob();
  const pictures = useLiveQuery(async () => {
    const job = await kept.jobs.get(id);
    const found = await kept.pictures.bulkGet(job?.pictures ?? []);
    return found.filter((p): p is KeptPicture => p !== undefined);
  }, [id]);
  const bring = async (files: File[]): Promise<string[]> => {
    const brought: string[] = [];
    for (const file of files) {
      try {
        const picture = await keepPicture(file.name, file);
        await holdPicture(id, picture.id);
        brought.push(picture.id);
        picture.notes.forEach((n) => toast(n, { duration: 10_000 }));
        if (picture.multiplied) {
          store.getState().commit((r) => withMultiplied(r, picture));
          toast(saidOfMultiplied(picture.name, picture.multiplied), { duration: 10_000 });
        }
      } catch (error) {
        refuse(error);
      }
    }
    return brought;
  };
  return { pictures: pictures ?? [], bring };
}

/** Makes a picture belong to a job. */
export async function holdPicture(job: string, picture: string): Promise<void> {
  await kept.jobs
    .where('id')
    .equals(job)
    .modify((j) => {
      if (!j.pictures.includes(picture)) j.pictures.push(picture);
    });
}
