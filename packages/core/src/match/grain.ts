import { lightnessOf } from '../colour/cielab';
import { decodeSrgb, encodedQuickly, encodeSrgb } from '../colour/srgb';
import type { Context } from '../runtime/context';
import { pause } from '../runtime/context';
import { makePicture, type Picture, type Plane } from '../raster/plane';
import { seeded } from '../raster/random';

/** Grain of a picture or a part of it. */
export interface Grain {
  /** Standard deviation of L*, over all tones. */
  level: number;
  /** The same for tones around 0, 12.5 … 100 L*; where a tone hardly occurs, that of its neighbours. */
  byTone: number[];
  /** Standard deviation, px of the picture, of the Gaussian whose blur of independent noise has the grain's size; 0: independent. */
  size: number;
  /** Mean L* of the blocks that were flat enough to tell, and how many there were. */
  tone: number;
  blocks: number;
}

/** Side of the blocks that are looked at. */
const side = 16;
/** Tones told apart: 0, 12.5 … 100 L*. */
const grainTones = 9;
const fewest = 12;

interface Block {
  /** Variance and neighbouring products of what is left of a block's codes after a curved surface is taken off. */
  variance: number;
  beside: number;
  lightness: number;
  /** L* per unit of code value. */
  slope: number;
}

/**
 * Noise of flat blocks, by tone. A curved surface is taken off each block; of what is left the quietest blocks of a tone
 * are noise alone, since texture only adds (after Liu et al. 2013, who choose weakly textured patches likewise).
 *
 * @param weight where to look; blocks that lie wholly inside are taken. Everywhere when left out
 * @returns nothing when no part is flat enough to tell
 */
export function measureGrain(p: Picture, weight?: Plane): Grain | undefined {
  const blocks = blocksOf(p, weight);
  if (blocks.length < fewest) return undefined;
  const lowest = quiet(blocks);
  const near = blocks.filter((b) => deviation(b) < 1.25 * lowest + 0.02);
  const [beside, all] = near.reduce(([x, y], b) => [x + b.beside, y + b.variance], [0, 0]);
  const rho = all > 0 ? Math.min(0.95, beside / all) : 0;
  const size = sizeFor(rho);
  // The surface takes off as many waves as it has terms, and coarse noise has more than its share of power in those.
  const taken = (surfaces.length * Math.max(1, 4 * Math.PI * size * size)) / (side * side);
  const whole = 1 / Math.sqrt(1 - Math.min(0.5, taken));
  const byTone = filledTones(
    Array.from({ length: grainTones }, (_, t) => {
      const here = blocks.filter((b) => Math.abs(b.lightness - (100 * t) / (grainTones - 1)) < 9);
      const level = here.length >= 2 * fewest ? quiet(here) : Infinity;
      // One tone can be noisier than the quietest, but not beyond all measure: that would be texture.
      return level < 2 * lowest ? whole * level : undefined;
    }),
    whole * lowest,
  );
  const flat = blocks.filter((b) => deviation(b) < 1.3 * grainAt(byTone, b.lightness));
  const square = flat.reduce((sum, b) => sum + grainAt(byTone, b.lightness) ** 2, 0);
  return { level: Math.sqrt(square / Math.max(1, flat.length)), byTone, tone: meanTone(flat), size, blocks: flat.length };
}

/** Neighbouring pixels' correlation of independent noise behind sampled Gaussians of 0, 0.05, … 3 px. */
const correlations = Array.from({ length: 61 }, (_, i) => {
  const kernel = gaussianKernel(i / 20);
  const at = (lag: number): number => kernel.reduce((sum, v, k) => sum + v * (kernel[k + lag] ?? 0), 0);
  return at(1) / at(0);
});

function gaussianKernel(sigma: number): number[] {
  const reach = Math.ceil(3 * sigma);
  return Array.from({ length: 2 * reach + 1 }, (_, k) => (sigma > 0 ? Math.exp((-0.5 * (k - reach) ** 2) / (sigma * sigma)) : 1));
}

/** The size whose noise has a correlation from pixel to pixel; what could as well be chance is none. */
function sizeFor(rho: number): number {
  if (rho < 0.03) return 0;
  const i = correlations.findIndex((c) => c >= rho);
  if (i < 0) return 3;
  const [low, high] = [correlations[i - 1], correlations[i]];
  return (i - 1 + (rho - low) / (high - low)) / 20;
}

function meanTone(blocks: Block[]): number {
  return blocks.reduce((sum, b) => sum + b.lightness, 0) / Math.max(1, blocks.length);
}

/** Grain at a tone, L*. */
export function grainAt(byTone: readonly number[], lightness: number): number {
  const t = Math.min(1, Math.max(0, lightness / 100)) * (grainTones - 1);
  const k = Math.min(grainTones - 2, Math.floor(t));
  return byTone[k] + (t - k) * (byTone[k + 1] - byTone[k]);
}

