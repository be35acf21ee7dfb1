/** @jest-environment node */
import {
  cielabOf,
  decodeSrgb,
  deltaE2000,
  fromSamples,
  leavesSrgb,
  lightInDisplayP3,
  toSamples16,
  type CodeSpace,
  type Picture,
} from '@ritaglio/core';
import fc from 'fast-check';
import { zlibSync } from 'fflate';
import sharp from 'sharp';
import { readProfile } from './icc';
import { readPicture, writePng, type Codec } from './picture';
import { embeddedIn, jpegWithProfile, pngWithProfile, profileOf } from './profiles';
import { writeTiff } from './tiffWriter';

const noCodec: Codec = { decode: () => Promise.reject(new Error('not asked')), encodeJpeg: () => Promise.reject(new Error('not asked')) };

const patches = [[200, 30, 40], [40, 180, 60], [30, 60, 210], [128, 128, 128], [250, 240, 20], [12, 12, 14], [90, 140, 160]]; // prettier-ignore

function lab(rgb: ArrayLike<number>, full: number): [number, number, number] {
  return cielabOf(...(Array.from({ length: 3 }, (_, c) => decodeSrgb(rgb[c] / full)) as [number, number, number]));
}

/** A PNG of patches whose codes are those of another space, with its profile. */
async function patchesIn(profile: 'p3' | 'srgb'): Promise<Uint8Array> {
  const data = Buffer.from(patches.flat());
  return new Uint8Array(
    await sharp(data, { raw: { width: patches.length, height: 1, channels: 3 } })
      .withIccProfile(profile)
      .png()
      .toBuffer(),
  );
}

test('a picture with a wide profile shows the colours that its profile says, not others', async () => {
  // The patches are sRGB; their codes in the file are those of the wider space.
  const { samples, notes } = await readPicture('wide.png', await patchesIn('p3'), noCodec);
  expect(notes).toEqual([]);
  expect([samples.data instanceof Uint16Array, samples.space]).toEqual([true, 'display-p3']);
  const { r, g, b } = fromSamples(samples);
  patches.forEach((patch, i) => expect(deltaE2000(cielabOf(r[i], g[i], b[i]), lab(patch, 255))).toBeLessThan(1));
});

test('one with the profile of sRGB, or none, keeps its bytes', async () => {
  const { samples } = await readPicture('plain.png', await patchesIn('srgb'), noCodec);
  expect([...samples.data]).toEqual(patches.flat());
});

describe('colours that sRGB has not', () => {
  /** Patches as codes of Display P3, most of them beyond sRGB. */
  const wide = [[255, 0, 0], [0, 255, 0], [0, 0, 255], [250, 120, 0], [0, 200, 180], [255, 255, 255], [128, 128, 128]]; // prettier-ignore
  const side = 16;
  const width = wide.length * side;
  const codes = Uint8Array.from({ length: width * side * 3 }, (_, i) => wide[Math.floor((Math.floor(i / 3) % width) / side)][i % 3]);
  const file = pngWithProfile(writePng({ width, height: side, channels: 3, data: codes }), 'display-p3');
  const middle = (i: number): number => (side / 2) * width + i * side + side / 2;
  /** Light in Display P3 of each patch. */
  const patchesOf = (p: Picture): number[][] => {
    const { r, g, b } = lightInDisplayP3(p);
    return wide.map((_, i) => [r, g, b].map((c) => c[middle(i)]));
  };
  const truth = wide.map((patch) => patch.map((v) => decodeSrgb(v / 255)));
  const near = (found: number[][], limit: number): void =>
    found.forEach((p, i) => p.forEach((v, c) => expect(Math.abs(v - truth[i][c])).toBeLessThan(limit)));

  test('come in as they are, and are known to be there', async () => {
    const { samples } = await readPicture('wide.png', file, noCodec);
    const picture = fromSamples(samples);
    near(patchesOf(picture), 1e-3);
    expect(leavesSrgb(picture)).toBe(true);
    expect(leavesSrgb(fromSamples({ width, height: side, channels: 3, data: codes }))).toBe(false);
    // Pure red of the wide space lies outside the narrow one.
    expect(picture.g[middle(0)]).toBeLessThan(-0.03);
  });

  test.each<CodeSpace>(['srgb', 'display-p3'])('a file of %s says so, and another reader sees the same colours', async (space) => {
    const light = fromSamples((await readPicture('wide.png', file, noCodec)).samples);
    const given = toSamples16(space === 'srgb' ? light : lightInDisplayP3(light));
    const jpeg = await sharp(Buffer.from(given.data.map((v) => v >> 8).buffer).filter((_, i) => i % 2 === 0), { raw: { width, height: side, channels: 3 } }).jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer(); // prettier-ignore
    for (const bytes of [
      pngWithProfile(writePng(given), space),
      writeTiff({ ...given, space }),
      jpegWithProfile(new Uint8Array(jpeg), space),
    ]) {
      const meta = await sharp(bytes).metadata();
      expect(Buffer.compare(meta.icc!, profileOf(space))).toBe(0);
      // Their library's own idea of sRGB, from the profile alone.
      const { data } = await sharp(bytes).toColourspace('srgb').removeAlpha().raw().toBuffer({ resolveWithObject: true });
      const eight =
        data.length === width * side * 3
          ? data
          : Buffer.from(new Uint16Array(data.buffer, data.byteOffset, data.length / 2).map((v) => v >> 8));
      [5, 6].forEach((i) => wide[i].forEach((v, c) => expect(Math.abs(eight[3 * middle(i) + c] - v)).toBeLessThanOrEqual(2)));
    }
  });

  test('a profile is found in a JPEG however it is cut up, and never beyond its end', async () => {
    const jpeg = new Uint8Array(await sharp(file).keepIccProfile().jpeg().toBuffer());
    expect(embeddedIn(jpeg)).toEqual(profileOf('display-p3'));
    expect(jpegWithProfile(jpeg, 'srgb')).toBe(jpeg);
    for (let n = 0; n < jpeg.length; n += 37) expect(() => embeddedIn(jpeg.subarray(0, n))).not.toThrow(TypeError);
  });
});

