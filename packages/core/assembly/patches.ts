import { byteAt, doubleAt, floatAt, numberAt, setByte, setFloat, setNumber } from './memory';

// Patches of 7 × 7 pixels that are like others. Colours are packed: red, green and blue in a byte each from the lowest up; slopes of
// brightness beside them are 4 bits each.

const reach: i32 = 3;
const side: i32 = 2 * reach + 1;
const area: i32 = side * side;

let wide: i32 = 0;
let high: i32 = 0;
/** Packed colours; the same with six times the slope across as a fourth byte; six times the slope down, a byte each. */
let codes: usize = 0;
let near: usize = 0;
let downs: usize = 0;
/** Mean colour of each patch, packed. */
let guide: usize = 0;
/** 1 in the middle of every patch that may be copied from. */
let source: usize = 0;
/**
 * What a source costs for being as far up or down, or sideways, as the square root of this is long, and how strongly its mean colour is
 * held to the guide's; all as squared code differences.
 */
let upwards: f64 = 0;
let sideways: f64 = 0;
let longest: f64 = 1;
let guided: f64 = 0;

/**
 * Begins a size.
 *
 * @param packedColours and sourceMask, guideColours of each pixel
 * @param room four bytes and then one byte for each pixel, and 16 more: what patches are compared by
 * @param up cost of a shift by the longer side up or down, across that of one sideways
 * @param held what one squared code difference of the mean colours costs
 */
export function patchesOn(
  width: i32,
  height: i32,
  packedColours: usize,
  guideColours: usize,
  sourceMask: usize,
  room: usize,
  up: f64,
  across: f64,
  held: f64,
): void {
  wide = width;
  high = height;
  codes = packedColours;
  guide = guideColours;
  source = sourceMask;
  near = room;
  downs = room + ((<usize>(width * height)) << 2) + 8;
  upwards = up;
  sideways = across;
  longest = <f64>(max(width, height) * max(width, height));
  guided = held;
  for (let p = 0; p < width * height; p++) {
    const code = numberAt(codes, p);
    setNumber(near, p, (code & 0xffffff) | ((6 * ((code >>> 24) & 15)) << 24));
    setByte(downs, p, 6 * (code >>> 28));
  }
}

/** Squared difference of two packed colours. */
function colourDifference(u: i32, v: i32): i32 {
  const red = (u & 255) - (v & 255);
  const green = ((u >>> 8) & 255) - ((v >>> 8) & 255);
  const blue = ((u >>> 16) & 255) - ((v >>> 16) & 255);
  return red * red + green * green + blue * blue;
}

/** What a source costs whatever its pixels are. */
function placeCost(x: i32, y: i32, q: i32): i32 {
  const sx = q % wide;
  const dx = <f64>(sx - x);
  const dy = <f64>((q - sx) / wide - y);
  const moved = (upwards * dy * dy + sideways * dx * dx) / longest;
  return <i32>(moved + guided * <f64>colourDifference(numberAt(guide, q), numberAt(guide, y * wide + x)));
}

/** Squares of differences of bytes, four sums of them. */
function squares(d: v128): v128 {
  return i32x4.add(
    i32x4.extadd_pairwise_i16x8_u(i16x8.extmul_low_i8x16_u(d, d)),
    i32x4.extadd_pairwise_i16x8_u(i16x8.extmul_high_i8x16_u(d, d)),
  );
}

function apart(a: usize, b: usize): v128 {
  const u = v128.load(a);
  const v = v128.load(b);
  return v128.sub<u8>(v128.max<u8>(u, v), v128.min<u8>(u, v));
}

function sumOf(v: v128): i32 {
  return i32x4.extract_lane(v, 0) + i32x4.extract_lane(v, 1) + i32x4.extract_lane(v, 2) + i32x4.extract_lane(v, 3);
}

/** Sum of squared differences of two patches, or anything not below `limit` once it is certain to reach it. */
function difference(p: i32, q: i32, limit: i32): i32 {
  const three = i32x4(-1, -1, -1, 0);
  const seven = i32x4(-1, 0xffffff, 0, 0);
  let a = p - reach * wide - reach;
  let b = q - reach * wide - reach;
  let sum: i32 = 0;
  for (let row = 0; row < side; row++, a += wide, b += wide) {
    const first = near + ((<usize>a) << 2);
    const second = near + ((<usize>b) << 2);
    const left = squares(apart(first, second));
    const right = squares(v128.and(apart(first + 16, second + 16), three));
    const down = v128.and(apart(downs + <usize>a, downs + <usize>b), seven);
    const slopes = i32x4.extadd_pairwise_i16x8_u(i16x8.extmul_low_i8x16_u(down, down));
    sum += sumOf(i32x4.add(i32x4.add(left, right), slopes));
    if (sum >= limit) return sum;
  }
  return sum;
}

