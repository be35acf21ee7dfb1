import { byteAt, doubleAt, floatAt, numberAt, setByte, setNumber } from './memory';

// Patches of 7 × 7 pixels that are like others. Colours are packed: red, green and blue in a byte each from the lowest up; slopes of
// brightness beside them are 4 bits each.

export const reach: i32 = 3;
export const side: i32 = 2 * reach + 1;
export const area: i32 = side * side;

export let wide: i32 = 0;
export let high: i32 = 0;
/** Packed colours; the same with six times the slope across as a fourth byte; six times the slope down, a byte each. */
export let codes: usize = 0;
let near: usize = 0;
let downs: usize = 0;
/** Mean colour of each patch, packed. */
let guide: usize = 0;
/** 1 in the middle of every patch that may be copied from. */
export let source: usize = 0;
/**
 * What a source costs for being as far up or down, or sideways, as the square root of this is long, and how strongly its mean colour is
 * held to the guide's; all as squared code differences.
 */
export let upwards: f64 = 0;
let sideways: f64 = 0;
export let longest: f64 = 1;
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
export function colourDifference(u: i32, v: i32): i32 {
  const red = (u & 255) - (v & 255);
  const green = ((u >>> 8) & 255) - ((v >>> 8) & 255);
  const blue = ((u >>> 16) & 255) - ((v >>> 16) & 255);
  return red * red + green * green + blue * blue;
}

/** What a source costs whatever its pixels are. */
export function placeCost(x: i32, y: i32, q: i32): i32 {
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
  width: i32,
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
      const p = y * width + x;
      if (byteAt(target, p) === 0) continue;
      const q = numberAt(at, p);
      const like = doubleAt(likeness, (y - top) * (right - left) + x - left);
      for (let dy = -reach, k = 0; dy <= reach; dy++) {
        let t = p + dy * width - reach;
        let s = colours + ((<usize>(q + dy * width - reach)) << 4);
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
