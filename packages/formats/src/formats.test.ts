import { newRecipe } from '@ritaglio/core';
import { encode } from 'fast-png';
import fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { FormatError, readHeader } from './header';
import { looksLikeJob, readJob, writeJob } from './job';
import { readPicture, saidOfMultiplied, withoutOpacity, writePng, type Codec } from './picture';

/** A decoder that must not be reached, or gives a fixed picture. */
const codec: Codec = {
  decode: (bytes) =>
    bytes.length < 20
      ? Promise.reject(new Error('nothing in it'))
      : Promise.resolve({ width: 1, height: 1, channels: 3, data: Uint8Array.of(1, 2, 3) }),
  encodeJpeg: () => Promise.resolve(new Uint8Array()),
};

function png(width: number, height: number, channels: number, depth: 8 | 16 = 8): Uint8Array {
  const n = width * height * channels;
  const data =
    depth === 16 ? Uint16Array.from({ length: n }, (_, i) => (i * 811) % 65536) : Uint8Array.from({ length: n }, (_, i) => (i * 31) % 256);
  return encode({ width, height, channels, depth, data });
}

/** The smallest JPEG head that names a size, and an end. */
function jpeg(width: number, height: number, whole = true): Uint8Array {
  const size = [height >> 8, height & 255, width >> 8, width & 255];
  return Uint8Array.of(
    0xff,
    0xd8,
    0xff,
    0xc0,
    0,
    11,
    8,
    ...size,
    1,
    1,
    0x11,
    0,
    0xff,
    0xda,
    0,
    2,
    1,
    2,
    3,
    4,
    ...(whole ? [0xff, 0xd9] : []),
  );
}

describe('what a file is', () => {
  test('is told by its content', () => {
    expect(readHeader('a.jpg', png(7, 5, 3))).toEqual({ kind: 'png', width: 7, height: 5, animated: false });
    expect(readHeader('a', jpeg(640, 480))).toEqual({ kind: 'jpeg', width: 640, height: 480, animated: false });
  });

  const crc = png(9, 9, 3);
  crc[crc.length - 20] ^= 0x55;
  const huge = png(4, 4, 3);
  new DataView(huge.buffer, huge.byteOffset).setUint32(16, 60000);
  new DataView(huge.buffer, huge.byteOffset).setUint32(20, 60000);
  test.each<[string, Uint8Array, RegExp]>([
    ['nothing', new Uint8Array(), /0 bytes/],
    ['text', strToU8('hello, this is no picture'), /text file/],
    ['GIF', strToU8('GIF89a………'), /the GIF holds no picture/],
    ['TIFF', Uint8Array.of(0x49, 0x49, 0x2a, 0, 8, 0, 0, 0), /TIFF/],
    ['BMP', strToU8('BM and nothing more'), /the BMP holds no picture/],
    ['SVG', strToU8('<svg xmlns="http://www.w3.org/2000/svg"></svg>'), /a drawing \(SVG\)/],
    ['a film', strToU8('....ftypisom....'), /a film/],
    ['noise', Uint8Array.of(200, 3, 7, 250, 0, 0, 1), /not a picture/],
    ['a cut JPEG', jpeg(640, 480, false), /no end/],
    ['a cut PNG', png(30, 30, 3).subarray(0, 60), /no end/],
    ['a PNG header alone', png(30, 30, 3).subarray(0, 12), /damaged/],
    ['60000 × 60000', huge, /60000 × 60000/],
    ['a wrong checksum', crc, /damaged/],
  ])('%s is refused with a sentence that names it', async (name, bytes, words) => {
    const refusal = await readPicture(`${name}.png`, bytes, codec).catch((e: unknown) => e);
    expect(refusal).toBeInstanceOf(FormatError);
    expect((refusal as Error).message).toMatch(words);
    expect((refusal as Error).message).toContain(`“${name}.png”`);
    expect((refusal as Error).message).toMatch(/\.$/);
  });

  test('a decoder’s own complaint becomes a sentence', async () => {
    const bytes = Uint8Array.of(
      0x52,
      0x49,
      0x46,
      0x46,
      22,
      0,
      0,
      0,
      0x57,
      0x45,
      0x42,
      0x50,
      0x56,
      0x50,
      0x38,
      0x4c,
      0,
      0,
      0,
      0,
      0x2f,
      0,
      0,
      0,
      0,
      0,
      0,
      0,
      0,
      0,
    );
    await expect(readPicture('w.webp', bytes, { ...codec, decode: () => Promise.reject(new Error('bad data')) })).rejects.toThrow(
      /“w\.webp” could not be decoded as WebP \(bad data\)/,
    );
  });

  test('any bytes at all are read or refused, never worse', async () => {
    const starts = [png(5, 4, 4), jpeg(9, 9), strToU8('RIFF....WEBPVP8X'), new Uint8Array()];
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...starts), fc.uint8Array({ maxLength: 60 }), fc.nat(80), async (start, extra, at) => {
        const bytes = new Uint8Array(start.length + extra.length);
        bytes.set(start);
        bytes.set(extra, Math.min(at, start.length));
        await readPicture('x', bytes, codec).catch((e: unknown) => expect(e).toBeInstanceOf(FormatError));
      }),
      { numRuns: 200 },
    );
  });
});