/** A number that depends on nothing but its arguments. */
function hashed(a: i32, b: i32, c: i32, d: i32): u32 {
  let h: u32 = (<u32>a * 0x9e3779b1) ^ ((<u32>b + 0x7f4a7c15) * 0x85ebca6b);
  h ^= ((<u32>c + 0x165667b1) * 0xc2b2ae35) ^ (<u32>d * 0x27d4eb2f);
  h = (h ^ (h >>> 15)) * 0x2c1b3c6d;
  h = (h ^ (h >>> 12)) * 0x297a2d39;
  return h ^ (h >>> 15);
}

/** What the like patches of a part cost. */
export function costPatches(target: usize, at: usize, cost: usize, left: i32, top: i32, right: i32, bottom: i32): void {
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const p = y * wide + x;
      if (byteAt(target, p) === 0) continue;
      const q = numberAt(at, p);
      setNumber(cost, p, difference(p, q, i32.MAX_VALUE) + placeCost(x, y, q));
    }
  }
}

let best: i32 = 0;
let mine: i32 = 0;

/** Takes a source if it is more like a patch than its own. */
function tried(x: i32, y: i32, q: i32): void {
  const extra = placeCost(x, y, q);
  if (extra >= best) return;
  const d = difference(y * wide + x, q, best - extra) + extra;
  if (d >= best) return;
  best = d;
  mine = q;
}

/**
 * One row of a round of the search: each patch takes over what its neighbours found, then looks around its own at random.
 *
 * @param step 1 for rows that go on to the right and down, −1 for those that go back
 * @param far farthest look, px
 * @param seed what random numbers depend on beside the place
 */
export function betterRow(target: usize, at: usize, cost: usize, left: i32, right: i32, y: i32, step: i32, far: i32, seed: i32): void {
  const pixels = wide * high;
  for (let i = 0; i < right - left; i++) {
    const x = step > 0 ? left + i : right - 1 - i;
    const p = y * wide + x;
    if (byteAt(target, p) === 0) continue;
    best = numberAt(cost, p);
    mine = numberAt(at, p);
    for (let k = 0; k < 2; k++) {
      // Targets keep clear of the border, so both neighbours are in the picture.
      const back = k === 0 ? step : step * wide;
      const other = numberAt(at, p - back);
      if (other < 0) continue;
      const q = other + back;
      if (q !== mine && q >= 0 && q < pixels && byteAt(source, q)) tried(x, y, q);
    }
    let radius = <f64>far;
    for (let k = 0; radius >= 1; radius *= 0.5, k++) {
      const h = hashed(x, y, seed, k);
      const mx = mine % wide;
      const span = 2 * radius + 1;
      const sx = mx + <i32>Math.floor((<f64>(h & 0xffff) / 65536) * span - radius);
      const sy = (mine - mx) / wide + <i32>Math.floor((<f64>(h >>> 16) / 65536) * span - radius);
      if (sx < reach || sy < reach || sx >= wide - reach || sy >= high - reach) continue;
      const q = sy * wide + sx;
      if (byteAt(source, q) && q !== mine) tried(x, y, q);
    }
    setNumber(cost, p, best);
    setNumber(at, p, mine);
  }
}

/**
 * What all patches over a pixel say that it should be, summed up.
 *
 * @param open 1 where something must be invented
 * @param colours light of each pixel: red, green, blue, and 1
 * @param kernel how loud each pixel of a patch is
 * @param likeness how loud the patch at each place of the part speaks
 * @param sums red, green, blue and weight of each pixel of the part and so much around it
 */
export function votes(
  target: usize,
  open: usize,
  at: usize,
  likeness: usize,
  colours: usize,
  kernel: usize,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  sums: usize,
): void {
  const w = right - left + 2 * reach;
  for (let y = top; y < bottom; y++) {
    for (let x = left; x < right; x++) {
      const p = y * wide + x;
      if (byteAt(target, p) === 0) continue;
      const q = numberAt(at, p);
      const like = doubleAt(likeness, (y - top) * (right - left) + x - left);
      for (let dy = -reach, k = 0; dy <= reach; dy++) {
        let t = p + dy * wide - reach;
        let s = colours + ((<usize>(q + dy * wide - reach)) << 4);
        let o = sums + ((<usize>((y + dy - top + reach) * w + x - left)) << 4);
        for (let dx = 0; dx < side; dx++, t++, s += 16, o += 16, k++) {
          if (byteAt(open, t) === 0) continue;
          const weight = f64x2.splat(like * floatAt(kernel, k));
          const colour = v128.load(s);
          const sum = v128.load(o);
          const low = f64x2.add(f64x2.promote_low_f32x4(sum), f64x2.mul(weight, f64x2.promote_low_f32x4(colour)));
          const upper = v128.shuffle<u64>(colour, colour, 1, 0);
          const high = f64x2.add(
            f64x2.promote_low_f32x4(v128.shuffle<u64>(sum, sum, 1, 0)),
            f64x2.mul(weight, f64x2.promote_low_f32x4(upper)),
          );
          v128.store(o, v128.shuffle<u64>(f32x4.demote_f64x2_zero(low), f32x4.demote_f64x2_zero(high), 0, 2));
        }
      }
    }
  }
}

