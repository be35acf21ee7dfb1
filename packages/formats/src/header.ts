import { tiffSize } from './tiffPicture';

/** A file that cannot be read, with one sentence: which file, what is wrong, what would work. */
export class FormatError extends Error {
  override name = 'FormatError';
}

/** What the first bytes of a file say. */
export interface Header {
  kind: 'png' | 'jpeg' | 'webp' | 'gif' | 'avif' | 'bmp' | 'tiff';
  width: number;
  height: number;
  /** More than one picture in the file; the first is read. */
  animated: boolean;
  /** Its colours are four inks, which only its own profile could tell. */
  inks?: boolean;
}

/** Largest side and largest area that are read. */
const longestSide = 30000;
const largestArea = 150e6;

const readable = 'JPEG, PNG, WebP, AVIF, TIFF, BMP, GIF, OpenEXR and OpenRaster pictures can be read.';

/**
 * Recognises a picture by its content, not by its name, and checks what can be checked before decoding: size, and
 * that the file is whole.
 *
 * @param begin only the beginning of the file is given: whether it is whole is not looked at
 * @throws FormatError
 */
export function readHeader(name: string, bytes: Uint8Array, { begin = false }: { begin?: boolean } = {}): Header {
  if (bytes.length === 0) throw new FormatError(`“${name}” is empty (0 bytes). Export or copy it again.`);
  const kinds = [pngHeader, jpegHeader, webpHeader, gifHeader, avifHeader, bmpHeader, tiffHeader];
  const header = kinds.reduce<Header | undefined>((found, kind) => found ?? kind(name, bytes, begin), undefined);
  if (!header) throw new FormatError(`“${name}” is ${looksLike(bytes)}. ${readable}`);
  const { width, height } = header;
  if (width < 1 || height < 1) throw new FormatError(`“${name}” says it is ${width} × ${height} px, which is no picture. Export it again.`);
  if (width > longestSide || height > longestSide || width * height > largestArea) {
    throw new FormatError(
      `“${name}” says it is ${width} × ${height} px; up to ${longestSide} px a side and 150 megapixels can be read. Reduce it first.`,
    );
  }
  return header;
}

function broken(name: string, what: string): FormatError {
  return new FormatError(`“${name}” is cut short or damaged: ${what}. Copy or export it again.`);
}

function startsWith(bytes: Uint8Array, signature: number[], at = 0): boolean {
  return signature.every((b, i) => bytes[at + i] === b);
}

function ascii(bytes: Uint8Array, at: number, length: number): string {
  return String.fromCharCode(...bytes.subarray(at, at + length));
}

function pngHeader(name: string, bytes: Uint8Array, begin: boolean): Header | undefined {
  if (!startsWith(bytes, [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a])) return undefined;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  if (bytes.length < 33 || ascii(bytes, 12, 4) !== 'IHDR') throw broken(name, 'its PNG header is missing');
  let animated = false;
  let ended = false;
  for (let at = 8; at + 12 <= bytes.length; at += 12 + view.getUint32(at)) {
    const chunk = ascii(bytes, at + 4, 4);
    if (chunk === 'acTL') animated = true;
    if (chunk === 'IEND') ended = true;
  }
  if (!ended && !begin) throw broken(name, 'the PNG has no end');
  return { kind: 'png', width: view.getUint32(16), height: view.getUint32(20), animated };
}

function jpegHeader(name: string, bytes: Uint8Array, begin: boolean): Header | undefined {
  if (!startsWith(bytes, [0xff, 0xd8, 0xff])) return undefined;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  let found: Header | undefined;
  for (let at = 2; at + 9 < bytes.length;) {
    if (bytes[at] !== 0xff) throw broken(name, 'a JPEG segment is not where it should be');
    const marker = bytes[at + 1];
    if (marker === 0xff) {
      at++;
      continue;
    }
    const isFrame = marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc;
    if (isFrame)
      found = {
        kind: 'jpeg',
        height: view.getUint16(at + 5),
        width: view.getUint16(at + 7),
        animated: false,
        ...(bytes[at + 9] === 4 && { inks: true }),
      };
    if (marker === 0xda) break;
    at += 2 + view.getUint16(at + 2);
  }
  if (!found) throw broken(name, 'the JPEG’s size is missing');
  if (begin) return found;
  let end = bytes.length - 1;
  while (end > 1 && !(bytes[end - 1] === 0xff && bytes[end] === 0xd9)) end--;
  // Cameras may append data after the end; a file with no end at all, or only a thumbnail's, is cut short.
  if (end < bytes.length / 2) throw broken(name, 'the JPEG has no end');
  return found;
}

