import { pause, type Context } from '../runtime/context';
import { brightnessOf, colourDifference, patchArea, placeCost, reach, rowCost, type PatchLevel } from './patchLevel';
import { hashed, indicesOf } from './nearestPatches';
import { weightOf } from '../raster/mask';

/** Share of the urgency that does not depend on lines. */
const anyway = 0.1;
/** How much luck changes what a source costs, as a squared code difference a pixel: it makes one try differ from another. */
const luck = 60;
/** Side of the squares that share their luck, px. */
const square = 8;

/**
 * A first filling from the rim inwards, patch by patch: first where much around is known and where a line meets the rim, so that
 * lines run on into the hole (Criminisi et al. 2004). Writes the level's colours and codes.
 *
 * @returns for each invented pixel where it was copied from, -1 elsewhere
 * @throws AbortError
 */
export async function continueLines(level: PatchLevel, seed: number, context: Context): Promise<Int32Array> {
  const { width, height, codes, open, source, colour } = level;
  const n = width * height;
  const from = new Int32Array(n).fill(-1);
  const missing = open.slice();
  const sure = weightOf(open, (o) => o === 0);
  const sources = indicesOf(source);
  // A quarter of them is tried, then the neighbours of the best.
  const rows: Source[][] = Array.from({ length: height }, () => []);
  for (const q of sources) {
    const [x, y] = [q % width, Math.floor(q / width)];
    if ((x + 2 * y + seed) % 4 !== 0) continue;
    rows[y].push({ q, lot: (luck * patchArea * hashed(Math.floor(x / square), Math.floor(y / square), seed, 5)) / 0x100000000 });
  }
  const front = new Front(level, missing, sure);
  const all = missing.reduce((sum, m) => sum + m, 0);
  let left = all;
  const known = new Int32Array(patchArea);
  while (left > 0) {
    await pause(context, 'Continuing lines', 1 - left / all);
    const c = front.mostUrgent();
    const [cx, cy] = [c % width, Math.floor(c / width)];
    let count = 0;
    for (let k = 0; k < patchArea; k++) {
      const o = offset(k, width);
      if (!missing[c + o]) known[count++] = o;
    }
    const scale = patchArea / Math.max(1, count);
    let found = -1;
    let least = Infinity;
    const consider = (q: number, lot: number): void => {
      let cost = placeCost(level, cx, cy, q) + lot;
      for (let k = 0; k < count && cost < least; k++) cost += scale * colourDifference(codes[c + known[k]], codes[q + known[k]]);
      if (cost < least) {
        least = cost;
        found = q;
      }
    };
    // The nearest rows first: farther ones soon cost too much whatever they hold.
    for (let dy = 0; dy < height && rowCost(level, dy) < least; dy++) {
      for (const y of dy === 0 ? [cy] : [cy - dy, cy + dy]) if (rows[y]) for (const { q, lot } of rows[y]) consider(q, lot);
    }
    if (found < 0) for (const q of sources) consider(q, 0);
    const around = found;
    for (const o of [-width - 1, -width, 1 - width, -1, 1, width - 1, width, width + 1]) if (source[around + o]) consider(around + o, 0);
    let confidence = 0;
    for (let k = 0; k < count; k++) confidence += sure[c + known[k]];
    for (let k = 0; k < patchArea; k++) {
      const t = c + offset(k, width);
      if (!missing[t]) continue;
      const s = found + offset(k, width);
      missing[t] = 0;
      sure[t] = confidence / patchArea;
      codes[t] = codes[s];
      colour.r[t] = colour.r[s];
      colour.g[t] = colour.g[s];
      colour.b[t] = colour.b[s];
      from[t] = s;
      left--;
    }
    front.changed(cx, cy);
  }
  return from;
}

/** A patch that may be copied, and what luck adds to its cost. */
interface Source {
  q: number;
  lot: number;
}