/** What is fitted: all products of u and v up to the third degree, each made to stand upright on those before it over one block. */
const surfaces = orthonormal();

function orthonormal(): Float64Array[] {
  const at = (i: number): number => (2 * i) / (side - 1) - 1;
  const shapes: [number, number][] = [];
  for (let degree = 0; degree <= 3; degree++) for (let k = 0; k <= degree; k++) shapes.push([degree - k, k]);
  const out: Float64Array[] = [];
  for (const [across, down] of shapes) {
    const s = Float64Array.from({ length: side * side }, (_, k) => at(k % side) ** across * at(Math.floor(k / side)) ** down);
    for (const other of out) {
      const along = s.reduce((sum, x, k) => sum + x * other[k], 0);
      for (let k = 0; k < s.length; k++) s[k] -= along * other[k];
    }
    const length = Math.sqrt(s.reduce((sum, x) => sum + x * x, 0));
    out.push(s.map((x) => x / length));
  }
  return out;
}

function blocksOf(p: Picture, weight?: Plane): Block[] {
  const out: Block[] = [];
  const code = new Float64Array(side * side);
  const offsets = Int32Array.from(code, (_, k) => Math.floor(k / side) * p.width + (k % side));
  // At most about 20000 blocks tell as much as all do.
  const step = Math.max(side, Math.floor(Math.sqrt((p.width * p.height) / 20000)));
  for (let top = 0; top + side <= p.height; top += step) {
    next: for (let left = 0; left + side <= p.width; left += step) {
      let [mean, least, most] = [0, 1, 0];
      for (let k = 0; k < code.length; k++) {
        const i = top * p.width + left + offsets[k];
        if (weight && weight.data[i] < 0.98) continue next;
        code[k] = 0.2126 * encodedQuickly(p.r[i]) + 0.7152 * encodedQuickly(p.g[i]) + 0.0722 * encodedQuickly(p.b[i]);
        mean += code[k];
        least = Math.min(least, code[k]);
        most = Math.max(most, code[k]);
      }
      // Cut off at black or white, noise cannot be told.
      if (least < 0.008 || most > 0.992) continue;
      mean /= code.length;
      for (const s of surfaces) {
        let along = 0;
        for (let k = 0; k < code.length; k++) along += code[k] * s[k];
        for (let k = 0; k < code.length; k++) code[k] -= along * s[k];
      }
      let [variance, beside] = [0, 0];
      for (let k = 0; k < code.length; k++) {
        variance += code[k] * code[k];
        if (k % side < side - 1) beside += code[k] * code[k + 1];
        if (k + side < code.length) beside += code[k] * code[k + side];
      }
      const pairs = 2 * side * (side - 1);
      const light = decodeSrgb(mean);
      out.push({
        variance: variance / code.length,
        beside: beside / pairs,
        lightness: lightnessOf(light),
        slope: lightnessSlope(mean),
      });
    }
  }
  return out;
}

/** L* per unit of code value of a grey. */
function lightnessSlope(code: number): number {
  const [low, high] = [Math.max(0, code - 1 / 512), Math.min(1, code + 1 / 512)];
  return (lightnessOf(decodeSrgb(high)) - lightnessOf(decodeSrgb(low))) / (high - low);
}

/** Standard deviation of L* in a block. */
function deviation(b: Block): number {
  return Math.sqrt(b.variance) * b.slope;
}

/** Which of the blocks, from the quietest, stands for noise alone when many are flat. */
const counted = 0.2;

function quiet(blocks: Block[]): number {
  const sorted = blocks.map(deviation).sort((a, b) => a - b);
  const low = sorted[Math.floor(counted * (sorted.length - 1))];
  // Flat blocks scatter about the noise; those near the quiet ones are averaged until they agree with themselves.
  let level = low;
  for (let k = 0; k < 12; k++) {
    let [sum, n] = [0, 0];
    for (const s of sorted) {
      if (s > 1.24 * level) break;
      sum += s * s;
      n++;
    }
    const next = n > 0 ? Math.sqrt(sum / n) : level;
    if (Math.abs(next - level) < 1e-4 * level) break;
    level = next;
  }
  return level;
}

function filledTones(found: (number | undefined)[], level: number): number[] {
  return found.map((v, i) => {
    if (v !== undefined) return v;
    for (let d = 1; d < found.length; d++) {
      const near = [found[i - d], found[i + d]].filter((x) => x !== undefined);
      if (near.length > 0) return near.reduce((a, b) => a + b, 0) / near.length;
    }
    return level;
  });
}

/** Side of the tile of noise, px, and of the pieces that are laid from it. */
const tileSide = 512;
const piece = 64;
const tiles = new Map<string, Float32Array>();

