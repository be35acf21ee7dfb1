import { encodedQuickly } from '../colour/srgb';
import type { Arena } from '../runtime/arena';
import { boxMean } from '../raster/filter';
import { widened } from '../raster/widened';
import type { Holed } from '../raster/resize';
import { pictureOf, planesOf, type Box, type Picture, type Plane } from '../raster/plane';
import { maskOf } from '../raster/mask';

/** Pixels from a patch's middle to its side: patches are 7 × 7. */
export const reach = 3;
/** From this share of a pixel on it is invented; below, the guide keeps what is seen. */
export const inventedFrom = 0.3;
/** Largest share of a pixel that may be invented if it is to be copied from. */
const cleanBelow = 0.02;

/** The picture at one size, as the search for like patches sees it. */
export interface PatchLevel {
  width: number;
  height: number;
  /** What is seen, or has been invented so far, in linear light. */
  colour: Picture;
  /** The same packed: 8 bits each of red, green, blue, from the lowest up, then 4 bits each of the slopes of brightness across and down. */
  codes: Int32Array;
  /** Mean colour of each patch, known or guessed by the membrane, packed likewise without slopes. */
  guide: Int32Array;
  /** 1 where it must be invented. */
  open: Uint8Array;
  /** 1 in the middle of every patch that may be copied from. */
  source: Uint8Array;
  /** 1 in the middle of every patch that holds something to be invented. */
  target: Uint8Array;
  /** The part that holds all targets. */
  box: Box;
}

/**
 * Prepares a size for the search.
 *
 * @param guess the picture with a membrane in the hole
 * @param holed the picture and what of it must be invented
 * @param allowed 1 where it may be copied from; 0 in the subject
 */
export function makeLevel(guess: Picture, { picture, hole }: Holed, allowed: Plane): PatchLevel {
  const { width, height } = guess;
  const open = maskOf(hole.data, (h) => h >= inventedFrom);
  const soiled = widened(
    maskOf(hole.data, (h, p) => h > cleanBelow || allowed.data[p] < 0.98),
    width,
    height,
    reach,
  );
  const target = widened(open, width, height, reach);
  const source = new Uint8Array(width * height);
  let [left, right, top, bottom] = [width, 0, height, 0];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      // Patches lie wholly within the picture.
      if (x < reach || y < reach || x >= width - reach || y >= height - reach) target[p] = 0;
      else if (soiled[p] === 0) source[p] = 1;
      if (target[p] === 0) continue;
      left = Math.min(left, x);
      right = Math.max(right, x + 1);
      top = Math.min(top, y);
      bottom = y + 1;
    }
  }
  const box = { x: left, y: top, width: Math.max(0, right - left), height: Math.max(0, bottom - top) };
  const laidIn = (seen: Float32Array, guessed: Float32Array): Float32Array =>
    seen.map((v, p) => (hole.data[p] > cleanBelow ? guessed[p] : v));
  const colour = { width, height, r: laidIn(picture.r, guess.r), g: laidIn(picture.g, guess.g), b: laidIn(picture.b, guess.b) };
  const codes = new Int32Array(width * height);
  encode(colour, codes, { x: 0, y: 0, width, height });
  const guide = new Int32Array(width * height);
  const { r, g, b } = pictureOf(planesOf(guess).map((plane) => boxMean(plane, reach)));
  for (let p = 0; p < guide.length; p++) guide[p] = packed(r[p], g[p], b[p]);
  return { width, height, colour, codes, guide, open, source, target, box };
}

function packed(r: number, g: number, b: number): number {
  return code8(r) | (code8(g) << 8) | (code8(b) << 16);
}

function code8(light: number): number {
  return (255 * encodedQuickly(light) + 0.5) | 0;
}

/** Brightness of a packed colour, 0 to 255. */
export function brightnessOf(code: number): number {
  return (77 * (code & 255) + 150 * ((code >>> 8) & 255) + 29 * ((code >>> 16) & 255)) >> 8;
}

/** Weak slopes tell textures apart, strong ones are seen in the colours already: a root, in 4 bits. */
const slopeCodes = Uint8Array.from({ length: 511 }, (_, i) => {
  const slope = i - 255;
  return Math.min(15, Math.max(0, Math.round(8 + 0.6 * Math.sign(slope) * Math.sqrt(Math.abs(slope)))));
});

/** Brings the codes of a part up to its colours. */
export function encode(colour: Picture, codes: Int32Array, part: Box): void {
  const { width, height, r, g, b } = colour;
  for (let y = part.y; y < part.y + part.height; y++) {
    for (let p = y * width + part.x, end = p + part.width; p < end; p++) codes[p] = packed(r[p], g[p], b[p]) | (codes[p] & 0xff000000);
  }
  for (let y = Math.max(0, part.y - 1); y < Math.min(height, part.y + part.height + 1); y++) {
    for (let x = Math.max(0, part.x - 1); x < Math.min(width, part.x + part.width + 1); x++) {
      const p = y * width + x;
      const across = brightnessOf(codes[x + 1 < width ? p + 1 : p]) - brightnessOf(codes[x > 0 ? p - 1 : p]);
      const down = brightnessOf(codes[y + 1 < height ? p + width : p]) - brightnessOf(codes[y > 0 ? p - width : p]);
      codes[p] = (codes[p] & 0xffffff) | (slopeCodes[across + 255] << 24) | (slopeCodes[down + 255] << 28);
    }
  }
}

/** Pixels of a patch. */
export const patchArea = (2 * reach + 1) ** 2;

/** What it costs to copy from elsewhere, as squared code differences a patch; all for a shift by the picture's longer side. */
const upwards = 441_000;
const sideways = 44_100;
/** How strongly the patch's mean colour is held to the guide's, beside its pixels. */
const guided = 0.3;

/**
 * Compiled code made ready to compare this size's patches. What a source costs whatever its pixels are: scenes lie in layers, near is
 * more likely, and the membrane knows the mean.
 *
 * @returns the addresses of codes and sources in it
 */
export function comparing(arena: Arena, { width, height, codes, guide, source }: PatchLevel): { codes: number; source: number } {
  const at = { codes: arena.copyIn(codes), source: arena.copyIn(source) };
  const room = arena.alloc(5 * codes.length + 32);
  const held = guided * patchArea;
  arena.run.patchesOn(width, height, at.codes, arena.copyIn(guide), at.source, room, upwards, sideways, held);
  return at;
}
