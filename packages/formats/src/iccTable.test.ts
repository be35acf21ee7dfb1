/** @jest-environment node */
import { cielabOf, decodeSrgb, deltaE2000, displayP3FromSrgb, encodeSrgb, type Samples } from '@ritaglio/core';
import fc from 'fast-check';
import { zlibSync } from 'fflate';
import sharp from 'sharp';
import { asKnown, readProfile } from './icc';
import { readPicture, writePng, type Codec } from './picture';
import { crc32 } from './zip';

const noCodec: Codec = { decode: () => Promise.reject(new Error('not asked')), encodeJpeg: () => Promise.reject(new Error('not asked')) };

type Triple = [number, number, number];

/** Rows from light to XYZ under D50. */
const toXyz = [[0.43607, 0.38515, 0.14307], [0.22249, 0.71687, 0.06061], [0.01392, 0.09708, 0.7141]]; // prettier-ignore

/** Lab under D50 of sRGB light, and its XYZ; the profile's own numbers. */
function connection(light: Triple): { lab: Triple; xyz: Triple } {
  const xyz = toXyz.map((row) => row.reduce((sum, v, c) => sum + v * light[c], 0)) as Triple;
  const f = (t: number): number => (t > (6 / 29) ** 3 ? Math.cbrt(t) : t / (3 * (6 / 29) ** 2) + 4 / 29);
  const [x, y, z] = [f(xyz[0] / 0.9642), f(xyz[1]), f(xyz[2] / 0.8249)];
  return { lab: [116 * y - 16, 500 * (x - y), 200 * (y - z)], xyz };
}

/** What the made-up profiles say: red, green and blue are the codes of green, blue and red. */
const meant = ([r, g, b]: readonly number[]): Triple => [g, b, r].map((v) => decodeSrgb(v)) as Triple;
/** Light when what is black in photographs by a profile of version 4 is the screen's black. */
const fromBlack = (light: Triple): Triple => light.map((v) => Math.max(0, (v - 0.00347) / (1 - 0.00347))) as Triple;

function bytesOf(length: number, fill: (view: DataView) => void): Uint8Array {
  const out = new Uint8Array(length);
  fill(new DataView(out.buffer));
  return out;
}

const text = (view: DataView, at: number, s: string): void => [...s].forEach((c, i) => view.setUint8(at + i, c.charCodeAt(0)));

/** A profile of one tag, A2B0. */
function profileWith(space: string, pcs: string, version: number, tag: Uint8Array): Uint8Array {
  return bytesOf(144 + tag.length, (view) => {
    view.setUint32(0, 144 + tag.length);
    view.setUint32(8, version << 24);
    text(view, 12, 'scnr' + space + pcs);
    text(view, 36, 'acsp');
    [0.9642, 1, 0.8249].forEach((v, i) => view.setInt32(68 + 4 * i, Math.round(v * 65536)));
    view.setUint32(128, 1);
    text(view, 132, 'A2B0');
    view.setUint32(136, 144);
    view.setUint32(140, tag.length);
    new Uint8Array(view.buffer).set(tag, 144);
  });
}

const side = 33;
/** Knots in the order of the file, their codes given back to light first so that a straight line between them is near. */
function knots(): Triple[] {
  return Array.from({ length: side ** 3 }, (_, i) => [Math.floor(i / side ** 2), Math.floor(i / side) % side, i % side].map((v) => v / (side - 1)) as Triple); // prettier-ignore
}

/** A table of 8 or 16 bits with straight curves. */
function older(bits: 8 | 16, pcs: 'Lab ' | 'XYZ '): Uint8Array {
  const wide = bits === 16;
  const full = wide ? 65535 : 255;
  const head = wide ? 52 : 48;
  const entries = wide ? 2 : 256;
  const size = wide ? 2 : 1;
  return bytesOf(head + size * (6 * entries + 3 * side ** 3), (view) => {
    text(view, 0, wide ? 'mft2' : 'mft1');
    [3, 3, side].forEach((v, i) => view.setUint8(8 + i, v));
    [0, 4, 8].forEach((k) => view.setInt32(12 + 4 * k, 65536));
    if (wide) [48, 50].forEach((at) => view.setUint16(at, entries));
    let at = head;
    const put = (v: number): void => {
      const code = Math.min(full, Math.max(0, Math.round(v * full)));
      if (wide) view.setUint16(at, code);
      else view.setUint8(at, code);
      at += size;
    };
    const straight = (): void => {
      for (let c = 0; c < 3; c++) for (let i = 0; i < entries; i++) put(i / (entries - 1));
    };
    straight();
    for (const codes of knots()) {
      const { lab, xyz } = connection(meant(codes));
      const old = wide ? 65280 / 65535 : 1;
      if (pcs === 'Lab ') [lab[0] / 100, (lab[1] + 128) / 255, (lab[2] + 128) / 255].forEach((v) => put(v * old));
      else xyz.forEach((v) => put(v / (1 + 32767 / 32768)));
    }
    straight();
  });
}

