import { toCode8 } from '../colour/srgb';
import { components } from '../raster/components';
import { maskOf } from '../raster/mask';
import type { Box, Picture } from '../raster/plane';
import { makePicture } from '../raster/plane';
import { seeded } from '../raster/random';

/** Steps that the eye sees in what should be smooth. */
export interface Banding {
  /** Share of the picture that lies in steps. */
  share: number;
  /** Where, largest first, px of the picture. */
  places: Box[];
}

/** Runs of one code shorter than this are no steps that the eye could see. */
const shortest = 8;
const cell = 32;

/**
 * Banding of a picture as 8-bit codes show it: three or more even runs one after the other, each a code (or two) further
 * in the same direction, along rows or columns, in any channel.
 */
export function findBanding(p: Picture): Banding {
  const { width, height } = p;
  const marked = new Uint8Array(width * height);
  const codes = new Uint8Array(width * height);
  const turned = new Uint8Array(width * height);
  const markedTurned = new Uint8Array(width * height);
  for (const channel of [p.r, p.g, p.b]) {
    for (let i = 0; i < codes.length; i++) codes[i] = toCode8(channel[i]);
    transpose(codes, turned, width, height);
    for (let y = 0; y < height; y++) markRuns(codes, marked, y * width, width);
    for (let x = 0; x < width; x++) markRuns(turned, markedTurned, x * height, height);
  }
  transpose(markedTurned, turned, height, width);
  for (let i = 0; i < marked.length; i++) marked[i] |= turned[i];
  const [across, down] = [Math.ceil(width / cell), Math.ceil(height / cell)];
  const counts = new Uint32Array(across * down);
  let all = 0;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (!marked[i]) continue;
      counts[((y / cell) | 0) * across + ((x / cell) | 0)]++;
      all++;
    }
  }
  return { share: all / (width * height), places: placesOf(counts, across, down, width, height) };
}

/** Rows become columns, in tiles so that memory is read as it lies. */
function transpose(from: Uint8Array, to: Uint8Array, width: number, height: number): void {
  for (let top = 0; top < height; top += 64) {
    for (let left = 0; left < width; left += 64) {
      const [right, bottom] = [Math.min(width, left + 64), Math.min(height, top + 64)];
      for (let x = left; x < right; x++) for (let y = top; y < bottom; y++) to[x * height + y] = from[y * width + x];
    }
  }
}

/** Marks all pixels of a line that lie in a staircase of even runs. */
function markRuns(codes: Uint8Array, marked: Uint8Array, from: number, count: number): void {
  let [start, climb, direction, stairs] = [0, 0, 0, 0];
  for (let k = 1; k <= count; k++) {
    const here = k < count ? codes[from + k] : -9;
    const before = codes[from + k - 1];
    if (here === before) continue;
    const step = here - before;
    // A run just ended.
    if (k - start >= shortest) {
      if (stairs === 0) climb = start;
      stairs++;
    } else {
      if (stairs >= 3) marked.fill(1, from + climb, from + start);
      [stairs, direction] = [0, 0];
    }
    const turns = Math.abs(step) > 2 || (direction !== 0 && Math.sign(step) !== direction);
    if (turns) {
      if (stairs >= 3) marked.fill(1, from + climb, from + k);
      [stairs, climb] = k - start >= shortest && Math.abs(step) <= 2 ? [1, start] : [0, k];
    }
    direction = Math.abs(step) <= 2 ? Math.sign(step) : 0;
    start = k;
  }
}

/** Boxes around cells that are mostly in steps and touch each other. */
function placesOf(counts: Uint32Array, across: number, down: number, width: number, height: number): Box[] {
  const inside = maskOf(counts, (n) => n > 0.4 * cell * cell);
  const { label, area } = components(inside, across, down);
  const boxes = area.slice(1).map(() => ({ x0: across, y0: down, x1: 0, y1: 0 }));
  label.forEach((l, i) => {
    if (l === 0) return;
    const b = boxes[l - 1];
    const [x, y] = [i % across, Math.floor(i / across)];
    [b.x0, b.y0, b.x1, b.y1] = [Math.min(b.x0, x), Math.min(b.y0, y), Math.max(b.x1, x + 1), Math.max(b.y1, y + 1)];
  });
  return boxes
    .map(({ x0, y0, x1, y1 }) => ({
      x: x0 * cell,
      y: y0 * cell,
      width: Math.min(width, x1 * cell) - x0 * cell,
      height: Math.min(height, y1 * cell) - y0 * cell,
    }))
    .sort((a, b) => b.width * b.height - a.width * a.height);
}

/** A picture with noise of a triangular spread of one 8-bit code either way: steps dissolve, mean light stays. */
export function dithered(p: Picture, seed: number): Picture {
  const out = makePicture(p.width, p.height);
  if (p.a) out.a = p.a;
  const random = seeded(seed ^ 0x6d3f);
  for (const c of ['r', 'g', 'b'] as const) {
    for (let i = 0; i < p.r.length; i++) {
      const v = p[c][i];
      // A code's width in light: the slope of the sRGB curve, and its straight foot.
      const width = v <= 0.0031308 ? 1 / (12.92 * 255) : (2.4 / (1.055 * 255)) * (v < 1 ? v : 1) ** (1.4 / 2.4);
      out[c][i] = v + (random() + random() - 1) * width;
    }
  }
  return out;
}