// Filling from the rim inwards (Criminisi et al. 2004).

/** What is still missing, how sure the rest is, where each pixel was copied from, and how urgent each at the rim is. */
let missing: usize = 0;
let certain: usize = 0;
let from: usize = 0;
let urgency: usize = 0;
/** Pixels that are or were at the rim, how many, and which are among them. */
let rim: usize = 0;
let rimCount: i32 = 0;
let listed: usize = 0;
/** Sources that are tried: where each row of them begins, each one's place, and what luck adds to its cost. */
let rows: usize = 0;
let places: usize = 0;
let lots: usize = 0;
/** Pixels left to fill. */
let left: i32 = 0;
/** Offsets of a patch's known pixels. */
let known: usize = 0;

/** Share of the urgency that does not depend on lines. */
const anyway: f64 = 0.1;

/**
 * Begins to fill a size from its rim inwards.
 *
 * @param open 1 where it is missing; what is filled is cleared in it
 * @param sure 1 where it is known, a float each
 * @param copied −1 each; becomes where each filled pixel was copied from
 * @param rowStarts height + 1 numbers; sources and luck of each from there on
 * @param room four bytes, four bytes and then one byte for each pixel, all −1, none and 0; and 200 bytes more at its end
 */
export function linesBegin(open: usize, sure: usize, copied: usize, rowStarts: usize, sources: usize, luck: usize, room: usize): void {
  const n = wide * high;
  missing = open;
  certain = sure;
  from = copied;
  rows = rowStarts;
  places = sources;
  lots = luck;
  urgency = room;
  rim = room + ((<usize>n) << 2);
  listed = rim + ((<usize>n) << 2);
  known = (listed + <usize>n + 7) & ~7;
  rimCount = 0;
  left = 0;
  for (let p = 0; p < n; p++) {
    setFloat(urgency, p, -1);
    left += byteAt(missing, p);
  }
  rate(0, 0, wide - 1, high - 1);
}

/** Middle of the patch over a pixel, kept clear of the border. */
function middleOf(p: i32): i32 {
  const x = min(wide - 1 - reach, max(reach, p % wide));
  const y = min(high - 1 - reach, max(reach, p / wide));
  return y * wide + x;
}

/** Middle of the most urgent patch. */
function mostUrgent(): i32 {
  let found = -1;
  let highest: f64 = -1;
  let kept = 0;
  for (let i = 0; i < rimCount; i++) {
    const p = numberAt(rim, i);
    const u = floatAt(urgency, p);
    if (u < 0) {
      setByte(listed, p, 0);
      continue;
    }
    setNumber(rim, kept++, p);
    if (u > highest) {
      highest = u;
      found = p;
    }
  }
  rimCount = kept;
  return middleOf(found);
}

function isAtRim(x: i32, y: i32): bool {
  const p = y * wide + x;
  if (byteAt(missing, p) === 0) return false;
  return (
    (x > 0 && byteAt(missing, p - 1) === 0) ||
    (x + 1 < wide && byteAt(missing, p + 1) === 0) ||
    (y > 0 && byteAt(missing, p - wide) === 0) ||
    (y + 1 < high && byteAt(missing, p + wide) === 0)
  );
}

/** Brings a part of the rim up to date. */
function rate(x0: i32, y0: i32, x1: i32, y1: i32): void {
  for (let y = max(0, y0); y <= min(high - 1, y1); y++) {
    for (let x = max(0, x0); x <= min(wide - 1, x1); x++) {
      const p = y * wide + x;
      if (!isAtRim(x, y)) {
        setFloat(urgency, p, -1);
        continue;
      }
      setFloat(urgency, p, urgencyOf(middleOf(p)));
      if (byteAt(listed, p) === 0) setNumber(rim, rimCount++, p);
      setByte(listed, p, 1);
    }
  }
}

function brightnessAt(p: i32): i32 {
  const code = numberAt(codes, p);
  return (77 * (code & 255) + 150 * ((code >>> 8) & 255) + 29 * ((code >>> 16) & 255)) >> 8;
}

