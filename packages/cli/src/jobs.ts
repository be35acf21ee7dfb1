import { createHash } from 'node:crypto';
import { basename, dirname, join } from 'node:path';
import { pictureAtScale, picturesOf, readRecipe, videoFrame, type PictureSource, type Recipe, type Samples } from '@ritaglio/core';
import { looksLikeJob, readJob, readPicture } from '@ritaglio/formats';
import { clipOfVideo, type NumberedClip } from './clips';
import { bytesOf, InputError, nodeCodec } from './files';
import { nodeLetters } from './fonts';

/** Decoded pictures that are kept: a clip's frames are looked at few at a time. */
const mostDecoded = 12;

/** A picture's file: what it is called, a short digest of what it holds, and its bytes when they are asked for. */
interface PictureFile {
  name: string;
  digest: string;
  bytes: () => Promise<Uint8Array>;
}

const digestOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex').slice(0, 32);

/** A file beside a recipe. It is read each time it is wanted: a long clip's files are not held in memory. @throws InputError */
async function fileBeside(folder: string, name: string): Promise<PictureFile> {
  const path = join(folder, name);
  const digest = digestOf(await bytesOf(path));
  const bytes = async (): Promise<Uint8Array> => {
    const again = await bytesOf(path);
    // What was worked out under its digest would be of another picture.
    if (digestOf(again) !== digest) throw new InputError(`“${path}” was changed while it was worked with: begin again.`);
    return again;
  };
  return { name, digest, bytes };
}

/** A recipe and its pictures from an archive, or from a recipe file beside its pictures. */
export async function jobFrom(path: string): Promise<{ recipe: Recipe; source: PictureSource; nameOf: (id: string) => string }> {
  const bytes = await bytesOf(path);
  const pictures = new Map<string, PictureFile>();
  let recipe: Recipe;
  if (looksLikeJob(bytes)) {
    const job = readJob(basename(path), bytes);
    recipe = job.recipe;
    for (const { id, name, bytes } of job.pictures) {
      pictures.set(id, { name, digest: digestOf(bytes), bytes: () => Promise.resolve(bytes) });
    }
  } else {
    let data: unknown;
    try {
      data = JSON.parse(new TextDecoder().decode(bytes));
    } catch {
      throw new InputError(`“${path}” is neither a job archive nor a recipe in JSON.`);
    }
    const held = data as { recipe?: unknown; pictures?: { id: string; file: string }[] };
    recipe = readRecipe(held.recipe ?? data);
    for (const id of picturesOf(recipe)) {
      const file = held.pictures?.find((p) => p.id === id)?.file ?? id;
      pictures.set(id, await fileBeside(dirname(path), file));
    }
  }
  const read = new Map<string, Promise<Samples>>();
  const samplesOf = (id: string): Promise<Samples> => {
    const known = read.get(id) ?? decoded(id);
    read.delete(id);
    read.set(id, known);
    for (const old of read.keys()) if (read.size > mostDecoded) read.delete(old);
    return known;
  };
  const videos = new Map<string, Promise<NumberedClip>>();
  const decoded = async (id: string): Promise<Samples> => {
    const frame = videoFrame(id);
    if (!frame) {
      const { name, bytes } = pictures.get(id)!;
      return (await readPicture(name, await bytes(), nodeCodec)).samples;
    }
    const { name, bytes } = pictures.get(frame.file)!;
    const clip = videos.get(frame.file) ?? bytes().then((all) => clipOfVideo(name, all));
    videos.set(frame.file, clip);
    const { frames, paths } = await clip;
    const file = paths[Math.min(frames.count - 1, frame.frame)];
    return (await readPicture(file, await bytesOf(file), nodeCodec)).samples;
  };
  /** A frame of a video has its number behind its file's digest. */
  const contentOf = (id: string): string => {
    const frame = videoFrame(id);
    const { digest } = pictures.get(frame?.file ?? id)!;
    return frame ? `${digest}#${frame.frame}` : digest;
  };
  const source: PictureSource = {
    key: contentOf,
    size: samplesOf,
    letters: nodeLetters,
    async load(id, scale, multiplied, context) {
      return pictureAtScale(await samplesOf(id), scale, multiplied, context);
    },
  };
  return { recipe, source, nameOf: (id) => pictures.get(id)?.name ?? id };
}
