import { readFile, writeFile } from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import {
  fromSamples,
  markSchema,
  resizePicture,
  resizeTogether,
  scaledSize,
  shapeSchema,
  sharedFloats,
  straightened,
  toRgba8,
  matteSamples16,
  toSamples16,
  type CodeSpace,
  type Context,
  type Mark,
  type Picture,
  type Plane,
  type Samples,
  type Shape,
} from '@ritaglio/core';
import {
  asKnown,
  embeddedIn,
  FormatError,
  inSpace,
  jpegWithProfile,
  pngWithProfile,
  readPicture,
  readProfile,
  saidOfMultiplied,
  withoutOpacity,
  writePng,
  type Codec,
} from '@ritaglio/formats';
import sharp, { type OutputInfo } from 'sharp';
import { collectLarge } from './collecting';
import * as v from 'valibot';

/** Bad input: one line, exit 2. */
export class InputError extends Error {
  override name = 'InputError';
}

/** JPEG and WebP by libvips. */
export const nodeCodec: Codec = {
  async decode(bytes, _type, wide) {
    const decoded = (failOn: 'error' | 'warning'): Promise<{ data: Buffer; info: OutputInfo }> =>
      (wide
        ? sharp(bytes, { failOn, limitInputPixels: 200e6 }).keepIccProfile()
        : sharp(bytes, { failOn, limitInputPixels: 200e6 }).toColourspace('srgb')
      )
        .rotate()
        .raw()
        .toBuffer({ resolveWithObject: true });
    const { data, info } = await decoded('warning').catch((error: unknown) => {
      // What was cut short is refused; other remarks about a file do no harm.
      if (/premature|truncat|too short/i.test(String(error))) throw error;
      return decoded('error');
    });
    const samples: Samples = { width: info.width, height: info.height, channels: info.channels, data: new Uint8Array(data) };
    const profile = wide ? readProfile(embeddedIn(bytes)!).profile : undefined;
    return profile ? asKnown(samples, profile) : samples;
  },
  async encodeJpeg(rgba, width, height, quality) {
    const { data } = withoutOpacity(width, height, rgba);
    return sharp(data, { raw: { width, height, channels: 3 } })
      .jpeg({ quality, chromaSubsampling: '4:4:4' })
      .toBuffer();
  },
};

/** The bytes of a file. @throws InputError when it is not there */
export async function bytesOf(path: string): Promise<Uint8Array> {
  try {
    return new Uint8Array(await readFile(path));
  } catch {
    throw new InputError(`“${path}” cannot be read: is it there?`);
  }
}

/** The samples of a picture file, and its notes on stderr. */
async function samplesOf(path: string): Promise<Samples> {
  const { samples, notes, multiplied } = await readPicture(basename(path), await bytesOf(path), nodeCodec);
  for (const note of notes) process.stderr.write(note + '\n');
  if (!multiplied) return samples;
  process.stderr.write(saidOfMultiplied(basename(path), multiplied) + '\n');
  return straightened(samples, multiplied);
}

/** A picture in linear light, reduced; in memory that the context's pool sees. */
export async function pictureFrom(path: string, context: Context, scale = context.scale): Promise<Picture> {
  const picture = fromSamples(await samplesOf(path), context);
  const { width, height } = scaledSize(picture.width, picture.height, scale);
  return resizePicture(picture, width, height);
}

/** A matte: the first channel of a picture as numbers 0 to 1, not as light. Reduced to the wanted size. */
export async function matteFrom(path: string, width: number, height: number, context: Context): Promise<Plane> {
  const s = await samplesOf(path);
  if (Math.abs(s.width / s.height - width / height) > 0.02) {
    throw new InputError(`“${path}” is ${s.width} × ${s.height} px, which is not of the picture’s shape.`);
  }
  const [plane] = await resizeTogether([firstAsPlane(s, context)], width, height, context);
  for (let i = 0; i < plane.data.length; i++) plane.data[i] = Math.min(1, Math.max(0, plane.data[i]));
  return plane;
}

/** A picture's first channel, 0 to 1. */
function firstAsPlane({ width, height, channels, data: codes }: Samples, context: Context): Plane {
  const full = codes instanceof Uint16Array ? 65535 : 255;
  const data = sharedFloats(width * height, context);
  for (let i = 0, k = 0; i < data.length; i++, k += channels) data[i] = codes[k] / full;
  return { width, height, data };
}

