import { newRecipe, picturesOf, readRecipe, withPictures, type Recipe, type Samples } from '@ritaglio/core';
import { looksLikeJob, looksLikeOpenRaster, writePng } from '@ritaglio/formats';
import { withArchives } from './archives';
import { isOpenSomewhere } from './claim';
import { onCanvas, recipeOfLayers } from './layers';
import { sumOf } from './history';
import { keepFile, keepPicture } from './pictures';
import { setUp, type QuickJob } from './quickJobs';
import { Refused } from './refused';
import { store, type KeptJob, type KeptPicture } from './store';
import { say } from '../words/say';

interface DemoFile {
  recipe: unknown;
  pictures: { id: string; file: string }[];
}

function newId(): string {
  return crypto.randomUUID();
}

/** Writes a job that begins with one recipe. */
export async function keepJob(recipe: Recipe, pictures: string[], extra: Partial<KeptJob> = {}): Promise<string> {
  const id = newId();
  const sum = sumOf(recipe);
  await store.transaction('rw', store.jobs, store.states, async () => {
    await store.jobs.put({ id, name: recipe.name, changed: Date.now(), cursor: 0, head: 0, pictures, ...extra });
    await store.states.put({ job: id, number: 0, recipe, sum });
  });
  return id;
}

/** Keeps a file of a recipe: frames, videos and sounds of its clips as they are, all else as pictures that were looked into. @throws Refused */
function keepAny(recipe: Recipe, id: string, name: string, blob: Blob): Promise<KeptPicture> {
  const clip = recipe.clips.find((c) => c.sound === id || (c.from.kind === 'video' ? c.from.file === id : c.from.pictures.includes(id)));
  return clip ? keepFile(name, blob, clip.size) : keepPicture(name, blob);
}

/** Recipe with its pictures' names replaced, as far as they have others. */
function renamed(recipe: Recipe, names: Map<string, string>): Recipe {
  return withPictures(recipe, (id) => names.get(id) ?? id);
}

/** Opens a demo job: the one already kept, or a new one from the server's files. @throws Error with a sentence */
export async function openDemo(demo: string): Promise<string> {
  const kept = await store.jobs.where('demo').equals(demo).first();
  if (kept) return kept.id;
  const file = (await fetched(`/demo/jobs/${demo}.json`).then((r) => r.json())) as DemoFile;
  const recipe = readRecipe(file.recipe);
  const names = new Map<string, string>();
  for (const { id, file: path } of file.pictures) {
    const url = new URL(path, new URL('/demo/jobs/', location.href));
    const blob = await fetched(url.href).then((r) => r.blob());
    names.set(id, (await keepAny(recipe, id, url.pathname.split('/').pop()!, blob)).id);
  }
  const print = await fetched(`/demo/prints/job-${demo}.jpg`).then((r) => r.blob());
  return keepJob(renamed(recipe, names), [...names.values()], { demo, after: print });
}

async function fetched(url: string): Promise<Response> {
  const response = await fetch(url);
  if (!response.ok)
    throw new Refused(say('The server did not give {url} ({status}). Is it still running?', { url, status: response.status }));
  return response;
}

/** A new job from one dropped file: a picture, or a job archive. @throws Refused, FormatError, RecipeError */
export async function openFile(file: File, quick?: QuickJob): Promise<string> {
  // What the user brings in is not to be cleared when space runs short; a browser that asks, asks once.
  void globalThis.navigator?.storage?.persist?.().catch(() => false);
  const head = new Uint8Array(await file.slice(0, 64).arrayBuffer());
  if (looksLikeOpenRaster(head)) return openLayers(file);
  if (looksLikeJob(head)) {
    const job = await withArchives((archives) => archives.readJob(file.name, file));
    const names = new Map<string, string>();
    for (const p of job.pictures)
      names.set(p.id, (await keepAny(job.recipe, p.id, p.name, new Blob([p.bytes as Uint8Array<ArrayBuffer>]))).id);
    const id = await keepJob(renamed(job.recipe, names), [...new Set(names.values())]);
    const takes = (job.takes ?? []).map((t, i) => ({
      id: newId(),
      job: id,
      name: t.name,
      made: Date.now() + i,
      recipe: renamed(t.recipe, names),
    }));
    await store.takes.bulkPut(takes);
    return id;
  }
  const picture = await keepPicture(file.name, file, true);
  const name = await nameApart(file.name.replace(/\.[^.]+$/, ''));
  const fresh = withMultiplied(newRecipe(name, picture.id, picture.width, picture.height), picture);
  return keepJob(quick ? setUp(fresh, quick) : fresh, [picture.id], quick ? { quick } : {});
}

