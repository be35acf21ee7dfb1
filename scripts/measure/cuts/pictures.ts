import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { fromSamples, makePicture, seeded, toRgba8, type Mark, type Picture, type Plane } from '@ritaglio/core';
import sharp from 'sharp';
import { matteAt, pictureAt, root, strokesOf } from '../truth';

/** A picture with a known matte, for judging cuts. */
export interface CutPicture {
  /** Subject and ground: `yarn-doll`, or `yarn-doll on rigging-boat`. */
  name: string;
  subject: string;
  /** Developed on, or looked at only when a piece of work is finished; by subject. */
  half: 'open' | 'held back';
  /** Whether the picture is a photograph of its own, not one laid over another's plate. */
  own: boolean;
  load: () => Promise<{ shot: Picture; truth: Plane; marks?: Mark[] }>;
}

/** The six subjects that come with their plates, and in which half each is. */
const withPlates = {
  'yarn-doll': 'open',
  'rigging-boat': 'open',
  'night-tin': 'held back',
  'bird-cage': 'open',
  'reed-plume': 'held back',
  'bottle-ship': 'held back',
} as const;

const folder = (name: string): string => `demo/truth/cuts/${name}`;

/** The demo's own pictures with a true matte. */
const others: readonly (readonly [string, CutPicture['half'], string, string, boolean])[] = [
  ['goat', 'open', 'demo/pictures/goat-quay.jpg', 'demo/truth/goat-quay/alpha.png', true],
  ['clip, frame 0012', 'open', 'demo/truth/goat-clip/frames/0012.jpg', 'demo/truth/goat-clip/alpha/0012.png', false],
  ['clip, frame 0020', 'open', 'demo/truth/goat-clip/frames/0020.jpg', 'demo/truth/goat-clip/alpha/0020.png', false],
  ['lantern', 'held back', 'demo/pictures/lantern-greencloth.jpg', 'demo/truth/lantern-greencloth/alpha.png', true],
  ['weathervane', 'held back', 'demo/pictures/weathervane.jpg', 'demo/truth/weathervane/alpha.png', false],
];
const strokesFolder: Record<string, string> = { goat: 'goat-quay', lantern: 'lantern-greencloth' };

/** All pictures that cuts are judged on: photographs, and six subjects over each other's plates. */
export function cutPictures(): CutPicture[] {
  const names = Object.keys(withPlates) as (keyof typeof withPlates)[];
  const own = names.map((name): CutPicture => ({
    ...{ name, subject: name, half: withPlates[name], own: true },
    load: async () => ({
      shot: await pictureAt(`${folder(name)}/shot.jpg`),
      truth: await matteAt(`${folder(name)}/alpha.png`),
      marks: JSON.parse(readFileSync(join(root, folder(name), 'marks.json'), 'utf8')) as Mark[],
    }),
  }));
  const demo = others.map(([name, half, shot, alpha, strokes]): CutPicture => ({
    ...{ name, subject: name, half, own: true },
    load: async () => ({
      shot: await pictureAt(shot),
      truth: await matteAt(alpha),
      ...(strokes && { marks: [...strokesOf(strokesFolder[name])] }),
    }),
  }));
  const laid = names.flatMap((name) =>
    names
      .filter((ground) => ground !== name)
      .map((ground): CutPicture => ({
        ...{ name: `${name} on ${ground}`, subject: name, half: withPlates[name], own: false },
        load: () => laidOver(name, ground),
      })),
  );
  return [...own, ...demo, ...laid];
}

/** The file with a subject's own colours, of the pictures that have one. */
export function foregroundOf(name: string): string | undefined {
  if (name in withPlates) return `${folder(name)}/foreground.png`;
  return name in strokesFolder ? `demo/truth/${strokesFolder[name]}/foreground.png` : undefined;
}

/** Subjects that come with their plates. */
export const subjectsWithPlates = Object.keys(withPlates) as readonly (keyof typeof withPlates)[];

/** The file with the true ground of a picture, of those that have one. */
export function plateOf(name: string): string | undefined {
  if (name in withPlates) return `${folder(name)}/plate.jpg`;
  return name === 'goat' ? 'demo/truth/goat-quay/plate.jpg' : undefined;
}

/** Noise of a laid picture, standard deviation in 8-bit codes. */
const noise = 1.3;

/** A subject over another's plate, in linear light, with noise, stored as JPEG as a camera would. */
async function laidOver(name: string, ground: string): Promise<{ shot: Picture; truth: Plane }> {
  const truth = await matteAt(`${folder(name)}/alpha.png`);
  const front = await pictureAt(`${folder(name)}/foreground.png`);
  const plate = await pictureAt(`${folder(ground)}/plate.jpg`);
  const { width, height } = truth;
  const light = makePicture(width, height);
  for (const c of ['r', 'g', 'b'] as const) {
    for (let p = 0; p < truth.data.length; p++) {
      const a = truth.data[p];
      light[c][p] = Math.min(1, a * front[c][p] + (1 - a) * plate[c][p]);
    }
  }
  const codes = toRgba8(light);
  const random = seeded([...`${name} ${ground}`].reduce((hash, c) => (Math.imul(hash, 31) + c.charCodeAt(0)) | 0, 7));
  const rgb = new Uint8Array(3 * width * height);
  for (let p = 0, k = 0; k < rgb.length; p++) {
    for (let c = 0; c < 3; c++, k++) {
      const gauss = Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
      rgb[k] = Math.min(255, Math.max(0, Math.round(codes[4 * p + c] + noise * gauss)));
    }
  }
  const jpeg = await sharp(rgb, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 92 })
    .toBuffer();
  const data = new Uint8Array(await sharp(jpeg).raw().toBuffer());
  return { shot: fromSamples({ width, height, channels: 3, data }), truth };
}