/** Checked data from a JSON file. @throws InputError that says where it is not right */
async function listFrom<T>(
  path: string,
  what: string,
  schema: v.GenericSchema<unknown, T>,
  pick: (data: unknown) => unknown,
): Promise<T[]> {
  let data: unknown;
  try {
    data = JSON.parse(new TextDecoder().decode(await bytesOf(path)));
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError(`“${path}” is not valid JSON; ${what} are a list.`);
  }
  const result = v.safeParse(v.array(schema), Array.isArray(data) ? data : pick(data));
  if (!result.success) {
    throw new InputError(`“${path}” does not hold ${what}: ${result.issues[0].message} at ${v.getDotPath(result.issues[0]) ?? 'the top'}.`);
  }
  return result.output;
}

/** Marks from JSON: a list, or an object that holds it as `strokes`. */
export function marksFrom(path: string): Promise<Mark[]> {
  return listFrom(path, 'marks', markSchema, (data) => (data as { strokes?: unknown }).strokes);
}

const frameMarkSchema = v.intersect([markSchema, v.object({ frame: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0))) })]);

/** The same for marks that may say which frame they are on. */
export function marksWithFrames(path: string): Promise<(Mark & { frame?: number })[]> {
  return listFrom(path, 'marks', frameMarkSchema, (data) => (data as { strokes?: unknown }).strokes);
}

/** A garbage matte's shapes from JSON: a list, or an object that holds it as `shapes`. */
export function shapesFrom(path: string): Promise<Shape[]> {
  return listFrom(path, 'shapes', shapeSchema, (data) => (data as { shapes?: unknown }).shapes);
}

/** @throws InputError with a sentence when it cannot be written */
export async function writeBytes(path: string, bytes: Uint8Array): Promise<void> {
  try {
    await writeFile(path, bytes);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOENT') throw new InputError(`“${path}” cannot be written: the folder “${dirname(path)}” is not there.`);
    const why: Record<string, string> = { EACCES: 'that is not allowed', EROFS: 'that is not allowed', ENOSPC: 'the disk is full', EISDIR: 'it is a folder' }; // prettier-ignore
    if (code !== undefined && code in why) throw new InputError(`“${path}” cannot be written: ${why[code]}.`);
    throw error;
  }
}

/** Writes a picture by its name's ending: .png (16 bits), .jpg, .webp or .avif; codes of Display P3 with their profile. */
export async function savePicture(path: string, light: Picture, space: CodeSpace = 'srgb'): Promise<void> {
  const picture = inSpace(light, space);
  // Writing takes as much again: what made the picture is let go of first.
  collectLarge(true);
  const jpeg = /\.jpe?g$/i.test(path);
  const coded = (bytes: Uint8Array): Uint8Array => (jpeg ? jpegWithProfile(bytes, space) : pngWithProfile(bytes, space));
  if (jpeg) {
    await writeBytes(path, coded(await nodeCodec.encodeJpeg(toRgba8(picture), picture.width, picture.height, 92)));
  } else if (/\.png$/i.test(path)) await writeBytes(path, coded(await png16(toSamples16(picture))));
  else if (/\.(webp|avif)$/i.test(path) && space !== 'srgb') {
    // By way of a PNG that says what it is.
    const held = sharp(
      coded(writePng({ width: picture.width, height: picture.height, channels: 4, data: toRgba8(picture) })),
    ).keepIccProfile();
    await writeBytes(path, await (/webp$/i.test(path) ? held.webp({ quality: 92 }) : held.avif({ quality: 80 })).toBuffer());
  } else if (/\.(webp|avif)$/i.test(path)) {
    const raw = { width: picture.width, height: picture.height, channels: 4 as const };
    const small = sharp(toRgba8(picture), { raw });
    await writeBytes(path, await (/webp$/i.test(path) ? small.webp({ quality: 92 }) : small.avif({ quality: 80 })).toBuffer());
  } else throw new InputError(`“${path}”: results are written as .png, .jpg, .webp or .avif.`);
}

/** A 16-bit PNG. Four times as fast here as what the application writes with, and hardly larger. */
function png16({ width, height, channels, data }: Samples & { data: Uint16Array }): Promise<Buffer> {
  return sharp(data, { raw: { width, height, channels: channels as 1 | 3 | 4 } })
    .toColourspace(channels < 3 ? 'grey16' : 'rgb16')
    .png({ compressionLevel: 2 })
    .toBuffer();
}

/** Writes a matte as a 16-bit grey PNG. */
export async function saveMatte(path: string, matte: Plane): Promise<void> {
  if (!/\.png$/i.test(path)) throw new InputError(`“${path}”: a matte is written as .png.`);
  await writeBytes(path, await png16(matteSamples16(matte)));
}

/** The sentence for any error, and its exit code. */
export function verdict(error: unknown): { line: string; code: number } {
  const bad = error instanceof InputError || error instanceof FormatError || (error instanceof Error && error.name === 'RecipeError');
  const message = error instanceof Error ? error.message : String(error);
  return { line: bad ? message : `A fault of this program: ${message}`, code: bad ? 2 : 1 };
}