/** A tile of unit noise of a size that goes on over its borders. */
function noiseTile(seed: number, size: number): Float32Array {
  const key = `${seed} ${size.toFixed(3)}`;
  const known = tiles.get(key);
  if (known) return known;
  const random = seeded(seed ^ 0x51ab);
  let data = new Float32Array(tileSide * tileSide);
  for (let i = 0; i < data.length; i += 2) {
    const radius = Math.sqrt(-2 * Math.log(1 - random()));
    const angle = 2 * Math.PI * random();
    data[i] = radius * Math.cos(angle);
    data[i + 1] = radius * Math.sin(angle);
  }
  if (size > 0) {
    const kernel = gaussianKernel(size);
    const reach = kernel.length >> 1;
    for (const stride of [1, tileSide]) {
      const next = new Float32Array(data.length);
      for (let y = 0, i = 0; y < tileSide; y++) {
        for (let x = 0; x < tileSide; x++, i++) {
          const at = stride === 1 ? x : y;
          let sum = 0;
          for (let k = -reach; k <= reach; k++) sum += kernel[k + reach] * data[i + (((at + k + tileSide) % tileSide) - at) * stride];
          next[i] = sum;
        }
      }
      data = next;
    }
    const power = Math.sqrt(data.reduce((sum, v) => sum + v * v, 0) / data.length);
    for (let i = 0; i < data.length; i++) data[i] /= power;
  }
  if (tiles.size > 3) tiles.clear();
  tiles.set(key, data);
  return data;
}

/** How much of the grain of a full-size picture is left when it is reduced to a scale: neighbours average out. */
export function grainAtScale(size: number, scale: number): number {
  return Math.sqrt((size * size + 1 / 12) / (size * size + 1 / (12 * scale * scale)));
}

/** How much of its grain a picture keeps behind a blur disc, px: neighbours average out likewise. */
export function grainBehind(size: number, disc: number): number {
  return Math.sqrt((size * size + 1 / 12) / (size * size + 1 / 12 + (disc * disc) / 16));
}

/** Light gained per unit of code value, over the square root of light. */
const gainSteps = 1024;
const gains = Float32Array.from({ length: gainSteps + 2 }, (_, i) => {
  const light = Math.min(1, i / gainSteps) ** 2;
  return light <= 0.0031308 ? 1 / 12.92 : (2.4 / 1.055) * light ** (1.4 / 2.4);
});

/**
 * Adds grain to a picture: noise of a standard deviation in L*, the same in all channels' code values, so that it has no
 * colour. Mean light stays. Seeded: the same seed gives the same grain.
 *
 * @param byTone standard deviation for 0, 12.5 … 100 L*
 * @param size of the grain, px of the picture
 * @param share of it at each pixel; everywhere all when left out
 * @throws AbortError
 */
export async function addGrain(p: Picture, byTone: readonly number[], size: number, context: Context, share?: Plane): Promise<Picture> {
  if (byTone.every((v) => v === 0)) return p;
  const { seed } = context;
  const noise = noiseTile(seed, size);
  const out = makePicture(p.width, p.height);
  if (p.a) out.a = p.a;
  // Standard deviation in code values over the square root of luminance.
  const level = Float32Array.from({ length: gainSteps + 2 }, (_, i) => {
    const light = Math.min(1, i / gainSteps) ** 2;
    return grainAt(byTone, lightnessOf(light)) / lightnessSlope(encodeSrgb(light));
  });
  const across = Math.ceil(p.width / piece);
  const random = seeded(seed ^ 0x2e17);
  const offsets = Int32Array.from({ length: 2 * across * Math.ceil(p.height / piece) }, () => Math.floor(random() * tileSide));
  for (let y = 0; y < p.height; y++) {
    if ((y & 31) === 0) await pause(context, 'Laying grain', y / p.height);
    for (let x = 0, i = y * p.width; x < p.width; x++, i++) {
      const s = share ? share.data[i] : 1;
      const [r, g, b] = [p.r[i], p.g[i], p.b[i]];
      if (s <= 0) {
        out.r[i] = r;
        out.g[i] = g;
        out.b[i] = b;
        continue;
      }
      const o = 2 * (((y / piece) | 0) * across + ((x / piece) | 0));
      const n = noise[((y + offsets[o]) & (tileSide - 1)) * tileSide + ((x + offsets[o + 1]) & (tileSide - 1))];
      const d = s * n * level[at(0.2126 * r + 0.7152 * g + 0.0722 * b)];
      out.r[i] = r + d * gains[at(r)];
      out.g[i] = g + d * gains[at(g)];
      out.b[i] = b + d * gains[at(b)];
    }
  }
  return out;
}

function at(light: number): number {
  return light <= 0 ? 0 : light >= 1 ? gainSteps : (Math.sqrt(light) * gainSteps + 0.5) | 0;
}
