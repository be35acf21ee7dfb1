import { join } from 'node:path';
import {
  edgeColour,
  findScreen,
  followClip,
  frameMatte,
  groundInFrame,
  hexOf,
  matteGround,
  matteOn,
  meanOf,
  defaultPlate,
  plate,
  defaultScreen,
  unmix,
  withOpacity,
  type Context,
  type Fill,
  type MatteParams,
  type MatteProduct,
  type Picture,
  groundBehindMattes,
} from '@ritaglio/core';
import { clipFrom, frameMarksFrom, mattesFrom, outFolder, tell, wantedFrames, type NumberedClip } from './clips';
import type { Common, Figures } from './command';
import { InputError, pictureFrom, saveMatte, savePicture } from './files';

/** What the matte of a clip is asked for with. */
export interface ClipMatteOptions extends Common {
  marks?: string;
  plate?: string;
  subject?: string;
  frames?: string;
  rate?: number;
  out: string;
}

/** Mattes of all frames of a clip: by marks on some, by a screen, or by a difference. */
export async function matteClip(o: ClipMatteOptions, path: string, params: MatteParams, context: Context): Promise<Figures> {
  const clip = await clipFrom(path, context);
  const wanted = wantedFrames(o.frames, clip);
  const out = outFolder(o.out);
  const subjects = o.subject === undefined ? undefined : outFolder(o.subject);
  const { matteOf, figures } = await (params.cut === 'marks' ? followed(o, clip, context) : eachByItself(o, clip, params, context));
  const areas: number[] = [];
  for (const [k, i] of wanted.entries()) {
    const product = await matteOf(i);
    await saveMatte(join(out, `${clip.names[i]}.png`), product.matte);
    areas.push(meanOf(product.matte));
    if (subjects) {
      const { subject } = await unmix(await clip.frames.load(i), product, defaultScreen.spill, context);
      await savePicture(join(subjects, `${clip.names[i]}.png`), subject);
    }
    tell('Frame', k + 1, wanted.length);
  }
  return { ...lastingOf(wanted.length, o.rate), areas, ...figures(wanted) };
}

/** How many frames, and how long they last where a rate is given. */
export function lastingOf(frames: number, rate: number | undefined): Figures {
  return { frames, ...(rate !== undefined && { seconds: frames / rate }) };
}

interface Mattes {
  matteOf(frame: number): Promise<MatteProduct>;
  figures(wanted: number[]): Figures;
}

async function followed(o: ClipMatteOptions, clip: NumberedClip, context: Context): Promise<Mattes> {
  const marks = await frameMarksFrom(o.marks!, clip);
  const found = await followClip(clip.frames, marks, context);
  if (!found) throw new InputError(`“${o.marks}” has no inside mark: nothing says what the subject is.`);
  return {
    matteOf: (i) => frameMatte(found, i, context),
    figures: (wanted) => {
      const certainty = wanted.map((i) => found.cut.certainty[i]);
      const least = certainty.indexOf(Math.min(...certainty));
      return { certainty, doubtful: clip.numbers[wanted[least]], photographed: found.ground?.photographed ?? null };
    },
  };
}

/** Screens and differences tell in every frame; the screen’s colour is found once, so that it does not change from frame to frame. */
async function eachByItself(o: ClipMatteOptions, { frames }: NumberedClip, params: MatteParams, context: Context): Promise<Mattes> {
  const empty = o.plate === undefined ? undefined : await pictureFrom(o.plate, context);
  const { screen } = params;
  const colour = screen?.colour === 'auto' ? await screenOf(frames) : screen?.colour;
  const own: MatteParams = { ...params, ...(screen && colour !== undefined && { screen: { ...screen, colour } }) };
  const matteOf = async (i: number): Promise<MatteProduct> =>
    matteOn({ ground: await matteGround(await frames.load(i), context), ...(empty && { plate: empty }) }, own, context);
  return { matteOf, figures: () => ({ ...(colour !== undefined && { screen: colour }) }) };
}

/** The screen of the first frame that has one. @throws InputError */
async function screenOf({ count, load }: NumberedClip['frames']): Promise<string> {
  for (let i = 0; i < count; i++) {
    const found = findScreen(await load(i));
    if (found) return hexOf(...found.colour);
  }
  throw new InputError('No frame has a coloured screen that can be found: give its colour as #rrggbb.');
}

/** The ground of a clip in each of its frames, from all of them; its mattes are in a folder. */
export async function groundOfClip(clip: NumberedClip, mattes: string, context: Context): Promise<(i: number) => Promise<Picture>> {
  const { path, ground } = await foundGround(clip, mattes, context);
  return (i) => groundInFrame(ground, path, i, context).then((g) => g.picture);
}

async function foundGround(clip: NumberedClip, folder: string, context: Context): ReturnType<typeof groundBehindMattes> {
  const mattes = await mattesFrom(folder, clip, context);
  const size = await clip.frames.load(0);
  return groundBehindMattes(clip.frames, (i) => mattes(i, size), context);
}

/** Plates of all frames of a clip: from its own frames, or each by a fill. */
export async function plateClip(
  o: Common & { matte: string; frames?: string; rate?: number; grow: number | 'auto'; feather: number; out: string },
  path: string,
  fill: Fill | undefined,
  context: Context,
): Promise<Figures> {
  const clip = await clipFrom(path, context);
  const wanted = wantedFrames(o.frames, clip);
  const out = outFolder(o.out);
  const save = async (plateOf: (i: number) => Promise<Picture>): Promise<void> => {
    for (const [k, i] of wanted.entries()) {
      await savePicture(join(out, `${clip.names[i]}.png`), await plateOf(i));
      tell('Frame', k + 1, wanted.length);
    }
  };
  if (!fill) {
    const { path: camera, ground } = await foundGround(clip, o.matte, context);
    await save(async (i) => (await groundInFrame(ground, camera, i, context)).picture);
    const { photographed, disagreement } = ground;
    return { ...lastingOf(wanted.length, o.rate), photographed, invented: 1 - photographed, disagreement, fits: Math.min(...camera.fits) };
  }
  const mattes = await mattesFrom(o.matte, clip, context);
  await save(async (i) => {
    const shot = withOpacity(await clip.frames.load(i));
    const opacity = await mattes(i, shot);
    const { behind } = await edgeColour(shot, opacity, context);
    const photographed = (file: string): Promise<Picture> => pictureFrom(file, context);
    const params = { ...defaultPlate, fill, grow: o.grow, feather: o.feather };
    return (await plate({ shot, behind, matte: opacity, photographed }, params, context)).plate;
  });
  return lastingOf(wanted.length, o.rate);
}