function webpHeader(name: string, bytes: Uint8Array, begin: boolean): Header | undefined {
  if (!startsWith(bytes, [0x52, 0x49, 0x46, 0x46]) || ascii(bytes, 8, 4) !== 'WEBP') return undefined;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  if (bytes.length < 30 || (!begin && view.getUint32(4, true) + 8 > bytes.length)) throw broken(name, 'the WebP is shorter than it says');
  const chunk = ascii(bytes, 12, 4);
  const three = (at: number): number => bytes[at] | (bytes[at + 1] << 8) | (bytes[at + 2] << 16);
  if (chunk === 'VP8X') return { kind: 'webp', width: three(24) + 1, height: three(27) + 1, animated: (bytes[20] & 2) !== 0 };
  if (chunk === 'VP8L') {
    const bits = view.getUint32(21, true);
    return { kind: 'webp', width: (bits & 0x3fff) + 1, height: ((bits >> 14) & 0x3fff) + 1, animated: false };
  }
  if (chunk === 'VP8 ') {
    return { kind: 'webp', width: view.getUint16(26, true) & 0x3fff, height: view.getUint16(28, true) & 0x3fff, animated: false };
  }
  throw broken(name, 'the WebP holds no picture');
}

function gifHeader(name: string, bytes: Uint8Array): Header | undefined {
  const kind = ascii(bytes, 0, 6);
  if (kind !== 'GIF87a' && kind !== 'GIF89a') return undefined;
  if (bytes.length < 20) throw broken(name, 'the GIF holds no picture');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  // Only what is to be shown again and again says how often.
  const animated = ascii(bytes, 0, Math.min(bytes.length, 2048)).includes('NETSCAPE2.0');
  return { kind: 'gif', width: view.getUint16(6, true), height: view.getUint16(8, true), animated };
}

function avifHeader(name: string, bytes: Uint8Array): Header | undefined {
  if (ascii(bytes, 4, 4) !== 'ftyp' || !['avif', 'avis'].includes(ascii(bytes, 8, 4))) return undefined;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  // The sizes of all pictures within, tiles and opacity too: the largest is that of the whole.
  let [width, height] = [0, 0];
  for (let at = 12; at + 16 <= Math.min(bytes.length, 65536); at++) {
    if (bytes[at] !== 0x69 || ascii(bytes, at, 4) !== 'ispe') continue;
    [width, height] = [Math.max(width, view.getUint32(at + 8)), Math.max(height, view.getUint32(at + 12))];
  }
  if (width === 0) throw broken(name, 'the AVIF does not say its size');
  return { kind: 'avif', width, height, animated: ascii(bytes, 8, 4) === 'avis' };
}

function bmpHeader(name: string, bytes: Uint8Array): Header | undefined {
  if (ascii(bytes, 0, 2) !== 'BM') return undefined;
  if (bytes.length < 54) throw broken(name, 'the BMP holds no picture');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  return { kind: 'bmp', width: view.getInt32(18, true), height: Math.abs(view.getInt32(22, true)), animated: false };
}

function tiffHeader(name: string, bytes: Uint8Array): Header | undefined {
  if (!startsWith(bytes, [0x49, 0x49, 0x2a, 0]) && !startsWith(bytes, [0x4d, 0x4d, 0, 0x2a])) return undefined;
  try {
    const { width, height, pages } = tiffSize(bytes);
    return { kind: 'tiff', width, height, animated: pages > 1 };
  } catch {
    throw broken(name, 'the TIFF’s directory cannot be read');
  }
}

/** Names what an unreadable file seems to be, as the end of “… is”. */
function looksLike(bytes: Uint8Array): string {
  if (ascii(bytes, 0, 4) === '%PDF') return 'a PDF';
  if (ascii(bytes, 0, 2) === 'PK') return 'a zip archive, not a picture';
  if (/^\s*(<\?xml[^>]*>\s*)?(<!--[^]*?-->\s*)?<svg[\s>]/.test(ascii(bytes, 0, Math.min(bytes.length, 512))))
    return 'a drawing (SVG), not a photograph';
  if (ascii(bytes, 4, 4) === 'ftyp') return 'a film or a phone’s picture in a film container';
  const sample = bytes.subarray(0, 512);
  if (sample.every((b) => b === 9 || b === 10 || b === 13 || (b >= 32 && b < 127))) return 'a text file, not a picture';
  return 'not a picture of a known kind';
}
