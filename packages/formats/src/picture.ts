import { encodeSrgb, premultipliedOver, type Samples } from '@ritaglio/core';
import { convertIndexedToRgb, decode, encode, type DecodedPng } from 'fast-png';
import { BmpError, readBmp } from './bmp';
import { FormatError, readHeader, type Header } from './header';
import { looksLikeExr, readExr, type ExrPicture } from './exr';
import { asKnown, fits, isWide, readProfile } from './icc';
import { readInks } from './inks';
import { embeddedIn } from './profiles';
import { looksLikeOpenRaster, readOpenRaster } from './openRaster';
import { readTiff, TiffError } from './tiffPicture';

/** What a platform's own decoder reads. */
export type CodecKind = 'jpeg' | 'webp' | 'gif' | 'avif';

/** What a platform's own decoder and encoder must do. */
export interface Codec {
  /**
   * Upright (orientation applied) samples of sRGB, 3 or 4 channels of 8 bits, opacity straight; of Display P3, and said to be, when the
   * file is wide.
   */
  decode(bytes: Uint8Array, type: `image/${CodecKind}`, wide: boolean): Promise<Samples>;
  /** A JPEG of opaque 8-bit RGBA samples. @param quality 1 to 100 */
  encodeJpeg(rgba: Uint8ClampedArray<ArrayBuffer>, width: number, height: number, quality: number): Promise<Uint8Array>;
}

/** A picture as read, with remarks in whole sentences. */
export interface ReadPicture {
  samples: Samples;
  notes: string[];
  /** The colour, #rrggbb, over which its colours seem to be multiplied by its opacity. The samples are as they are in the file. */
  multiplied?: string;
}

/** What is said of a picture whose multiplication was undone. */
export function saidOfMultiplied(name: string, over: string): string {
  const colour = { '#000000': 'black', '#ffffff': 'white' }[over] ?? over;
  return `“${name}” was multiplied by its opacity over ${colour}, which would make its soft edges dirty; that was undone.`;
}

/**
 * Reads JPEG, PNG (all depths, grey, palette, opacity), WebP, AVIF, TIFF, BMP, GIF, OpenEXR (one part), or the merged picture of an
 * OpenRaster file.
 *
 * @throws FormatError with a sentence that names the file
 */
export async function readPicture(name: string, bytes: Uint8Array, codec: Codec): Promise<ReadPicture> {
  if (looksLikeExr(bytes)) return { samples: lightAsSamples(name, readExr(name, bytes)), notes: [] };
  if (looksLikeOpenRaster(bytes)) {
    const { merged } = readOpenRaster(name, bytes);
    if (!merged) throw new FormatError(`“${name}” is an OpenRaster file without its merged picture. Save it again where it came from.`);
    return { samples: merged, notes: [] };
  }
  const header = readHeader(name, bytes);
  const notes: string[] = [];
  if (header.animated) notes.push(`“${name}” is ${header.kind === 'tiff' ? 'of several pages' : 'animated'}; its first picture was taken.`);
  const samples = await (header.inks ? ofInks(name, bytes, notes) : samplesOf(name, bytes, header.kind, codec, notes));
  if (isClear(samples)) notes.push(`“${name}” is transparent everywhere: there is nothing to see in it.`);
  const multiplied = premultipliedOver(samples);
  return { samples, notes, ...(multiplied && { multiplied }) };
}

/** Linear, premultiplied light as 16-bit sRGB with straight opacity; what is brighter than white is clipped. @throws FormatError */
function lightAsSamples(name: string, { width, height, channels }: ExrPicture): Samples {
  const grey = channels.Y as Float32Array | undefined;
  const colours = [channels.R ?? grey, channels.G ?? grey, channels.B ?? grey];
  if (colours.some((c) => c === undefined)) {
    throw new FormatError(`“${name}” holds no colours called R, G and B, only ${Object.keys(channels).slice(0, 6).join(', ')}. Save the picture with those names.`); // prettier-ignore
  }
  const opacity = channels.A as Float32Array | undefined;
  const count = opacity ? 4 : 3;
  const data = new Uint16Array(width * height * count);
  for (let p = 0, k = 0; p < width * height; p++, k += count) {
    const a = opacity ? Math.min(1, Math.max(0, opacity[p])) : 1;
    for (let c = 0; c < 3; c++) data[k + c] = a > 0 ? Math.round(65535 * encodeSrgb(colours[c]![p] / a)) : 0;
    if (opacity) data[k + 3] = Math.round(65535 * a);
  }
  return { width, height, channels: count, data };
}

function samplesOf(name: string, bytes: Uint8Array, kind: Header['kind'], codec: Codec, notes: string[]): Samples | Promise<Samples> {
  if (kind === 'png') return profiled(name, readPng(name, bytes), notes);
  if (kind === 'tiff')
    return profiled(
      name,
      unpackedAs(name, 'TIFF', () => readTiff(bytes)),
      notes,
    );
  if (kind === 'bmp') return unpackedAs(name, 'BMP', () => readBmp(bytes));
  return readBy(codec, name, bytes, kind);
}

/** What a reader gives, or a sentence. */
function unpackedAs<T>(name: string, kind: string, read: () => T): T {
  try {
    return read();
  } catch (error) {
    if (error instanceof BmpError || error instanceof TiffError) {
      throw new FormatError(`“${name}” is a ${kind} that cannot be read: it ${error.message}. Save it as PNG.`);
    }
    const why = error instanceof Error ? error.message.slice(0, 120).replace(/\.$/, '') : 'no reason given';
    throw new FormatError(`“${name}” is a damaged ${kind}, or one of a kind that is not known (${why}). Save it as PNG.`);
  }
}

