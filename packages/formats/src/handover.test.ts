/** @jest-environment node */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { unzipSync, strFromU8 } from 'fflate';
import sharp from 'sharp';
import { writeClf } from './clf';
import { fromHalf, halfOf, looksLikeExr, readExr, writeExr } from './exr';
import { looksLikeOpenRaster, readOpenRaster, writeOpenRaster, type RasterLayer } from './openRaster';
import { readPicture } from './picture';
import { writeTiff } from './tiffWriter';

const samples = (width: number, height: number, channels: number, value: (i: number) => number) => ({
  ...{ width, height, channels },
  data: Uint8Array.from({ length: width * height * channels }, (_, i) => value(i)),
});

describe('OpenRaster', () => {
  const layer = (name: string, more: Partial<RasterLayer> = {}): RasterLayer => ({
    ...{ name, x: 0, y: 0, opacity: 1, blend: 'normal', hidden: false },
    samples: samples(6, 4, 4, (i) => (i * 7) % 256),
    ...more,
  });
  const layers = [
    layer('Ground'),
    layer('Goat & <cart>', { opacity: 0.5, blend: 'screen', x: 2, y: -1 }),
    layer('Letters', { hidden: true }),
  ];
  const merged = samples(6, 4, 3, (i) => i);
  const bytes = writeOpenRaster({ width: 6, height: 4, layers }, merged, samples(3, 2, 3, () => 9)); // prettier-ignore

  test('is a zip whose mimetype comes first and is stored, with the entries that the format asks for', () => {
    expect(strFromU8(bytes.subarray(30, 54))).toBe('mimetypeimage/openraster');
    // Method of the first entry: stored.
    expect(bytes[8]).toBe(0);
    const files = unzipSync(bytes);
    expect(Object.keys(files).sort()).toEqual(['Thumbnails/thumbnail.png', 'data/layer-1.png', 'data/layer-2.png', 'data/layer-3.png', 'mergedimage.png', 'mimetype', 'stack.xml']); // prettier-ignore
    const xml = strFromU8(files['stack.xml']);
    expect(xml).toMatch(/<image version="0\.0\.3" w="6" h="4">/);
    // The topmost is listed first.
    expect(xml.indexOf('Letters')).toBeLessThan(xml.indexOf('Ground'));
    expect(xml).toContain('composite-op="svg:screen"');
  });

  test('comes back as it was', () => {
    expect(looksLikeOpenRaster(bytes)).toBe(true);
    const back = readOpenRaster('a.ora', bytes);
    expect(back.layers).toEqual(layers);
    expect(back.merged).toEqual(merged);
  });

  test('a layer that is missing is told', () => {
    const files = unzipSync(bytes);
    expect(Object.keys(files)).toContain('data/layer-2.png');
    expect(() => readOpenRaster('a.ora', bytes.slice(0, 200))).toThrow(/“a.ora”/);
  });
});