/** A profile with a matrix and curves of a power. */
function made(gamma: number, space = 'RGB '): Uint8Array {
  const out = new Uint8Array(400);
  const view = new DataView(out.buffer);
  const text = (at: number, s: string): void => [...s].forEach((c, i) => (out[at + i] = c.charCodeAt(0)));
  text(16, space);
  text(36, 'acsp');
  const xyz: Record<string, number[]> = { rXYZ: [0.43607, 0.22249, 0.01392], gXYZ: [0.38515, 0.71687, 0.09708], bXYZ: [0.14307, 0.06061, 0.7141] }; // prettier-ignore
  const tags = [...Object.keys(xyz), 'rTRC', 'gTRC', 'bTRC', 'kTRC'];
  view.setUint32(128, tags.length);
  tags.forEach((tag, i) => {
    text(132 + 12 * i, tag);
    const at = tag in xyz ? 232 + 24 * i : 320;
    view.setUint32(136 + 12 * i, at);
    if (!(tag in xyz)) return;
    text(at, 'XYZ ');
    xyz[tag].forEach((v, k) => view.setInt32(at + 8 + 4 * k, Math.round(65536 * v)));
  });
  text(320, 'curv');
  view.setUint32(328, 1);
  view.setUint16(332, Math.round(256 * gamma));
  return out;
}

/** A PNG with a profile put in. */
function withProfile(png: Uint8Array, profile: Uint8Array): Uint8Array {
  const packed = zlibSync(profile);
  const body = new Uint8Array([...[...'iCCPx'].map((c) => c.charCodeAt(0)), 0, 0, ...packed]);
  const chunk = new Uint8Array(8 + body.length);
  new DataView(chunk.buffer).setUint32(0, body.length - 4);
  chunk.set(body, 4);
  let crc = ~0;
  for (const b of body) {
    crc ^= b;
    for (let k = 0; k < 8; k++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  }
  new DataView(chunk.buffer).setUint32(4 + body.length, ~crc >>> 0);
  return new Uint8Array([...png.subarray(0, 33), ...chunk, ...png.subarray(33)]);
}

const small = writePng({ width: 2, height: 1, channels: 3, data: Uint8Array.of(128, 128, 128, 255, 0, 64) });

test('a power of 1.8 makes the middle lighter, exactly; grey has its own', async () => {
  const { samples } = await readPicture('a.png', withProfile(small, made(1.8)), noCodec);
  const light = (128 / 255) ** 1.8;
  expect(decodeSrgb(samples.data[0] / 65535)).toBeCloseTo(light, 3);
  const grey = writePng({ width: 1, height: 1, channels: 1, data: Uint8Array.of(128) });
  const read = await readPicture('g.png', withProfile(grey, made(1.8, 'GRAY')), noCodec);
  expect(decodeSrgb(read.samples.data[0] / 65535)).toBeCloseTo(light, 3);
});

test('what cannot be understood is said, and the picture still opens', async () => {
  for (const bytes of [withProfile(small, made(1.8, 'CMYK')), withProfile(small, made(2).subarray(0, 60))]) {
    const { samples, notes } = await readPicture('odd.png', bytes, noCodec);
    expect(notes[0]).toMatch(/colour profile that cannot be used .* taken as sRGB/);
    expect([...samples.data]).toEqual([128, 128, 128, 255, 0, 64]);
  }
  const whole = made(1.8);
  fc.assert(
    fc.property(fc.nat(399), fc.nat(255), fc.nat(400), (at, value, length) => {
      const broken = whole.slice(0, length);
      if (at < length) broken[at] = value;
      const { profile, why } = readProfile(broken);
      expect(Boolean(profile) !== Boolean(why)).toBe(true);
    }),
    { numRuns: 500 },
  );
});
