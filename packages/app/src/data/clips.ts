import { newClip, newClipRecipe, type ClipRecipe } from '@ritaglio/core';
import { readHeader } from '@ritaglio/formats';
import { renderer } from '../worker/renderer';
import { keepJob, nameApart } from './jobs';
import { contentHash, keepFile, keepPicture } from './pictures';
import { Refused } from './refused';
import { say } from '../words/say';

/** Files that may be a clip, and what there is to know of it before it is one. */
export interface ClipOffer {
  name: string;
  files: File[];
  width: number;
  height: number;
  count: number;
  /** Frames a second; of numbered pictures a guess that can be changed. */
  rate: ClipRecipe['rate'];
  video: boolean;
  sound: boolean;
}

const videoEndings = /\.(mp4|m4v|mov|webm|mkv)$/i;
const pictureEndings = /\.(png|jpe?g|webp|avif|tiff?|bmp)$/i;
/** What numbered pictures are taken for until something else is said. */
const usualRate = { frames: 24, seconds: 1 };

export const isVideo = (file: File): boolean => videoEndings.test(file.name) || file.type.startsWith('video/');

/** The last number in a file's name, and the name without it; nothing without a number. */
export function numbered(name: string): { stem: string; number: number } | undefined {
  const found = /^(.*?)(\d+)\D*$/.exec(name.replace(/\.[^.]+$/, ''));
  return found ? { stem: found[1], number: Number(found[2]) } : undefined;
}

/** Files whose names go on in numbers, in their order; nothing when they do not. */
export function inOrder<F extends { name: string }>(files: readonly F[]): F[] | undefined {
  if (files.length < 2 || !files.every((f) => pictureEndings.test(f.name))) return undefined;
  const named = files.map((file) => ({ file, ...(numbered(file.name) ?? { stem: '', number: NaN }) }));
  if (named.some((n) => Number.isNaN(n.number) || n.stem !== named[0].stem)) return undefined;
  named.sort((a, b) => a.number - b.number);
  return named.every((n, i) => i === 0 || n.number > named[i - 1].number) ? named.map((n) => n.file) : undefined;
}

/** Enough of a file to hold its header. */
const headBytes = 1 << 20;

/** A picture's size by its beginning; nothing when it does not tell it. */
async function sizeOf(file: File): Promise<{ width: number; height: number } | undefined> {
  try {
    return readHeader(file.name, new Uint8Array(await file.slice(0, headBytes).arrayBuffer()), { begin: true });
  } catch {
    return undefined;
  }
}

/** What files dropped together would be as a clip; nothing when they are loose pictures. @throws Refused */
export async function offerOf(files: File[]): Promise<ClipOffer | undefined> {
  const [first] = files;
  if (files.length === 1 && isVideo(first)) {
    const facts = await renderer().inspectVideo(first.name, first);
    if ('refusal' in facts) throw new Refused(facts.refusal);
    return { name: first.name.replace(/\.[^.]+$/, ''), files, video: true, ...facts };
  }
  const ordered = inOrder(files);
  if (!ordered) return undefined;
  const sizes = await Promise.all(ordered.map(sizeOf));
  if (sizes.some((size) => size === undefined)) return undefined;
  const { width, height } = sizes[0]!;
  if (sizes.some((s) => s!.width !== width || s!.height !== height)) return undefined;
  const name = numbered(ordered[0].name)?.stem.replace(/[\s._-]+$/, '');
  return { name: name || say('Clip'), files: ordered, width, height, count: ordered.length, rate: usualRate, video: false, sound: false };
}

/** Keeps the files of a clip and gives it as a recipe holds it. @throws Refused, FormatError */
export async function keepClip(offer: ClipOffer, rate: ClipRecipe['rate']): Promise<{ clip: ClipRecipe; pictures: string[] }> {
  const { name, files, width, height, count, video, sound } = offer;
  const size = { width, height };
  // The first one is read whole: what is no picture is told before anything is kept.
  if (!video) await keepPicture(files[0].name, files[0]);
  const pictures: string[] = [];
  for (const file of files) pictures.push((await keepFile(file.name, file, size)).id);
  const id = `clip-${await contentHash(new Blob([pictures.join()]))}`;
  const from = video ? { kind: 'video' as const, file: pictures[0] } : { kind: 'pictures' as const, pictures };
  const clip = newClip(id, name, { size, rate, count, from, sound: video && sound ? pictures[0] : null });
  return { clip, pictures: [...new Set(pictures)] };
}

/** Keeps a sound file for a clip. @returns its identifier @throws Refused */
export async function keepSound(file: File): Promise<string> {
  const facts = await renderer().inspectSound(file.name, file);
  if ('refusal' in facts) throw new Refused(facts.refusal);
  return (await keepFile(file.name, file, { width: 0, height: 0 })).id;
}

/** A new job from a clip. @throws Refused, FormatError */
export async function openClip(offer: ClipOffer, rate: ClipRecipe['rate']): Promise<string> {
  const { clip, pictures } = await keepClip(offer, rate);
  return keepJob(newClipRecipe(await nameApart(offer.name), clip), pictures);
}