describe('OpenEXR', () => {
  const width = 37;
  const height = 21;
  const plane = (f: (i: number) => number): Float32Array => Float32Array.from({ length: width * height }, (_, i) => f(i));
  const channels = { R: plane((i) => i / 100), G: plane((i) => Math.sin(i)), B: plane(() => 0), 'subject.A': plane((i) => (i % 7) / 6), Z: plane((i) => 0.3 + i) }; // prettier-ignore

  test('halves are the nearest there are', () => {
    fc.assert(
      fc.property(fc.float({ min: -60_000, max: 60_000, noNaN: true }), (v) => {
        const back = fromHalf(halfOf(v));
        expect(Math.abs(back - v)).toBeLessThanOrEqual(Math.max(2 ** -25, Math.abs(v) * 2 ** -11) * 1.0001);
      }),
    );
    expect([0, 1, -2, 0.5, 65504].map((v) => fromHalf(halfOf(v)))).toEqual([0, 1, -2, 0.5, 65504]);
    expect(fromHalf(halfOf(1e9))).toBe(65504);
    expect(fromHalf(halfOf(NaN))).toBeNaN();
  });

  test('comes back within half-float steps, with its channels by their names', () => {
    const bytes = writeExr({ width, height, channels });
    expect(looksLikeExr(bytes)).toBe(true);
    const back = readExr('a.exr', bytes);
    expect([back.width, back.height]).toEqual([width, height]);
    expect(Object.keys(back.channels).sort()).toEqual(Object.keys(channels).sort());
    for (const [name, data] of Object.entries(channels)) {
      data.forEach((v, i) => expect(Math.abs(back.channels[name][i] - v)).toBeLessThanOrEqual(Math.max(1e-7, Math.abs(v) * 2 ** -10)));
    }
  });

  test('is read as a picture: light encoded, opacity straight', async () => {
    const half = new Float32Array(4).fill(0.5);
    const bytes = writeExr({
      width: 2,
      height: 2,
      channels: { R: new Float32Array(4).fill(0.25), G: half, B: new Float32Array(4).fill(9), A: half },
    });
    const { samples: read } = await readPicture('a.exr', bytes, { decode: () => Promise.reject(new Error('not asked')), encodeJpeg: () => Promise.reject(new Error('not asked')) }); // prettier-ignore
    expect(read).toMatchObject({ width: 2, height: 2, channels: 4 });
    expect([...read.data.slice(0, 4)]).toEqual([48192, 65535, 65535, 32768]);
    const strange = writeExr({ width: 1, height: 1, channels: { Z: new Float32Array(1) } });
    await expect(readPicture('z.exr', strange, {} as never)).rejects.toThrow(/no colours called R, G and B, only Z/);
  });

  test('damage is told in a sentence', () => {
    const bytes = writeExr({ width, height, channels });
    expect(() => readExr('a.exr', bytes.slice(0, bytes.length - 50))).toThrow(/“a.exr” is an OpenEXR file/);
    const tiled = bytes.slice();
    tiled[5] |= 2;
    expect(() => readExr('a.exr', tiled)).toThrow(/tiles/);
  });
});

test('a TIFF of 16 bits is read by another program as it was written', async () => {
  const data = Uint16Array.from({ length: 9 * 5 * 4 }, (_, i) => (i * 1571) % 65536);
  const bytes = writeTiff({ width: 9, height: 5, channels: 4, data });
  const { data: raw, info } = await sharp(Buffer.from(bytes)).keepIccProfile().toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true }); // prettier-ignore
  expect([info.width, info.height, info.channels]).toEqual([9, 5, 4]);
  const back = new Uint16Array(raw.buffer, raw.byteOffset, raw.length / 2);
  // Where opacity is full nothing may be weighed; elsewhere it is straight.
  back.forEach((v, i) => expect(Math.abs(v - data[i])).toBeLessThanOrEqual(1));
  const grey = writeTiff({ width: 4, height: 2, channels: 1, data: Uint8Array.from([0, 20, 40, 60, 80, 100, 120, 140]) });
  expect([...(await sharp(Buffer.from(grey)).extractChannel(0).raw().toBuffer())]).toEqual([0, 20, 40, 60, 80, 100, 120, 140]);
});

test('a grade leaves as a table that the open standard knows', () => {
  const folder = mkdtempSync(join(tmpdir(), 'ritaglio-clf-'));
  const xml = writeClf('Goat & cart', (r, g, b) => [r ** 0.8, g, 1 - b]);
  writeFileSync(join(folder, 'a.clf'), xml);
  expect(xml).toMatch(/<ProcessList id="Goat &amp; cart" compCLFversion="3.0">/);
  const rows = /<Array dim="33 33 33 3">\n([\s\S]*?)\n {4}<\/Array>/.exec(xml)![1].split('\n');
  expect(rows).toHaveLength(33 ** 3);
  // Blue goes fastest, then green, then red.
  expect(rows[1]).toBe('0.000000 0.000000 0.968750');
  expect(rows[33]).toBe('0.000000 0.031250 1.000000');
  expect(rows[33 * 33 * 32]).toBe('1.000000 0.000000 1.000000');
  // It is well formed: another program's parser takes it.
  const parsed = spawnSync('python3', ['-c', `import xml.dom.minidom,sys;xml.dom.minidom.parse(sys.argv[1])`, join(folder, 'a.clf')]);
  if (parsed.error === undefined) expect(parsed.status).toBe(0);
  rmSync(folder, { recursive: true, force: true });
});