/** Whether no pixel has any opacity. */
function isClear({ channels, data }: Samples): boolean {
  if (channels !== 2 && channels !== 4) return false;
  for (let i = channels - 1; i < data.length; i += channels) if (data[i] > 0) return false;
  return true;
}

async function ofInks(name: string, bytes: Uint8Array, notes: string[]): Promise<Samples> {
  const { samples, told } = await decodedAs(name, 'JPEG', () => readInks(bytes));
  if (!told) {
    notes.push(`“${name}” is in four inks (CMYK) and does not say which; those usual on coated paper were taken. Save it as RGB where it came from.`); // prettier-ignore
  }
  return samples;
}

function readBy(codec: Codec, name: string, bytes: Uint8Array, kind: CodecKind): Promise<Samples> {
  return decodedAs(name, kind === 'webp' ? 'WebP' : kind.toUpperCase(), () => {
    const embedded = embeddedIn(bytes);
    const profile = embedded && readProfile(embedded).profile;
    return codec.decode(bytes, `image/${kind}`, profile !== undefined && isWide(profile));
  });
}

/** What a decoder gives, or a sentence. */
async function decodedAs<T>(name: string, kind: string, decoded: () => Promise<T>): Promise<T> {
  try {
    return await decoded();
  } catch (error) {
    const why = error instanceof Error ? error.message.split('\n')[0].replace(/\.$/, '') : 'no reason given';
    throw new FormatError(`“${name}” could not be decoded as ${kind} (${why}). Export it again.`);
  }
}

/** Samples as sRGB by the profile that is embedded, if there is one. */
function profiled(name: string, { samples, embedded }: { samples: Samples; embedded?: Uint8Array }, notes: string[]): Samples {
  if (!embedded) return samples;
  const { profile, why = profile && !fits(samples, profile) ? 'it is for other channels' : undefined } = readProfile(embedded);
  if (why) notes.push(`“${name}” has a colour profile that cannot be used (${why}); its colours were taken as sRGB.`);
  return profile ? asKnown(samples, profile) : samples;
}

function readPng(name: string, bytes: Uint8Array): { samples: Samples; embedded?: Uint8Array } {
  let png: DecodedPng;
  try {
    png = decode(bytes, { checkCrc: true });
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    throw new FormatError(`“${name}” is a damaged PNG (${why.slice(0, 120).replace(/\.$/, '')}). Copy or export it again.`);
  }
  const embedded = png.iccEmbeddedProfile?.profile;
  return { samples: samplesOfPng(png), ...(embedded && { embedded }) };
}

function samplesOfPng(png: DecodedPng): Samples {
  const { width, height } = png;
  if (png.palette) {
    const channels = png.palette[0]?.length === 4 ? 4 : 3;
    return { width, height, channels, data: Uint8Array.from(convertIndexedToRgb(png)) };
  }
  const plain: Samples = png.depth < 8 ? unpacked(png) : { width, height, channels: png.channels, data: png.data };
  return png.transparency ? keyed(plain, png.transparency, png.depth) : plain;
}

/** Grey of 1, 2 or 4 bits, packed by rows, to 8 bits. */
function unpacked(png: DecodedPng): Samples {
  const { width, height, depth } = png;
  const stride = Math.ceil((width * depth) / 8);
  const most = (1 << depth) - 1;
  const data = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const bit = x * depth;
      const byte = png.data[y * stride + (bit >> 3)];
      data[y * width + x] = (((byte >> (8 - depth - (bit & 7))) & most) * 255) / most;
    }
  }
  return { width, height, channels: 1, data };
}

/** One colour named as transparent becomes clear. */
function keyed(s: Samples, key: Uint16Array, depth: number): Samples {
  const wide = s.data instanceof Uint16Array;
  const full = wide ? 65535 : 255;
  const channels = s.channels + 1;
  const data = wide ? new Uint16Array(s.width * s.height * channels) : new Uint8Array(s.width * s.height * channels);
  const wanted = Array.from(key, (k) => (depth < 8 ? (k * 255) / ((1 << depth) - 1) : k));
  for (let i = 0, from = 0, to = 0; i < s.width * s.height; i++, from += s.channels, to += channels) {
    let same = true;
    for (let c = 0; c < s.channels; c++) {
      data[to + c] = s.data[from + c];
      same &&= s.data[from + c] === wanted[c];
    }
    data[to + s.channels] = same ? 0 : full;
  }
  return { ...s, channels, data };
}

/** A PNG of interleaved 8- or 16-bit samples. */
export function writePng(s: Samples): Uint8Array {
  const depth = s.data instanceof Uint16Array ? 16 : 8;
  const data = s.data instanceof Uint16Array ? s.data : new Uint8Array(s.data.buffer, s.data.byteOffset, s.data.length);
  return encode({ width: s.width, height: s.height, channels: s.channels, depth, data }, { zlib: { level: 4 } });
}

/** 8-bit RGBA samples without their opacity. */
export function withoutOpacity(width: number, height: number, rgba: Uint8ClampedArray): Samples {
  const data = new Uint8Array(width * height * 3);
  for (let i = 0, k = 0; i < data.length; i += 3, k += 4) {
    data[i] = rgba[k];
    data[i + 1] = rgba[k + 1];
    data[i + 2] = rgba[k + 2];
  }
  return { width, height, channels: 3, data };
}
