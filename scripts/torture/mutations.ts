import { newRecipe, readRecipe, seeded, type Random } from '@ritaglio/core';
import { readJob, readPicture, writeJob, writePng, writeTiff } from '@ritaglio/formats';
import sharp from 'sharp';
import { nodeCodec } from '../../packages/cli/src/files';

export const mutatedKinds = ['PNG', 'JPEG', 'WebP', 'TIFF', 'job archive', 'recipe'] as const;
export type MutatedKind = (typeof mutatedKinds)[number];

/** What came of damaged inputs of a kind. */
export interface Mutated {
  kind: MutatedKind;
  tried: number;
  /** Refused with a sentence, or read. */
  refused: number;
  read: number;
  /** Read though a checksum of the format says otherwise, and not as it was. */
  wrong: number;
  /** Anything else that was thrown. */
  uncaught: string[];
  /** The longest time that one took, ms. */
  longest: number;
}

const width = 24;
const height = 16;

/** A picture of soft colours, 8 bits. */
function codes(): Uint8Array {
  return Uint8Array.from({ length: width * height * 3 }, (_, i) => (128 + 90 * Math.sin(i * 0.37) + 30 * Math.cos(i * 0.011)) | 0);
}

/** A sound file of each kind, and how one is read; where its format has checksums, what was read has to be what was written. */
async function sound(kind: MutatedKind): Promise<{ bytes: Uint8Array; read: (bytes: Uint8Array) => Promise<string>; sums: boolean }> {
  const samples = { width, height, channels: 3, data: codes() };
  const raw = sharp(codes(), { raw: { width, height, channels: 3 } });
  const picture = async (bytes: Uint8Array): Promise<string> => {
    const { samples: s } = await readPicture('made.file', bytes, nodeCodec);
    return `${s.width} ${s.height} ${Buffer.from(s.data.buffer, s.data.byteOffset, s.data.byteLength).toString('base64')}`;
  };
  const recipe = newRecipe('made', 'shot', width, height);
  switch (kind) {
    case 'PNG':
      return { bytes: writePng(samples), read: picture, sums: true };
    case 'JPEG':
      return { bytes: new Uint8Array(await raw.jpeg({ quality: 90 }).toBuffer()), read: picture, sums: false };
    case 'WebP':
      return { bytes: new Uint8Array(await raw.webp({ quality: 90 }).toBuffer()), read: picture, sums: false };
    case 'TIFF':
      return { bytes: writeTiff(samples), read: picture, sums: false };
    case 'job archive': {
      const bytes = writeJob({ recipe, pictures: [{ id: 'shot', name: 'shot.png', bytes: writePng(samples) }] });
      const read = (b: Uint8Array): Promise<string> => {
        const job = readJob('made.zip', b);
        return Promise.resolve(JSON.stringify(job.recipe) + job.pictures.map((p) => Buffer.from(p.bytes).toString('base64')).join());
      };
      return { bytes, read, sums: true };
    }
    case 'recipe': {
      const read = (b: Uint8Array): Promise<string> => {
        let data: unknown;
        try {
          data = JSON.parse(new TextDecoder().decode(b));
        } catch {
          throw Object.assign(new Error('not valid JSON'), { name: 'FormatError' });
        }
        return Promise.resolve(JSON.stringify(readRecipe(data)));
      };
      return { bytes: new TextEncoder().encode(JSON.stringify(recipe)), read, sums: false };
    }
  }
}

/** Bytes with one to four of: bits turned, bytes set, a stretch cleared, taken out, doubled, or the end cut off. */
function damaged(bytes: Uint8Array, random: Random): Uint8Array {
  let out = bytes.slice();
  const at = (): number => Math.floor(random() * out.length);
  for (let n = 1 + Math.floor(random() * 4); n > 0 && out.length > 1; n--) {
    const from = at();
    const to = Math.min(out.length, from + 1 + Math.floor(random() * 40));
    switch (Math.floor(random() * 6)) {
      case 0:
        out[from] ^= 1 << Math.floor(random() * 8);
        break;
      case 1:
        out[from] = [0, 255, 127, 128][Math.floor(random() * 4)];
        break;
      case 2:
        out.fill(0, from, to);
        break;
      case 3:
        out = Uint8Array.from([...out.subarray(0, from), ...out.subarray(to)]);
        break;
      case 4:
        out = Uint8Array.from([...out.subarray(0, to), ...out.subarray(from)]);
        break;
      default:
        out = out.slice(0, Math.max(1, from));
    }
  }
  return out;
}

/** Reads so many damaged inputs of a kind, one after the other. The same seed damages alike. */
export async function mutations(kind: MutatedKind, count: number, seed: number): Promise<Mutated> {
  const random = seeded(seed);
  const { bytes, read, sums } = await sound(kind);
  const right = await read(bytes);
  const out: Mutated = { kind, tried: count, refused: 0, read: 0, wrong: 0, uncaught: [], longest: 0 };
  for (let i = 0; i < count; i++) {
    const input = damaged(bytes, random);
    const began = performance.now();
    try {
      const got = await read(input);
      out.read++;
      if (sums && got !== right) out.wrong++;
    } catch (error) {
      const { name, message } = error as Error;
      if (['FormatError', 'RecipeError'].includes(name) && message.length > 5) out.refused++;
      else out.uncaught.push(`${name}: ${message}`.slice(0, 160));
    }
    out.longest = Math.max(out.longest, performance.now() - began);
  }
  return out;
}