/** Index offset of a patch's k-th pixel from its middle. */
function offset(k: number, width: number): number {
  const side = 2 * reach + 1;
  return (Math.floor(k / side) - reach) * width + (k % side) - reach;
}

/** The missing pixels at the rim, and how urgent each is. */
class Front {
  /** By pixel; -1 where it is not at the rim. */
  private readonly urgency: Float32Array;
  /** Pixels that are or were at the rim. */
  private rim: number[] = [];
  private readonly listed: Uint8Array;

  constructor(
    private readonly level: PatchLevel,
    private readonly missing: Uint8Array,
    private readonly sure: Float32Array,
  ) {
    this.urgency = new Float32Array(missing.length).fill(-1);
    this.listed = new Uint8Array(missing.length);
    this.rate(0, 0, level.width - 1, level.height - 1);
  }

  /** Middle of the most urgent patch, kept clear of the border. */
  mostUrgent(): number {
    let best = -1;
    let highest = -1;
    let kept = 0;
    for (const p of this.rim) {
      const u = this.urgency[p];
      if (u < 0) {
        this.listed[p] = 0;
        continue;
      }
      this.rim[kept++] = p;
      if (u > highest) {
        highest = u;
        best = p;
      }
    }
    this.rim.length = kept;
    return this.middle(best);
  }

  /** Brings the front up to date around a patch that was filled. */
  changed(x: number, y: number): void {
    this.rate(x - 2 * reach - 1, y - 2 * reach - 1, x + 2 * reach + 1, y + 2 * reach + 1);
  }

  private middle(p: number): number {
    const { width, height } = this.level;
    const x = Math.min(width - 1 - reach, Math.max(reach, p % width));
    const y = Math.min(height - 1 - reach, Math.max(reach, Math.floor(p / width)));
    return y * width + x;
  }

  private rate(left: number, top: number, right: number, bottom: number): void {
    const { width, height } = this.level;
    for (let y = Math.max(0, top); y <= Math.min(height - 1, bottom); y++) {
      for (let x = Math.max(0, left); x <= Math.min(width - 1, right); x++) {
        const p = y * width + x;
        if (!this.atRim(x, y)) this.urgency[p] = -1;
        else {
          this.urgency[p] = this.urgencyOf(this.middle(p));
          if (!this.listed[p]) this.rim.push(p);
          this.listed[p] = 1;
        }
      }
    }
  }

  private atRim(x: number, y: number): boolean {
    const { width, height } = this.level;
    const { missing } = this;
    const p = y * width + x;
    if (!missing[p]) return false;
    return (
      (x > 0 && !missing[p - 1]) ||
      (x + 1 < width && !missing[p + 1]) ||
      (y > 0 && !missing[p - width]) ||
      (y + 1 < height && !missing[p + width])
    );
  }

  /** How much is known around, times how strong a line meets the rim. */
  private urgencyOf(c: number): number {
    const { width, codes } = this.level;
    const { missing, sure } = this;
    let known = 0;
    let strongest = -1;
    let [gx, gy] = [0, 0];
    for (let k = 0; k < patchArea; k++) {
      const p = c + offset(k, width);
      if (missing[p]) continue;
      known += sure[p];
      const onBorder = p < width || p >= missing.length - width || p % width === 0 || p % width === width - 1;
      if (onBorder || missing[p + 1] || missing[p - 1] || missing[p + width] || missing[p - width]) continue;
      const sx = brightnessOf(codes[p + 1]) - brightnessOf(codes[p - 1]);
      const sy = brightnessOf(codes[p + width]) - brightnessOf(codes[p - width]);
      if (sx * sx + sy * sy > strongest) {
        strongest = sx * sx + sy * sy;
        [gx, gy] = [sx, sy];
      }
    }
    const nx = missing[c + 1] - missing[c - 1];
    const ny = missing[c + width] - missing[c - width];
    const along = Math.abs(gx * ny - gy * nx) / (Math.hypot(nx, ny) || 1) / 255;
    return (known / patchArea) * (along + anyway);
  }
}
