import { newRecipe, defaultCard, lampsFor, type ClipRecipe, type Recipe } from '@ritaglio/core';
import { saidOfMultiplied } from '@ritaglio/formats';
import { useLiveQuery } from 'dexie-react-hooks';
import { useDropzone } from 'react-dropzone';
import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import { keepClip, keepSound, offerOf, type ClipOffer } from '../../data/clips';
import { withMultiplied } from '../../data/jobs';
import { keepPicture } from '../../data/pictures';
import { store as kept, type KeptPicture } from '../../data/store';
import { BlobImage } from '../../shelf/BlobImage';
import { ClipOfferDialog } from '../../shelf/ClipOfferDialog';
import { Library } from '../../shelf/Library';
import { Button } from '../../ui/Button';
import { Part } from '../../ui/controls';
import { usePasted } from '../../ui/pasted';
import { refuse } from '../../ui/refuse';
import { backgroundCard, editCard } from '../edit';
import { useChange, useOpenJob, useRecipe } from '../jobContext';
import { TimePart } from './TimePart';
import { renderer } from '../../worker/renderer';
import { say, told } from '../../words/say';

/** The job's pictures, and bringing in more. */
export function PicturesControls() {
  const recipe = useRecipe();
  const { commit } = useChange();
  const { pictures, bring } = useJobPictures();
  const { id } = useOpenJob();
  const [library, setLibrary] = useState(false);
  const drop = useDropzone({ noClick: true, onDrop: (files) => brought(files) });
  const behind = backgroundCard(recipe);
  const [offer, setOffer] = useState<ClipOffer>();
  /** Files dropped together may be a clip; else they are loose pictures. */
  const brought = (files: File[]): void =>
    void offerOf(files)
      .then(async (found) => {
        if (found) setOffer(found);
        else await bring(files);
      })
      .catch(refuse);

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
  const standBehind = (picture: string, size: { width: number; height: number }): void =>
    commit((r) =>
      behind
        ? editCard(r, behind.id, ({ id, distance, placement }) => ({
            ...defaultCard,
            kind: 'picture',
            picture,
            matte: null,
            lamps: lampsFor(size),
            id,
            distance,
            placement: { ...placement, x: 0, y: 0, scale: 1 },
          }))
        : r,
    );

  return (
    <div {...drop.getRootProps({ role: undefined, tabIndex: undefined })}>
      <TimePart />
      {recipe.clips.length > 0 && (
        <Part title="Clips" figure={recipe.clips.length}>
          <ul className="space-y-2">
            {recipe.clips.map((c) => (
              <li key={c.id}>
                <p className="truncate font-semibold">{c.name}</p>
                <p className="font-mono text-xs text-faint">
                  {say('{count} frames, {width} × {height}{thing}', {
                    count: c.count,
                    width: c.size.width,
                    height: c.size.height,
                    thing: c.sound === null ? '' : say(', sound'),
                  })}
                </p>
                <p className="mt-1 flex flex-wrap items-center gap-1.5">
                  {recipe.subjects[0].shot === c.id && <span className="font-semibold">{say('Shot')}</span>}
                  {behind?.kind === 'picture' && behind.picture === c.id ? (
                    <span className="font-semibold">{say('Behind the subject')}</span>
                  ) : (
                    <Button onClick={() => standBehind(c.id, c.size)}>{say('Stand behind')}</Button>
                  )}
                  <ClipSound clip={c} job={id} />
                </p>
              </li>
            ))}
          </ul>
        </Part>
      )}
      <Part title="In this job" figure={pictures.length}>
        <ul className="space-y-3">
          {pictures.map((p) => {
            const isShot = recipe.subjects[0].shot === p.id;
            const isBehind = behind?.kind === 'picture' && behind.picture === p.id;
            return (
              <li key={p.id} className="grid grid-cols-[5.5rem_1fr] gap-3">
                <BlobImage
                  blob={p.blob}
                  print={() => renderer().printOf(p.name, p.blob, 180)}
                  className="cut-corner h-15 w-22 object-cover"
                />
                <div className="min-w-0">
                  <p className="truncate font-semibold">{p.name}</p>
                  <p className="font-mono text-xs text-faint">
                    {p.width} × {p.height}
                  </p>
                  <p className="mt-1 flex flex-wrap gap-1.5">
                    {isShot && <span className="font-semibold">{say('Shot')}</span>}
                    {isBehind && <span className="font-semibold">{say('Behind the subject')}</span>}
                    {!isBehind && <Button onClick={() => standBehind(p.id, p)}>{say('Stand behind')}</Button>}
                    {!isShot && <Button onClick={() => makeShot(p)}>{say('Use as shot')}</Button>}
                  </p>
                  {p.multiplied && <Multiplied picture={p} />}
                  {p.notes.map((n) => (
                    <p key={n} className="mt-1 text-watch">
                      {told(n)}
                    </p>
                  ))}
                </div>
              </li>
            );
          })}
        </ul>
      </Part>
      <Part title="Bring in">
        <input {...drop.getInputProps({ 'aria-label': say('Pictures to bring in') })} />
        <p className="mb-2 text-faint">
          {drop.isDragActive
            ? say('Let go to bring it in.')
            : say('Drop pictures here, or take one from elsewhere. A background replaces what stands behind the subject.')}
        </p>
        <div className="flex flex-wrap gap-1.5">
          <Button onClick={drop.open}>{say('Choose files')}</Button>
          <Button onClick={() => setLibrary(true)}>{say('Picture library')}</Button>
        </div>
      </Part>
      {offer && (
        <ClipOfferDialog
          offer={offer}
          onClose={() => setOffer(undefined)}
          {...(!offer.video && {
            onLoose: () => {
              setOffer(undefined);
              void bring(offer.files);
            },
          })}
          onClip={(rate) => {
            setOffer(undefined);
            void keepClip(offer, rate)
              .then(async ({ clip, pictures: held }) => {
                for (const picture of held) await holdPicture(id, picture);
                commit((r) => withClip(r, clip));
              })
              .catch(refuse);
          }}
        />
      )}
      {library && (
        <Library
          title={say('Bring in a picture of the library')}
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

/** A sound file for a clip, or its sound away. */
function ClipSound({ clip, job }: { clip: ClipRecipe; job: string }) {
  const { commit } = useChange();
  const put = (sound: string | null): void =>
    commit((r) => ({ ...r, clips: r.clips.map((c) => (c.id === clip.id ? { ...c, sound } : c)) }));
  const drop = useDropzone({
    multiple: false,
    noClick: true,
    noDrag: true,
    onDrop: ([file]) => file && void keepSound(file).then((sound) => holdPicture(job, sound).then(() => put(sound))).catch(refuse),
  }); // prettier-ignore
  return (
    <span {...drop.getRootProps({ role: undefined, tabIndex: undefined })}>
      <input {...drop.getInputProps({ 'aria-label': say('Sound of {name}', { name: clip.name }) })} />
      {clip.sound === null ? (
        <Button onClick={drop.open}>{say('Add sound')}</Button>
      ) : (
        <Button onClick={() => put(null)}>{say('Without sound')}</Button>
      )}
    </span>
  );
}

/** The recipe with a clip among its pictures; a still lasts as long as the clip from then on. */
function withClip(recipe: Recipe, clip: ClipRecipe): Recipe {
  if (recipe.clips.some((c) => c.id === clip.id)) return recipe;
  const time = recipe.time ?? { rate: clip.rate, first: 0, last: clip.count - 1, shutter: 0 };
  return { ...recipe, time, clips: [...recipe.clips, clip] };
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
        : say('Taken as it is in the file: its soft edges are multiplied by its opacity.')}{' '}
      <Button
        onClick={() =>
          commit((r) => (undone ? { ...r, multiplied: r.multiplied.filter((m) => m.picture !== picture.id) } : withMultiplied(r, picture)))
        }
      >
        {undone ? say('Leave it as it is') : say('Undo it')}
      </Button>
    </p>
  );
}

/**
 * The pictures of the open job that can be chosen, all its files, and how to add to them: `bring` gives the identifiers of those that
 * could be read. Frames and sounds of clips are told of as their clips.
 */
export function useJobPictures(): { pictures: KeptPicture[]; files: KeptPicture[]; bring: (files: File[]) => Promise<string[]> } {
  const { id, store } = useOpenJob();
  const { clips } = useRecipe();
  const found = useLiveQuery(async () => {
    const job = await kept.jobs.get(id);
    const rows = await kept.pictures.bulkGet(job?.pictures ?? []);
    return rows.filter((p): p is KeptPicture => p !== undefined);
  }, [id]);
  const bring = async (files: File[]): Promise<string[]> => {
    const brought: string[] = [];
    for (const file of files) {
      try {
        const picture = await keepPicture(file.name, file);
        await holdPicture(id, picture.id);
        brought.push(picture.id);
        picture.notes.forEach((n) => toast(told(n), { duration: 10_000 }));
        if (picture.multiplied) {
          store.getState().commit((r) => withMultiplied(r, picture));
          toast(told(saidOfMultiplied(picture.name, picture.multiplied)), { duration: 10_000 });
        }
      } catch (error) {
        refuse(error);
      }
    }
    return brought;
  };
  const files = found ?? none;
  const pictures = useMemo(() => {
    const inClips = new Set(clips.flatMap((c) => [...(c.from.kind === 'pictures' ? c.from.pictures : [c.from.file]), c.sound]));
    return files.filter((p) => p.width > 0 && !inClips.has(p.id));
  }, [files, clips]);
  return { pictures, files, bring };
}

/** Before they have been read. */
const none: KeptPicture[] = [];

/** Takes pictures that are pasted while a job is open among its own. */
export function Pasted() {
  const { bring } = useJobPictures();
  usePasted((files) => void bring(files).then((ids) => ids.length > 0 && toast(say('What was pasted is among the job’s pictures.'))));
  return null;
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