/** How much is known around, times how strong a line meets the rim. */
function urgencyOf(c: i32): f64 {
  const n = wide * high;
  let sum: f64 = 0;
  let strongest = -1;
  let gx = 0;
  let gy = 0;
  for (let dy = -reach; dy <= reach; dy++) {
    for (let p = c + dy * wide - reach, end = p + side; p < end; p++) {
      if (byteAt(missing, p)) continue;
      sum += floatAt(certain, p);
      const x = p % wide;
      if (p < wide || p >= n - wide || x === 0 || x === wide - 1) continue;
      if (byteAt(missing, p + 1) || byteAt(missing, p - 1) || byteAt(missing, p + wide) || byteAt(missing, p - wide)) continue;
      const sx = brightnessAt(p + 1) - brightnessAt(p - 1);
      const sy = brightnessAt(p + wide) - brightnessAt(p - wide);
      if (sx * sx + sy * sy <= strongest) continue;
      strongest = sx * sx + sy * sy;
      gx = sx;
      gy = sy;
    }
  }
  const nx = byteAt(missing, c + 1) - byteAt(missing, c - 1);
  const ny = byteAt(missing, c + wide) - byteAt(missing, c - wide);
  const length = Math.sqrt(<f64>(nx * nx + ny * ny));
  const along = <f64>abs(gx * ny - gy * nx) / (length === 0 ? 1 : length) / 255;
  return (sum / <f64>area) * (along + anyway);
}

let least: f64 = 0;
let found: i32 = 0;
let knownCount: i32 = 0;
let share: f64 = 0;

/** Takes a source if it is more like what is known around c. */
function consider(c: i32, x: i32, y: i32, q: i32, lot: f64): void {
  const place = <f64>placeCost(x, y, q) + lot;
  if (place >= least) return;
  let sum: i32 = 0;
  for (let k = 0; k < knownCount; k++) {
    const o = numberAt(known, k);
    sum += colourDifference(numberAt(codes, c + o), numberAt(codes, q + o));
    if (place + share * <f64>sum >= least) return;
  }
  least = place + share * <f64>sum;
  found = q;
}

function considerRow(c: i32, x: i32, y: i32, row: i32): void {
  if (row < 0 || row >= high) return;
  for (let i = numberAt(rows, row); i < numberAt(rows, row + 1); i++) consider(c, x, y, numberAt(places, i), doubleAt(lots, i));
}

/** Fills so many patches at most. @returns how many pixels are left, or −1 where nothing may be copied */
export function linesGrow(most: i32): i32 {
  for (let count = 0; count < most && left > 0; count++) {
    const c = mostUrgent();
    const x = c % wide;
    const y = c / wide;
    knownCount = 0;
    for (let dy = -reach; dy <= reach; dy++) {
      for (let dx = -reach; dx <= reach; dx++) {
        const o = dy * wide + dx;
        if (byteAt(missing, c + o) === 0) setNumber(known, knownCount++, o);
      }
    }
    share = <f64>area / <f64>max(1, knownCount);
    found = -1;
    least = Infinity;
    // The nearest rows first: farther ones soon cost too much whatever they hold.
    for (let dy = 0; dy < high && (upwards * <f64>dy * <f64>dy) / longest < least; dy++) {
      considerRow(c, x, y, y - dy);
      if (dy > 0) considerRow(c, x, y, y + dy);
    }
    if (found < 0) for (let q = 0; q < wide * high; q++) if (byteAt(source, q)) consider(c, x, y, q, 0);
    if (found < 0) return -1;
    const around = found;
    for (let dy = -1; dy <= 1; dy++) {
      for (let dx = -1; dx <= 1; dx++) {
        const q = around + dy * wide + dx;
        if (q !== around && byteAt(source, q)) consider(c, x, y, q, 0);
      }
    }
    copyTo(c);
    rate(x - 2 * reach - 1, y - 2 * reach - 1, x + 2 * reach + 1, y + 2 * reach + 1);
  }
  return left;
}

/** Fills what is missing of a patch with what was found. */
function copyTo(c: i32): void {
  let sum: f64 = 0;
  for (let k = 0; k < knownCount; k++) sum += floatAt(certain, c + numberAt(known, k));
  for (let dy = -reach; dy <= reach; dy++) {
    for (let o = dy * wide - reach, end = o + side; o < end; o++) {
      const t = c + o;
      if (byteAt(missing, t) === 0) continue;
      setByte(missing, t, 0);
      setFloat(certain, t, sum / <f64>area);
      setNumber(codes, t, numberAt(codes, found + o));
      setNumber(from, t, found + o);
      left--;
    }
  }
}