/** A new job from a layered picture: its layers are cards. @throws FormatError */
async function openLayers(file: File): Promise<string> {
  const { width, height, layers, merged } = await withArchives((archives) => archives.readLayers(file.name, file));
  const keep = (name: string, samples: Samples): Promise<KeptPicture> =>
    keepFile(`${name}.png`, new Blob([writePng(samples) as Uint8Array<ArrayBuffer>]), samples);
  const kept = await Promise.all(layers.map((layer) => keep(layer.name, onCanvas(layer, width, height))));
  const name = await nameApart(file.name.replace(/\.[^.]+$/, ''));
  const shot = merged ? await keep(name, merged) : kept[0];
  if (!shot) throw new Refused(say('“{name}” holds no layers and no merged picture.', { name: file.name }));
  const recipe = recipeOfLayers(name, shot.id, { width, height }, layers.map((layer, i) => ({ ...layer, picture: kept[i].id }))); // prettier-ignore
  return keepJob(recipe, [...new Set([shot.id, ...kept.map((p) => p.id)])]);
}

/** A name that no other job has: the one wanted, or that with a number. */
export async function nameApart(wanted: string): Promise<string> {
  const taken = new Set((await store.jobs.toArray()).map((j) => j.name));
  let name = wanted;
  for (let n = 2; taken.has(name); n++) name = `${wanted} ${n}`;
  return name;
}

/** Brings further pictures into a job. Those that cannot be read are told and left out. @throws Refused for the first of them, when all others are in */
export async function addFiles(id: string, files: File[]): Promise<void> {
  let refused: unknown;
  for (const file of files) {
    try {
      const picture = await keepPicture(file.name, file);
      await store.jobs
        .where('id')
        .equals(id)
        .modify((job) => void (job.pictures = [...new Set([...job.pictures, picture.id])]));
    } catch (error) {
      refused ??= error;
    }
  }
  if (refused) throw refused;
}

/** The recipe with a picture that was multiplied by its opacity made straight. */
export function withMultiplied(recipe: Recipe, picture: Pick<KeptPicture, 'id' | 'multiplied'>): Recipe {
  const over = picture.multiplied;
  if (!over || recipe.multiplied.some((m) => m.picture === picture.id)) return recipe;
  return { ...recipe, multiplied: [...recipe.multiplied, { picture: picture.id, over }] };
}

/** The job in one file. @param job whose takes go with it */
export async function archiveOf(recipe: Recipe, job?: string): Promise<Blob> {
  const takes = job === undefined ? [] : await store.takes.where('job').equals(job).sortBy('made');
  const used = [...new Set([recipe, ...takes.map((t) => t.recipe)].flatMap(picturesOf))];
  const pictures = await store.pictures.bulkGet(used);
  const held = pictures.filter((p): p is KeptPicture => p !== undefined);
  const whole = {
    recipe,
    takes: takes.map(({ name, recipe: kept }) => ({ name, recipe: kept })),
    pictures: held.map(({ id, name, blob }) => ({ id, name, blob })),
  };
  return withArchives((archives) => archives.writeJob(whole));
}

/** Removes a job, and the pictures no other job holds. @throws Refused while it is open */
export async function removeJob(id: string): Promise<void> {
  if (await isOpenSomewhere(id)) throw new Refused(say('This job is open in another tab. Close it there first; then it can be removed.'));
  await store.transaction('rw', store.jobs, store.states, store.pictures, store.takes, async () => {
    const job = await store.jobs.get(id);
    await store.jobs.delete(id);
    await store.states.where('job').equals(id).delete();
    await store.takes.where('job').equals(id).delete();
    const held = new Set((await store.jobs.toArray()).flatMap((j) => j.pictures));
    await store.pictures.bulkDelete((job?.pictures ?? []).filter((p) => !held.has(p)));
  });
}
