/** @jest-environment node */
import { fromSamples, decodeSrgb } from '@ritaglio/core';
import fc from 'fast-check';
import sharp from 'sharp';
import { readBmp } from './bmp';
import { readHeader } from './header';
import { writeTiff } from './tiffWriter';
import { readPicture, type Codec } from './picture';

const [width, height] = [5, 3];
const rgb = Uint8Array.from({ length: 3 * width * height }, (_, i) => (i * 53) % 256);
const raw = { raw: { width, height, channels: 3 as const } };
const codec: Codec = {
  decode: async (bytes) => {
    const { data, info } = await sharp(bytes).raw().toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, channels: info.channels, data: new Uint8Array(data) };
  },
  encodeJpeg: () => Promise.reject(new Error('not asked')),
};
const read = async (bytes: Uint8Array) => (await readPicture('a.x', bytes, codec)).samples;

/** A bitmap of rows of bytes, from the bottom up unless it is said otherwise. */
function bmp(bits: number, rows: number[][], more: { palette?: number[]; masks?: number[]; down?: boolean } = {}): Uint8Array {
  const { palette = [], masks = [], down = false } = more;
  const stride = 4 * Math.ceil((width * bits) / 32);
  const header = masks.length > 0 ? 108 : 40;
  const at = 14 + header + palette.length;
  const out = new Uint8Array(at + stride * rows.length);
  const view = new DataView(out.buffer);
  out.set([0x42, 0x4d]);
  view.setUint32(10, at, true);
  view.setUint32(14, header, true);
  view.setInt32(18, width, true);
  view.setInt32(22, down ? -rows.length : rows.length, true);
  view.setUint16(28, bits, true);
  view.setUint32(30, masks.length > 0 ? 3 : 0, true);
  masks.forEach((m, i) => view.setUint32(54 + 4 * i, m, true));
  out.set(palette, 14 + header);
  (down ? rows : [...rows].reverse()).forEach((row, y) => out.set(row, at + stride * y));
  return out;
}

const rowsOf = (pixel: (r: number, g: number, b: number) => number[]): number[][] =>
  Array.from({ length: height }, (_, y) => Array.from({ length: width }, (_v, x) => pixel(...(rgb.subarray(3 * (y * width + x), 3 * (y * width + x) + 3) as unknown as [number, number, number]))).flat()); // prettier-ignore

test('bitmaps of all kinds come out as they are: 24 bits, either way up, palettes, masks with opacity', async () => {
  const bgr = rowsOf((r, g, b) => [b, g, r]);
  expect([...(await read(bmp(24, bgr))).data]).toEqual([...rgb]);
  expect([...(await read(bmp(24, bgr, { down: true }))).data]).toEqual([...rgb]);
  const masked = bmp(32, rowsOf((r, g, b) => [r, g, b, 128]), { masks: [0xff, 0xff00, 0xff0000, 0xff000000] }); // prettier-ignore
  const { channels, data } = await read(masked);
  expect([channels, ...data.slice(0, 4)]).toEqual([4, rgb[0], rgb[1], rgb[2], 128]);
  const two = await read(bmp(1, [[0b10100000], [0], [0xff]], { palette: [1, 2, 3, 0, 40, 50, 60, 0] }));
  expect([...two.data.slice(0, 9)]).toEqual([60, 50, 40, 3, 2, 1, 60, 50, 40]);
  const sixteen = await read(
    bmp(
      16,
      Array.from({ length: 3 }, () => Array.from({ length: width }, () => [0x1f, 0x7c]).flat()),
    ),
  );
  expect([...sixteen.data.slice(0, 3)]).toEqual([255, 0, 255]);
  await expect(read(bmp(24, bgr).subarray(0, 70))).rejects.toThrow('shorter than it says');
});

test('TIFF of 8 and 16 bits, grey, with opacity and packed, is what was written; turned ones stand upright', async () => {
  for (const compression of ['none', 'lzw', 'deflate'] as const) {
    const tiff = await sharp(rgb, raw).tiff({ compression }).toBuffer();
    expect([...(await read(tiff)).data]).toEqual([...rgb]);
  }
  const wide = await sharp(Uint16Array.from(rgb, (v) => v * 200), raw).toColourspace('rgb16').tiff({ compression: 'none' }).toBuffer(); // prettier-ignore
  expect([...(await read(wide)).data]).toEqual([...rgb].map((v) => v * 200));
  const rgba = Uint8Array.from({ length: 4 * width * height }, (_, i) => (i * 31) % 256);
  const clear = await sharp(rgba, { raw: { width, height, channels: 4 } }).tiff({ compression: 'none' }).toBuffer(); // prettier-ignore
  expect([...(await read(clear)).data]).toEqual([...rgba]);
  const turned = await sharp(rgb, raw).withMetadata({ orientation: 6 }).tiff({ compression: 'none' }).toBuffer();
  const upright = await sharp(turned).rotate().raw().toBuffer();
  const samples = await read(turned);
  expect([samples.width, samples.height]).toEqual([height, width]);
  expect([...samples.data]).toEqual([...upright]);
  const cmyk = await sharp(rgb, raw).toColourspace('cmyk').tiff({ compression: 'none' }).toBuffer();
  await expect(read(cmyk)).rejects.toThrow(/not grey or RGB but of inks \(CMYK\)/);
  const packed = await sharp(rgb, raw).tiff({ compression: 'jpeg' }).toBuffer();
  await expect(read(packed)).rejects.toThrow(/not grey or RGB but YCbCr/);
});

