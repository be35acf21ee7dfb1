/** @jest-environment node */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { encodeSrgb, fromSamples, lightInDisplayP3, defaultContext, type Picture } from '@ritaglio/core';
import { pngWithProfile, readPicture, writePng } from '@ritaglio/formats';
import sharp, { type Sharp } from 'sharp';
import { nodeCodec, pictureFrom, savePicture } from './files';

const folder = mkdtempSync(join(tmpdir(), 'ritaglio-wide-'));
afterAll(() => rmSync(folder, { recursive: true }));

/** Large patches as codes of Display P3, most of them beyond sRGB. */
const patches = [[255, 0, 0], [0, 255, 0], [0, 0, 255], [250, 120, 0], [0, 200, 180], [255, 255, 255], [128, 128, 128]]; // prettier-ignore
const side = 16;
const width = patches.length * side;
const codes = Uint8Array.from({ length: width * side * 3 }, (_, i) => patches[Math.floor((Math.floor(i / 3) % width) / side)][i % 3]);
const png = pngWithProfile(writePng({ width, height: side, channels: 3, data: codes }), 'display-p3');

/** Codes of Display P3 in the middle of each patch. */
const codesOf = (p: Picture): number[][] => {
  const { r, g, b } = lightInDisplayP3(p);
  return patches.map((_, i) => [r, g, b].map((c) => 255 * encodeSrgb(c[(side / 2) * width + i * side + side / 2])));
};
const near = (p: Picture, limit: number): void =>
  codesOf(p).forEach((found, i) => found.forEach((v, c) => expect(Math.abs(v - patches[i][c])).toBeLessThan(limit)));

test.each([
  ['JPEG', (s: Sharp) => s.jpeg({ quality: 100, chromaSubsampling: '4:4:4' }), 3],
  ['WebP', (s: Sharp) => s.webp({ lossless: true }), 1],
  ['AVIF', (s: Sharp) => s.avif({ lossless: true, chromaSubsampling: '4:4:4' }), 3],
])('wide colours come in from a %s', async (_, written, limit) => {
  const bytes = new Uint8Array(await written(sharp(png).keepIccProfile()).toBuffer());
  const { samples } = await readPicture('wide', bytes, nodeCodec);
  expect(samples.space).toBe('display-p3');
  near(fromSamples(samples), limit);
});

test.each(['wide.png', 'wide.jpg', 'wide.webp', 'wide.avif'])('and leave as %s, to be read again', async (name) => {
  const light = fromSamples((await readPicture('wide.png', png, nodeCodec)).samples);
  const path = join(folder, name);
  await savePicture(path, light, 'display-p3');
  near(await pictureFrom(path, defaultContext()), name.endsWith('png') ? 1 : 8);
  // As sRGB what is beyond it is clipped, and the rest stays.
  await savePicture(path, light);
  const narrow = codesOf(fromSamples((await readPicture(name, new Uint8Array(readFileSync(path)), nodeCodec)).samples));
  expect(narrow[1][0]).toBeGreaterThan(60);
  narrow[6].forEach((v) => expect(Math.abs(v - 128)).toBeLessThan(2));
});
