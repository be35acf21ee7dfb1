import { createHash } from 'node:crypto';
import { basename, dirname, join } from 'node:path';
import { pictureAtScale, picturesOf, readRecipe, videoFrame, type PictureSource, type Recipe, type Samples } from '@ritaglio/core';
import { looksLikeJob, readJob, readPicture } from '@ritaglio/formats';
import { clipOfVideo, type NumberedClip } from './clips';
import { bytesOf, InputError, nodeCodec } from './files';
import { nodeLetters } from './fonts';

/** Decoded pictures that are kept: a clip's frames are looked at few at a time. */
const mostDecoded = 12;

/** A recipe and its pictures from an archive, or from a recipe file beside its pictures. */
export async function jobFrom(path: string): Promise<{ recipe: Recipe; source: PictureSource; nameOf: (id: string) => string }> {
  const bytes = await bytesOf(path);
  const pictures = new Map<string, { name: string; bytes: Uint8Array }>();
  let recipe: Recipe;
  if (looksLikeJob(bytes)) {
    const job = readJob(basename(path), bytes);
    recipe = job.recipe;
    for (const p of job.pictures) pictures.set(p.id, p);
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
      pictures.set(id, { name: file, bytes: await bytesOf(join(dirname(path), file)) });
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
      return (await readPicture(name, bytes, nodeCodec)).samples;
    }
    const { name, bytes } = pictures.get(frame.file)!;
    const clip = videos.get(frame.file) ?? clipOfVideo(name, bytes);
    videos.set(frame.file, clip);
    const { frames, paths } = await clip;
    const file = paths[Math.min(frames.count - 1, frame.frame)];
    return (await readPicture(file, await bytesOf(file), nodeCodec)).samples;
  };
  const digests = new Map<string, string>();
  /** A short digest of what a picture's file holds; a frame of a video has its number behind it. */
  const contentOf = (id: string): string => {
    const frame = videoFrame(id);
    const file = frame?.file ?? id;
    const known = digests.get(file) ?? createHash('sha256').update(pictures.get(file)!.bytes).digest('hex').slice(0, 32);
    digests.set(file, known);
    return frame ? `${known}#${frame.frame}` : known;
  };
  const source: PictureSource = {
    key: contentOf,
    size: samplesOf,
    letters: nodeLetters,
    async load(id, scale, multiplied) {
      return pictureAtScale(await samplesOf(id), scale, multiplied);
    },
  };
  return { recipe, source, nameOf: (id) => pictures.get(id)?.name ?? id };
}