/** The newer kind: curves that make light, a grid that changes the channels about, a matrix to XYZ, straight curves. */
function newer(bytes: 1 | 2): Uint8Array {
  const curve = bytesOf(12 + 28, (view) => {
    text(view, 0, 'para');
    view.setUint16(8, 3);
    [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045].forEach((v, i) => view.setInt32(12 + 4 * i, Math.round(v * 65536)));
  }).subarray(0, 32);
  const none = bytesOf(12, (view) => text(view, 0, 'curv'));
  const points = [2, 3, 2];
  const gridSize = 20 + 3 * 12 * bytes;
  const places = { b: 32, matrix: 32 + 36, m: 32 + 36 + 48, grid: 32 + 36 + 48 + 36, a: 32 + 36 + 48 + 36 + Math.ceil(gridSize / 4) * 4 };
  return bytesOf(places.a + 3 * 32, (view) => {
    const all = new Uint8Array(view.buffer);
    text(view, 0, 'mAB ');
    [3, 3].forEach((v, i) => view.setUint8(8 + i, v));
    [places.b, places.matrix, places.m, places.grid, places.a].forEach((v, i) => view.setUint32(12 + 4 * i, v));
    for (let c = 0; c < 3; c++) {
      all.set(none, places.b + 12 * c);
      all.set(none, places.m + 12 * c);
      all.set(curve, places.a + 32 * c);
    }
    toXyz.flat().forEach((v, i) => view.setInt32(places.matrix + 4 * i, Math.round((v * 65536) / (1 + 32767 / 32768))));
    points.forEach((p, i) => view.setUint8(places.grid + i, p));
    view.setUint8(places.grid + 16, bytes);
    let at = places.grid + 20;
    for (let r = 0; r < 2; r++)
      for (let g = 0; g < 3; g++)
        for (let b = 0; b < 2; b++)
          for (const v of [g / 2, b, r]) {
            if (bytes === 2) view.setUint16(at, Math.round(v * 65535));
            else view.setUint8(at, Math.round(v * 255));
            at += bytes;
          }
  });
}

const patches: Triple[] = [[200, 30, 40], [40, 180, 60], [30, 60, 210], [128, 128, 128], [250, 240, 20], [24, 20, 30], [90, 140, 160], [255, 255, 255], [0, 0, 0]]; // prettier-ignore

/** A PNG of the patches' codes with a profile. */
function pngWith(profile: Uint8Array): Uint8Array {
  const png = writePng({ width: patches.length, height: 1, channels: 3, data: Uint8Array.from(patches.flat()) });
  const packed = zlibSync(profile);
  const body = Uint8Array.from([...new TextEncoder().encode('iCCPmade-up'), 0, 0, ...packed]);
  const chunk = bytesOf(body.length + 8, (view) => {
    view.setUint32(0, body.length - 4);
    new Uint8Array(view.buffer).set(body, 4);
    view.setUint32(4 + body.length, crc32(body));
  });
  return Uint8Array.from([...png.subarray(0, 33), ...chunk, ...png.subarray(33)]);
}

/** Lab of one pixel, whichever of both spaces it is in. */
function labOf({ data, channels, space }: Samples, i: number): Triple {
  const full = data instanceof Uint16Array ? 65535 : 255;
  const light = [0, 1, 2].map((c) => decodeSrgb(data[i * channels + c] / full));
  return cielabOf(...((space === 'display-p3' ? fromP3(light) : light) as Triple));
}

/** Linear sRGB of linear Display P3, by turning the other matrix around. */
function fromP3(p3: number[]): number[] {
  const m = displayP3FromSrgb;
  const minor = (r: number, c: number): number => {
    const [a, b] = [0, 1, 2].filter((v) => v !== r);
    const [d, e] = [0, 1, 2].filter((v) => v !== c);
    return (m[3 * a + d] * m[3 * b + e] - m[3 * a + e] * m[3 * b + d]) * ((r + c) % 2 ? -1 : 1);
  };
  const determinant = [0, 1, 2].reduce((sum, c) => sum + m[c] * minor(0, c), 0);
  return [0, 1, 2].map((r) => [0, 1, 2].reduce((sum, c) => sum + (minor(c, r) / determinant) * p3[c], 0));
}

const kinds: [string, Uint8Array, (light: Triple) => Triple][] = [
  ['16 bits, Lab', profileWith('RGB ', 'Lab ', 2, older(16, 'Lab ')), (light) => light],
  ['16 bits, XYZ', profileWith('RGB ', 'XYZ ', 2, older(16, 'XYZ ')), (light) => light],
  ['8 bits, Lab', profileWith('RGB ', 'Lab ', 2, older(8, 'Lab ')), (light) => light],
  ['newer, grid of 8 bits', profileWith('RGB ', 'XYZ ', 4, newer(1)), fromBlack],
  ['newer, grid of 16 bits', profileWith('RGB ', 'XYZ ', 4, newer(2)), fromBlack],
];