describe('PNG', () => {
  test.each([1, 2, 3, 4])('with %d channels of 8 and 16 bits goes out and comes back', async (channels) => {
    for (const depth of [8, 16] as const) {
      const bytes = png(6, 5, channels, depth);
      const { samples } = await readPicture('p.png', bytes, codec);
      expect(samples.channels).toBe(channels);
      expect((await readPicture('q.png', writePng(samples), codec)).samples.data).toEqual(samples.data);
    }
  });

  test('1 × 1 works', async () => {
    expect((await readPicture('dot.png', png(1, 1, 3), codec)).samples.data).toHaveLength(3);
  });

  test('opacity is taken off for files without it', () => {
    expect(Array.from(withoutOpacity(2, 1, Uint8ClampedArray.of(1, 2, 3, 9, 4, 5, 6, 9)).data)).toEqual([1, 2, 3, 4, 5, 6]);
  });
});

describe('a premultiplied picture', () => {
  const ramp = (multiply: boolean) => {
    const data = new Uint8Array(64 * 20 * 4);
    for (let i = 0; i < 64 * 20; i++) {
      const a = Math.min(1, (i % 64) / 40);
      [220, 180, 90].forEach((v, c) => (data[i * 4 + c] = Math.round(multiply ? v * a : v)));
      data[i * 4 + 3] = Math.round(a * 255);
    }
    return { width: 64, height: 20, channels: 4, data };
  };

  test('is noticed, with the colour it was multiplied over', async () => {
    const read = await readPicture('boat.png', writePng(ramp(true)), codec);
    expect(read.multiplied).toBe('#000000');
    expect(saidOfMultiplied('boat.png', '#000000')).toMatch(/over black/);
  });

  test('a straight one is not suspected', async () => {
    expect((await readPicture('boat.png', writePng(ramp(false)), codec)).multiplied).toBeUndefined();
  });
});

describe('a job in one file', () => {
  const recipe = newRecipe('Goat', 'a', 6, 5);
  const job = { recipe, pictures: [{ id: 'a', name: 'my goat (1).png', bytes: png(6, 5, 3) }] };

  test('comes back as it was, originals to the byte, and is the same file each time', () => {
    const bytes = writeJob(job);
    expect(looksLikeJob(bytes)).toBe(true);
    const back = readJob('j.zip', bytes);
    expect(back.recipe).toEqual(recipe);
    expect(back.pictures[0].name).toBe('my goat (1).png');
    expect(back.pictures[0].bytes).toEqual(job.pictures[0].bytes);
    expect(writeJob(job)).toEqual(bytes);
  });

  test.each<[string, Uint8Array, RegExp]>([
    ['a cut archive', writeJob(job).subarray(0, 300), /damaged archive/],
    ['another zip', zipSync({ 'x.txt': strToU8('x') }), /job\.json/],
    ['a wrong job.json', zipSync({ 'job.json': strToU8('{') }), /not valid JSON/],
    ['a later job', zipSync({ 'job.json': strToU8('{"version": 9}') }), /newer program/],
    ['a missing picture', writeJob({ recipe, pictures: [] }), /does not hold the picture a/],
    ['a wrong recipe', zipSync({ 'job.json': strToU8('{"version": 1, "recipe": {"version": 1}}') }), /recipe is not right/],
  ])('%s is refused with a sentence', (_, bytes, words) => {
    expect(() => readJob('j.zip', bytes)).toThrow(words);
  });
});