test('a TIFF’s profile counts as that of a PNG does', async () => {
  const wide = await sharp(rgb, raw).withIccProfile('p3').tiff({ compression: 'none' }).toBuffer();
  const { r, g, b } = fromSamples(await read(wide));
  rgb.forEach((v, i) => expect(Math.abs([r, g, b][i % 3][Math.floor(i / 3)] - decodeSrgb(v / 255))).toBeLessThan(0.02));
});

test('GIF and AVIF are known by their content, and their size before they are unpacked', async () => {
  const gif = await sharp(rgb, raw).gif().toBuffer();
  expect(readHeader('a', gif)).toEqual({ kind: 'gif', width, height, animated: false });
  const [w, h] = [40, 24];
  const flat = { create: { width: w, height: h, channels: 3 as const, background: '#804020' } };
  const avif = await sharp(flat).avif({ quality: 80 }).toBuffer();
  expect(readHeader('a', avif)).toEqual({ kind: 'avif', width: w, height: h, animated: false });
  const { data } = await read(avif);
  [128, 64, 32].forEach((v, c) => expect(Math.abs(data[c] - v)).toBeLessThan(8));
});

test('whatever is done to a bitmap or a TIFF, it is read or refused with a sentence', async () => {
  const files = [
    bmp(
      24,
      rowsOf((r, g, b) => [b, g, r]),
    ),
    new Uint8Array(await sharp(rgb, raw).tiff({ compression: 'lzw' }).toBuffer()),
  ];
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(...files),
      fc.array(fc.tuple(fc.nat(400), fc.nat(255)), { maxLength: 6 }),
      fc.nat(600),
      async (file, changes, length) => {
        const bytes = file.slice(0, length);
        for (const [at, v] of changes) if (at < bytes.length) bytes[at] = v;
        const answer = await readPicture('a.x', bytes, codec).catch((error: unknown) => error);
        if (answer instanceof Error) expect([answer.name, answer.message]).toEqual(['FormatError', expect.stringMatching(/“a\.x”.*\.$/)]);
      },
    ),
    { numRuns: 400 },
  );
  expect(() => readBmp(bmp(24, []))).not.toThrow();
});

test('of a large file its beginning tells the size, and is not taken for a file that was cut short', async () => {
  const noise = {
    create: {
      width: 640,
      height: 480,
      channels: 3 as const,
      background: '#444',
      noise: { type: 'gaussian' as const, mean: 128, sigma: 60 },
    },
  };
  for (const kind of ['jpeg', 'png', 'webp'] as const) {
    const whole = new Uint8Array(await sharp(noise)[kind]().toBuffer());
    const begin = whole.slice(0, 2000);
    expect(readHeader('a', begin, { begin: true })).toMatchObject({ kind, width: 640, height: 480 });
    expect(() => readHeader('a', begin)).toThrow(/cut short/);
  }
});

test('a JPEG in four inks opens, and it is said that its colours are only near', async () => {
  const inks = await sharp(rgb, raw).toColourspace('cmyk').jpeg().toBuffer();
  const { notes, samples } = await readPicture('inks.jpg', new Uint8Array(inks), codec);
  expect(notes).toEqual([expect.stringMatching(/“inks.jpg” is in four inks .* Save it as RGB/)]);
  expect([samples.width, samples.height]).toEqual([width, height]);
});

test('a TIFF whose directories go in a circle, or beyond its end, is refused at once', async () => {
  const sound = writeTiff({ width, height, channels: 3, data: Uint8Array.from(rgb) });
  const changed = (change: (view: DataView, at: number, count: number) => void): Uint8Array => {
    const bytes = sound.slice();
    const view = new DataView(bytes.buffer);
    const at = view.getUint32(4, true);
    change(view, at, view.getUint16(at, true));
    return bytes;
  };
  const circle = changed((view, at, count) => view.setUint32(at + 2 + 12 * count, at, true));
  const beyond = changed((view, at, count) => view.setUint32(at + 2 + 12 * count, 1e9, true));
  const huge = changed((view, at) => view.setUint32(at + 2 + 4, 4e9, true));
  for (const bytes of [circle, beyond, huge]) await expect(readPicture('odd.tif', bytes, codec)).rejects.toThrow(/“odd.tif” .* damaged/);
  expect((await readPicture('sound.tif', sound, codec)).samples.width).toBe(width);
});