test.each(kinds)('a picture whose profile is a table shows the colours that it says: %s', async (_, profile, seen) => {
  const { samples, notes } = await readPicture('table.png', pngWith(profile), noCodec);
  expect(notes).toEqual([]);
  patches.forEach((patch, i) => {
    const expected = cielabOf(...seen(meant(patch.map((v) => v / 255))));
    expect(deltaE2000(labOf(samples, i), expected)).toBeLessThan(1);
  });
});

test.each(kinds)('and the same as another reader of profiles: %s', async (_, profile) => {
  const file = pngWith(profile);
  const { samples } = await readPicture('table.png', file, noCodec);
  const { data, info } = await sharp(file).toColourspace('srgb').raw().toBuffer({ resolveWithObject: true });
  const theirs: Samples = { width: info.width, height: 1, channels: info.channels, data: new Uint8Array(data) };
  patches.forEach((__, i) => expect(deltaE2000(labOf(samples, i), labOf(theirs, i))).toBeLessThan(1));
});

test('opacity and pictures of 16 bits come through a table', async () => {
  const data = Uint16Array.from(patches.flatMap((p, i) => [...p.map((v) => v * 257), i * 7000]));
  const png = writePng({ width: patches.length, height: 1, channels: 4, data });
  const plain = pngWith(kinds[4][1]);
  // The profile's chunk of the one file in the other.
  const length = new DataView(plain.buffer).getUint32(33) + 12;
  const file = Uint8Array.from([...png.subarray(0, 33), ...plain.subarray(33, 33 + length), ...png.subarray(33)]);
  const { samples } = await readPicture('table.png', file, noCodec);
  expect(Array.from(patches, (_, i) => samples.data[4 * i + 3])).toEqual(patches.map((_, i) => i * 7000));
  patches.forEach((patch, i) =>
    expect(deltaE2000(labOf(samples, i), cielabOf(...fromBlack(meant(patch.map((v) => v / 255)))))).toBeLessThan(0.5),
  );
});

test('a table cut short, or with absurd sizes, is damaged and not read', () => {
  for (const [, profile] of kinds) {
    expect(readProfile(profile.subarray(0, profile.length / 2)).why).toBe('it is damaged');
    const absurd = profile.slice();
    // Sides of the grid, or the place of the grid.
    absurd.fill(255, 144 + 10, 144 + 32);
    expect(readProfile(absurd).why).toBe('it is damaged');
  }
  const others = kinds[0][1].slice();
  others.set(new TextEncoder().encode('CMYK'), 16);
  expect(readProfile(others).why).toBe('it is damaged');
});

test('tables with any bytes changed are read or told to be damaged, and give codes', () => {
  const few: Samples = { width: 2, height: 1, channels: 3, data: Uint8Array.of(10, 200, 30, 255, 0, 128) };
  fc.assert(
    fc.property(
      fc.nat(kinds.length - 1),
      fc.array(fc.tuple(fc.nat(600), fc.nat(255)), { minLength: 1, maxLength: 12 }),
      (kind, changes) => {
        const changed = kinds[kind][1].slice();
        for (const [at, value] of changes) changed[at % changed.length] = value;
        const { profile, why } = readProfile(changed);
        expect(profile === undefined).toBe(why !== undefined);
        if (profile) expect(asKnown(few, profile).data.length).toBe(6);
      },
    ),
    { numRuns: 300 },
  );
});

