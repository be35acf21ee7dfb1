import { encodeSrgb, type Samples } from '@ritaglio/core';
import { decode, type TiffIfd } from 'tiff';
import { upright } from './upright';

/** A TIFF that is not of the kinds that are read; the reason completes “it …”. */
export class TiffError extends Error {}

/** Photometric kinds. */
const whiteIsZero = 0;
const [blackIsZero, rgb, palette] = [1, 2, 3];

/** Bytes of a value, by its type. */
const sizes = [0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8];
/** Tags that lead to further directories, of which none is needed. */
const leading = [330, 34665, 34853, 40965];
/** Kinds of colour that are not read, by their number in a file. */
const others: Record<number, string | undefined> = { 5: 'of inks (CMYK)', 6: 'YCbCr, packed as a JPEG is', 8: 'Lab' };
/** More pages than this are no picture's. */
const mostPages = 10000;

/** Where the directories of a file begin, the first one first. @throws TiffError when one leads out of the file, or back to another */
function directoriesOf(view: DataView, little: boolean): number[] {
  const found = new Set<number>();
  for (let at = view.getUint32(4, little); at !== 0;) {
    const outside = at + 2 > view.byteLength || at + 6 + 12 * view.getUint16(at, little) > view.byteLength;
    if (outside || found.has(at) || found.size >= mostPages) throw new TiffError('has a directory that leads nowhere');
    found.add(at);
    const count = view.getUint16(at, little);
    for (let i = 0, entry = at + 2; i < count; i++, entry += 12) {
      const size = (sizes[view.getUint16(entry + 2, little)] ?? 1) * view.getUint32(entry + 4, little);
      if (size > 4 && view.getUint32(entry + 8, little) + size > view.byteLength) throw new TiffError('has a directory that leads nowhere');
    }
    at = view.getUint32(at + 2 + 12 * count, little);
  }
  if (found.size === 0) throw new TiffError('holds no picture');
  return [...found];
}

const viewOf = (bytes: Uint8Array): { view: DataView; little: boolean } => ({
  view: new DataView(bytes.buffer, bytes.byteOffset, bytes.length),
  little: bytes[0] === 0x49,
});

/** The first picture's size, without unpacking it. @throws TiffError, RangeError */
export function tiffSize(bytes: Uint8Array): { width: number; height: number; pages: number } {
  const { view, little } = viewOf(bytes);
  const pages = directoriesOf(view, little);
  const numberOf = (tag: number): number => {
    for (let i = 0, entry = pages[0] + 2; i < view.getUint16(pages[0], little); i++, entry += 12) {
      if (view.getUint16(entry, little) !== tag) continue;
      return view.getUint16(entry + 2, little) === 3 ? view.getUint16(entry + 8, little) : view.getUint32(entry + 8, little);
    }
    throw new TiffError('says no size');
  };
  return { width: numberOf(256), height: numberOf(257), pages: pages.length };
}

/**
 * Reads the first picture of a TIFF: grey or colour of 8 or 16 bits, palettes, or floating-point light, with opacity; upright.
 *
 * @returns its samples, and its embedded profile
 * @throws TiffError
 */
export function readTiff(bytes: Uint8Array): { samples: Samples; embedded?: Uint8Array } {
  const { bytes: lying, orientation } = asItLies(bytes);
  const [{ type, width, height }] = decode(lying, { ignoreImageData: true });
  if (![whiteIsZero, blackIsZero, rgb, palette].includes(type))
    throw new TiffError(`is not grey or RGB but ${others[type] ?? 'something else'}`);
  const [ifd] = decode(lying, { pages: [0] });
  const samples = upright(straight(plain(ifd, width, height), ifd), orientation);
  const profile = ifd.get(34675) as ArrayLike<number> | undefined;
  return { samples, ...(profile && { embedded: Uint8Array.from(profile) }) };
}

/** The file with its first picture alone, its orientation taken out, which the reader knows nothing of; and that orientation. */
function asItLies(bytes: Uint8Array): { bytes: Uint8Array; orientation: number } {
  const copy = bytes.slice();
  const { view, little } = viewOf(copy);
  const [at] = directoriesOf(view, little);
  const count = view.getUint16(at, little);
  let orientation = 1;
  for (let i = 0, entry = at + 2; i < count; i++, entry += 12) {
    const tag = view.getUint16(entry, little);
    // A tag of nobody's.
    if (leading.includes(tag)) view.setUint16(entry, 65000, little);
    if (tag !== 274) continue;
    orientation = view.getUint16(entry + 8, little);
    view.setUint16(entry + 8, 1, little);
  }
  view.setUint32(at + 2 + 12 * count, 0, little);
  return { bytes: copy, orientation };
}

function plain(ifd: TiffIfd, width: number, height: number): Samples {
  const { data } = ifd;
  const channels = data.length / (width * height);
  if (!Number.isInteger(channels) || channels < 1 || channels > 4) throw new TiffError(`has ${channels} channels`);
  if (data instanceof Uint8Array || data instanceof Uint16Array) return { width, height, channels, data };
  // Numbers with a point are light, as they are used.
  const colours = channels < 3 ? 1 : 3;
  const codes = Uint16Array.from(data, (v, i) => Math.round(65535 * (i % channels < colours ? encodeSrgb(clip(v)) : clip(v))));
  return { width, height, channels, data: codes };
}

function clip(v: number): number {
  return v > 0 ? Math.min(1, v) : 0;
}

/** Colours that were multiplied by their opacity, divided by it again. */
function straight(samples: Samples, { alpha, associatedAlpha }: TiffIfd): Samples {
  const { channels, data } = samples;
  if (!alpha || !associatedAlpha || (channels !== 2 && channels !== 4)) return samples;
  const full = data instanceof Uint16Array ? 65535 : 255;
  const out = data.slice();
  for (let i = 0; i < out.length; i += channels) {
    const a = data[i + channels - 1];
    if (a === 0 || a === full) continue;
    for (let c = 0; c < channels - 1; c++) out[i + c] = Math.min(full, Math.round((data[i + c] * full) / a));
  }
  return { ...samples, data: out };
}
