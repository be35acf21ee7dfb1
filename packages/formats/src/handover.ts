import {
  decodeSrgb,
  encodeSrgb,
  grader,
  lightInDisplayP3,
  render,
  resizePicture,
  scaledSize,
  toRgba8,
  toSamples16,
  type CodeSpace,
  type Context,
  type Picture,
  type PictureSource,
  type ProductMemory,
  type Products,
  type Recipe,
  type Want,
} from '@ritaglio/core';
import { writeClf } from './clf';
import { writeExr } from './exr';
import { writeOpenRaster } from './openRaster';
import { withoutOpacity, writePng } from './picture';
import { pngWithProfile } from './profiles';
import { writeTiff } from './tiffWriter';

/** What leaves the house beside what a platform's own encoder writes. */
export const handoverKinds = ['png', 'png16', 'tiff16', 'ora', 'exr', 'clf'] as const;
export type HandoverKind = (typeof handoverKinds)[number];

/** The ending of each kind's files. */
export const handoverEnding: Record<HandoverKind, string> = { png: 'png', png16: 'png', tiff16: 'tif', ora: 'ora', exr: 'exr', clf: 'clf' };

/** Longest side of the small picture in a layered file, px. */
const smallSide = 256;

/**
 * A job's finished picture, its layers, its linear light or its grade as the bytes of a file.
 *
 * @param space of the codes of plain pictures, whose profile is embedded; layers are sRGB, as their format has it
 * @throws AbortError, or the source's error
 */
export async function handover(
  kind: HandoverKind,
  recipe: Recipe,
  source: PictureSource,
  context: Context,
  memory: ProductMemory,
  space: CodeSpace = 'srgb',
): Promise<Uint8Array> {
  const make = <W extends Want>(want: W): Promise<Products[W]> => render(recipe, source, want, context, memory);
  switch (kind) {
    case 'png':
      return pngWithProfile(writePng(opaque(inSpace(await make('composite'), space))), space);
    case 'png16':
      return pngWithProfile(writePng(toSamples16(inSpace(await make('composite'), space))), space);
    case 'tiff16':
      return writeTiff({ ...toSamples16(inSpace(await make('composite'), space)), space });
    case 'ora':
      return layered(await make('layers'), await make('composite'));
    case 'exr':
      return linear(make);
    case 'clf':
      return new TextEncoder().encode(writeClf(recipe.name, finishOf(recipe)));
  }
}

/** A picture's light in the primaries of a space, as its codes want it. */
export const inSpace = (p: Picture, space: CodeSpace): Picture => (space === 'srgb' ? p : lightInDisplayP3(p));

const opaque = (p: Picture) => withoutOpacity(p.width, p.height, toRgba8(p));

function layered(layers: Products['layers'], finished: Picture): Uint8Array {
  const { width, height } = finished;
  const small = scaledSize(width, height, Math.min(1, smallSide / Math.max(width, height)));
  return writeOpenRaster(
    {
      width,
      height,
      layers: layers.map(({ name, picture, opacity, blend }) => ({
        ...{ name, opacity, blend, x: 0, y: 0, hidden: false },
        samples: { width, height, channels: 4, data: Uint8Array.from(toRgba8(picture)) },
      })),
    },
    opaque(finished),
    opaque(resizePicture(finished, small.width, small.height)),
  );
}

/** Linear light, premultiplied: the whole before its finish, the subject, what is behind, opacity and distance. */
async function linear(make: <W extends Want>(want: W) => Promise<Products[W]>): Promise<Uint8Array> {
  const [laid, layers, background, cover, distances] = [
    await make('laid'),
    await make('layers'),
    await make('background'),
    await make('cover'),
    await make('distances'),
  ];
  const { width, height } = laid;
  const channels: Record<string, Float32Array> = { R: laid.r, G: laid.g, B: laid.b };
  const subject = layers.findLast((l) => l.picture.a !== undefined && l.name === 'subject')?.picture;
  if (subject?.a) {
    const { a } = subject;
    for (const [name, data] of [['R', subject.r], ['G', subject.g], ['B', subject.b]] as const) channels[`subject.${name}`] = data.map((v, p) => v * a[p]); // prettier-ignore
    channels['subject.A'] = a;
  }
  Object.assign(channels, {
    'plate.R': background.r,
    'plate.G': background.g,
    'plate.B': background.b,
    'matte.Y': cover.data,
    Z: distances.data,
  });
  return writeExr({ width, height, channels });
}

/** The grade of the whole, from and to encoded sRGB. */
export function finishOf({ finish }: Recipe): (r: number, g: number, b: number) => [number, number, number] {
  const grade = grader(finish.grade);
  const out = new Float64Array(3);
  return (r, g, b) => {
    grade(decodeSrgb(r), decodeSrgb(g), decodeSrgb(b), out);
    return [encodeSrgb(out[0]), encodeSrgb(out[1]), encodeSrgb(out[2])];
  };
}