describe('four inks', () => {
  const block = 16;
  const width = patches.length * block;
  const colours = Uint8Array.from({ length: width * block * 3 }, (_, i) => patches[Math.floor((Math.floor(i / 3) % width) / block)][i % 3]);
  const raw = { raw: { width, height: block, channels: 3 as const } };
  const middle = (i: number, w = width): number => (block / 2) * w + i * block + block / 2;

  /** Inks that take away light of one colour each, and black, which takes all: straight between the knots of any grid. */
  const filters = ([c, m, y, k]: readonly number[]): Triple => [c, m, y].map((ink) => (1 - ink) * (1 - k)) as Triple;

  function profileOfFilters(): Uint8Array {
    const points = 3;
    const head = 52 + 2 * 2 * 4;
    const tag = bytesOf(head + 6 * points ** 4 + 2 * 2 * 3, (view) => {
      text(view, 0, 'mft2');
      [4, 3, points].forEach((v, i) => view.setUint8(8 + i, v));
      [48, 50].forEach((at) => view.setUint16(at, 2));
      for (let c = 0; c < 4; c++) view.setUint16(54 + 4 * c, 65535);
      for (let c = 0; c < 3; c++) view.setUint16(head + 6 * points ** 4 + 4 * c + 2, 65535);
      for (let i = 0; i < points ** 4; i++) {
        const { xyz } = connection(filters([27, 9, 3, 1].map((step) => (Math.floor(i / step) % points) / (points - 1))));
        xyz.forEach((v, c) => view.setUint16(head + 6 * i + 2 * c, Math.round((v / (1 + 32767 / 32768)) * 65535)));
      }
    });
    return profileWith('CMYK', 'XYZ ', 2, tag);
  }

  test('a JPEG shows the colours that its profile says of its inks', async () => {
    const bare = await sharp(colours, raw).toColourspace('cmyk').jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer();
    const body = Uint8Array.from([...new TextEncoder().encode('ICC_PROFILE'), 0, 1, 1, ...profileOfFilters()]);
    const segment = Uint8Array.from([0xff, 0xe2, (body.length + 2) >> 8, (body.length + 2) & 255, ...body]);
    const file = Uint8Array.from([...bare.subarray(0, 2), ...segment, ...bare.subarray(2)]);
    const { samples, notes } = await readPicture('inks.jpg', file, noCodec);
    expect(notes).toEqual([]);
    const inks = await sharp(bare).pipelineColourspace('cmyk').toColourspace('cmyk').raw().toBuffer();
    patches.forEach((_, i) => {
      const codes = [0, 1, 2, 3].map((c) => inks[4 * middle(i) + c] / 255);
      expect(deltaE2000(labOf(samples, middle(i)), cielabOf(...filters(codes)))).toBeLessThan(1);
    });
  });

  test('and is as light as another reader of profiles makes it', async () => {
    const file = await sharp(colours, raw).withIccProfile('cmyk').jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer();
    const { samples, notes } = await readPicture('inks.jpg', new Uint8Array(file), noCodec);
    expect([notes, samples.channels, samples.width, samples.height]).toEqual([[], 3, width, block]);
    const { data, info } = await sharp(file).toColourspace('srgb').raw().toBuffer({ resolveWithObject: true });
    const theirs: Samples = { width, height: block, channels: info.channels, data: new Uint8Array(data) };
    patches.forEach((_, i) => expect(Math.abs(labOf(samples, middle(i))[0] - labOf(theirs, middle(i))[0])).toBeLessThan(1));
  });

  test('without one the usual inks are taken, and it is said', async () => {
    const file = await sharp(colours, raw).toColourspace('cmyk').jpeg({ quality: 100 }).toBuffer();
    const { samples, notes } = await readPicture('inks.jpg', new Uint8Array(file), noCodec);
    expect(notes).toEqual([expect.stringMatching(/“inks.jpg” is in four inks .* does not say which.* Save it as RGB/)]);
    expect([samples.channels, samples.data instanceof Uint8Array]).toEqual([3, true]);
    // Paper is white, black is dark, grey is between them.
    const light = (i: number): number => encodeSrgb(decodeSrgb(samples.data[3 * middle(i)] / 255));
    expect([light(7) > 0.95, light(8) < 0.2, Math.abs(light(3) - 0.5) < 0.12]).toEqual([true, true, true]);
  });

  test('it lies as the file says, and a damaged one is refused by name', async () => {
    const file = new Uint8Array(await sharp(colours, raw).withIccProfile('cmyk').jpeg({ quality: 100 }).toBuffer());
    // A directory of one entry: the right side is at the top.
    const turned = [0xff, 0xe1, 0, 34, ...new TextEncoder().encode('Exif'), 0, 0, 0x4d, 0x4d, 0, 42, 0, 0, 0, 8, 0, 1, 1, 0x12, 0, 3, 0, 0, 0, 1, 0, 6, 0, 0, 0, 0, 0, 0]; // prettier-ignore
    const lying = Uint8Array.from([...file.subarray(0, 2), ...turned, ...file.subarray(2)]);
    const [as, is] = await Promise.all([file, lying].map(async (f) => (await readPicture('inks.jpg', f, noCodec)).samples));
    expect([is.width, is.height]).toEqual([block, width]);
    // The first patch is above, the top row on the right.
    const at = (s: Samples, x: number, y: number): number[] =>
      Array.from(s.data.subarray(3 * (y * s.width + x), 3 * (y * s.width + x) + 3));
    expect(at(is, block - 1, 40)).toEqual(at(as, 40, 0));
    const damaged = file.slice();
    // The tables of its codes, wiped out.
    for (let at = 2; at + 4 < damaged.length; at++)
      if (damaged[at] === 0xff && damaged[at + 1] === 0xc4) damaged.fill(255, at + 4, at + 24);
    await expect(readPicture('inks.jpg', damaged, noCodec)).rejects.toThrow(/“inks.jpg” .*again/);
  });
});
