import { inflateSync } from 'fflate';
import { FormatError } from './header';

/** What an archive may hold: so many files, bytes each and in all, and how many times larger than packed. */
export interface ZipLimits {
  files: number;
  each: number;
  total: number;
  ratio: number;
}

const usual: ZipLimits = { files: 2000, each: 600e6, total: 2e9, ratio: 200 };
/** Files so small may be packed as tightly as they like. */
const harmless = 4e6;

interface Entry {
  file: string;
  method: number;
  crc: number;
  packed: number;
  size: number;
  at: number;
}

const crcTable = Int32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? (c >>> 1) ^ 0xedb88320 : c >>> 1;
  return c;
});

/** The CRC-32 of a zip's files. */
export function crc32(bytes: Uint8Array): number {
  let c = -1;
  for (let i = 0; i < bytes.length; i++) c = crcTable[(c ^ bytes[i]) & 255] ^ (c >>> 8);
  return ~c >>> 0;
}

function damaged(name: string, what: string): FormatError {
  return new FormatError(`“${name}” is a damaged archive: ${what}. Save or copy it again where it came from.`);
}

/** The files that a zip says it holds, from its directory at the end. @throws FormatError */
function directoryOf(name: string, bytes: Uint8Array): Entry[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  let end = bytes.length - 22;
  const least = Math.max(0, end - 65535);
  while (end >= least && view.getUint32(end, true) !== 0x06054b50) end--;
  if (end < least) throw damaged(name, 'it has no directory, so it was cut short');
  const count = view.getUint16(end + 10, true);
  let at = view.getUint32(end + 16, true);
  const entries: Entry[] = [];
  for (let i = 0; i < count; i++) {
    if (at + 46 > bytes.length || view.getUint32(at, true) !== 0x02014b50) throw damaged(name, 'its directory is broken');
    const [nameLength, extra, comment] = [28, 30, 32].map((o) => view.getUint16(at + o, true));
    entries.push({
      file: new TextDecoder().decode(bytes.subarray(at + 46, at + 46 + nameLength)),
      method: view.getUint16(at + 10, true),
      crc: view.getUint32(at + 16, true),
      packed: view.getUint32(at + 20, true),
      size: view.getUint32(at + 24, true),
      at: view.getUint32(at + 42, true),
    });
    at += 46 + nameLength + extra + comment;
  }
  return entries;
}

/**
 * Unpacks a zip whose every file is whole: sizes are looked at before anything is unpacked, checksums after.
 *
 * @throws FormatError with a sentence that names the archive and what is wrong with it
 */
export function unzipped(name: string, bytes: Uint8Array, limits: Partial<ZipLimits> = {}): Record<string, Uint8Array> {
  const { files, each, total, ratio } = { ...usual, ...limits };
  const entries = directoryOf(name, bytes);
  const size = (n: number): string => `${Math.round(n / 1e6)} MB`;
  if (entries.length > files) throw new FormatError(`“${name}” holds ${entries.length} files; up to ${files} are read.`);
  const sum = entries.reduce((s, e) => s + e.size, 0);
  if (sum > total) throw new FormatError(`“${name}” unpacks to ${size(sum)}; up to ${size(total)} are read.`);
  for (const e of entries) {
    if (e.size > each) throw new FormatError(`“${name}”: its ${e.file} unpacks to ${size(e.size)}; up to ${size(each)} are read.`);
    if (e.size > harmless && e.size > ratio * Math.max(1, e.packed)) {
      throw new FormatError(
        `“${name}”: its ${e.file} unpacks to ${Math.round(e.size / Math.max(1, e.packed))} times its size, as no picture does.`,
      );
    }
  }
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const out: Record<string, Uint8Array> = {};
  for (const e of entries) {
    if (e.file.endsWith('/')) continue;
    if (e.at + 30 > bytes.length || view.getUint32(e.at, true) !== 0x04034b50) throw damaged(name, `${e.file} is not where it should be`);
    const from = e.at + 30 + view.getUint16(e.at + 26, true) + view.getUint16(e.at + 28, true);
    const packed = bytes.subarray(from, from + e.packed);
    if (packed.length !== e.packed) throw damaged(name, `${e.file} is cut short`);
    let content: Uint8Array;
    if (e.method === 0) content = packed.slice();
    else if (e.method === 8) {
      try {
        // Room for what it says and not more, whatever it unpacks to.
        content = inflateSync(packed, { out: new Uint8Array(e.size) });
      } catch {
        throw damaged(name, `${e.file} cannot be unpacked`);
      }
    } else throw new FormatError(`“${name}”: its ${e.file} is packed in a way that cannot be read (${e.method}).`);
    if (content.length !== e.size || crc32(content) !== e.crc) throw damaged(name, `${e.file} does not match its checksum`);
    out[e.file] = content;
  }
  return out;
}
