import { byteAt, floatAt, nextClear, nextSet, numberAt, packed, setByte, setFloat, setNumber } from './memory';

// What is known of pixels: surely out, undecided, surely in.

const surelyOut: i32 = 0;
const undecided: i32 = 1;
const surelyIn: i32 = 2;
const markedInside: i32 = 1;
const markedOutside: i32 = 2;

/** The places of the non-zero bytes of a mask, in order. @returns how many there are */
export function placesOf(n: i32, mask: usize, out: usize): i32 {
  let count = 0;
  for (let p = nextSet(mask, 0, n); p < n; p = nextSet(mask, p, n)) {
    for (const end = nextClear(mask, p, n); p < end; p++) setNumber(out, count++, p);
  }
  return count;
}

/** 1 for each byte that is the code, else 0. */
export function maskOfCode(n: i32, codes: usize, code: i32, out: usize): void {
  const one = i8x16.splat(1);
  const wanted = i8x16.splat(<i8>code);
  let p = 0;
  for (; p + 16 <= n; p += 16) v128.store(out + <usize>p, v128.and(i8x16.eq(v128.load(codes + <usize>p), wanted), one));
  for (; p < n; p++) setByte(out, p, byteAt(codes, p) === code ? 1 : 0);
}

/** Takes out of a mask all but what another has, or has not when `has` is 0. */
export function keepWhere(n: i32, mask: usize, part: usize, has: i32): void {
  const none = i8x16.splat(0);
  const wanted = i8x16.splat(has ? -1 : 0);
  let p = 0;
  for (; p + 16 <= n; p += 16) {
    const at = mask + <usize>p;
    v128.store(at, v128.and(v128.load(at), v128.xor(wanted, i8x16.eq(v128.load(part + <usize>p), none))));
  }
  for (; p < n; p++) if ((byteAt(part, p) !== 0) !== (has !== 0)) setByte(mask, p, 0);
}

/** Adds to a mask of ones what another has. */
export function addTo(n: i32, mask: usize, part: usize): void {
  const none = i8x16.splat(0);
  const one = i8x16.splat(1);
  let p = 0;
  for (; p + 16 <= n; p += 16) {
    const at = mask + <usize>p;
    v128.store(at, v128.or(v128.load(at), v128.and(one, i8x16.ne(v128.load(part + <usize>p), none))));
  }
  for (; p < n; p++) if (byteAt(part, p) !== 0) setByte(mask, p, 1);
}

/** 1 wherever two planes of codes or two of numbers differ, else 0. */
export function differing(n: i32, codes: usize, otherCodes: usize, numbers: usize, otherNumbers: usize, out: usize): void {
  const one = i8x16.splat(1);
  let p = 0;
  for (; p + 16 <= n; p += 16) {
    const a = numbers + ((<usize>p) << 2);
    const b = otherNumbers + ((<usize>p) << 2);
    const first = f32x4.ne(v128.load(a), v128.load(b));
    const second = f32x4.ne(v128.load(a, 16), v128.load(b, 16));
    const third = f32x4.ne(v128.load(a, 32), v128.load(b, 32));
    const others = packed(first, second, third, f32x4.ne(v128.load(a, 48), v128.load(b, 48)));
    const differ = v128.or(others, i8x16.ne(v128.load(codes + <usize>p), v128.load(otherCodes + <usize>p)));
    v128.store(out + <usize>p, v128.and(differ, one));
  }
  for (; p < n; p++) {
    setByte(out, p, byteAt(codes, p) !== byteAt(otherCodes, p) || floatAt(numbers, p) !== floatAt(otherNumbers, p) ? 1 : 0);
  }
}

/** Pixels on which a cut and the marks agree, wanted of the cut and code of the marks. @returns how many there are */
export function agreedPlaces(n: i32, label: usize, seeds: usize, wanted: i32, code: i32, out: usize): i32 {
  let count = 0;
  for (let p = 0; p < n; p++) {
    const mark = byteAt(seeds, p);
    if (mark === 0 ? byteAt(label, p) === wanted : mark === code) setNumber(out, count++, p);
  }
  return count;
}

/** What colours along a border are learnt from: 1 outside, 2 inside; 0 where the border may be and nothing is marked for sure. */
export function sourcesOf(n: i32, near: usize, seeds: usize, label: usize, out: usize): void {
  for (let p = 0; p < n; p++) {
    const mark = byteAt(seeds, p);
    const sure = byteAt(near, p) === 0 || mark === markedInside || mark === markedOutside;
    setByte(out, p, sure ? (byteAt(label, p) !== 0 ? 2 : 1) : 0);
  }
}

/**
 * The states of a smaller picture: undecided wherever anything under a pixel is, or both sides are; into a zeroed one.
 *
 * @param column the small column that each is on, and the small row that each row is on
 */
export function smallTrimap(
  trimap: usize,
  width: i32,
  height: i32,
  column: usize,
  line: usize,
  smallWidth: i32,
  smallHeight: i32,
  out: usize,
): void {
  for (let y = 0, p = 0; y < height; y++) {
    const row = numberAt(line, y) * smallWidth;
    for (let x = 0; x < width; x++, p++) {
      const at = row + numberAt(column, x);
      setByte(out, at, byteAt(out, at) | (1 << byteAt(trimap, p)));
    }
  }
  for (let q = 0; q < smallWidth * smallHeight; q++) {
    const sides = byteAt(out, q);
    setByte(out, q, sides === 1 << surelyOut ? surelyOut : sides === 1 << surelyIn ? surelyIn : undecided);
  }
}

/** What of four neighbours in a small picture is not the same in all. */
const mixed: i32 = 2;

/**
 * A hard separation at another size, its border smoothed by interpolation.
 *
 * @param left the small column to the left of each, and how far beyond it each is
 * @param kinds a byte a small column, to work in
 */
export function enlargeLabel(
  label: usize,
  smallWidth: i32,
  smallHeight: i32,
  left: usize,
  share: usize,
  width: i32,
  height: i32,
  kinds: usize,
  out: usize,
): void {
  for (let y = 0, p = 0, sorted = -1; y < height; y++) {
    const sy = min(<f64>smallHeight - 1, max(0, ((<f64>y + 0.5) * smallHeight) / height - 0.5));
    const y0 = <i32>sy;
    const top = y0 * smallWidth;
    const low = min(smallHeight - 1, y0 + 1) * smallWidth;
    const down = sy - y0;
    for (let x = 0; sorted !== y0 && x < smallWidth; x++) {
      const right = min(smallWidth - 1, x + 1);
      const a = byteAt(label, top + x);
      const same = a === byteAt(label, top + right) && a === byteAt(label, low + x) && a === byteAt(label, low + right);
      setByte(kinds, x, same ? a : mixed);
    }
    sorted = y0;
    for (let x = 0; x < width; x++, p++) {
      const x0 = numberAt(left, x);
      const kind = byteAt(kinds, x0);
      if (kind !== mixed) {
        setByte(out, p, kind);
        continue;
      }
      const x1 = min(smallWidth - 1, x0 + 1);
      const a = byteAt(label, top + x0);
      const b = byteAt(label, top + x1);
      const c = byteAt(label, low + x0);
      const d = byteAt(label, low + x1);
      const u = floatAt(share, x);
      const over = (<f64>a + <f64>(b - a) * u) * (1 - down);
      const under = (<f64>c + <f64>(d - c) * u) * down;
      setByte(out, p, over + under >= 0.5 ? 1 : 0);
    }
  }
}

/**
 * Numbers what is to be solved, row by row.
 *
 * @param along 1 where it is looked at, or 0 for everywhere
 * @param opacity the guess
 * @param known opacity where it is known, else the guess
 * @param node the unknown of each pixel, or −1
 * @param ends the first and the last column of each row with an unknown
 * @returns how many unknowns there are
 */
export function openUnknowns(
  width: i32,
  height: i32,
  trimap: usize,
  along: usize,
  opacity: usize,
  known: usize,
  node: usize,
  pixel: usize,
  ends: usize,
): i32 {
  let count = 0;
  for (let y = 0, p = 0; y < height; y++) {
    let first = width;
    let last = -1;
    for (let x = 0; x < width; x++, p++) {
      const s = byteAt(trimap, p);
      setFloat(known, p, s === undecided ? floatAt(opacity, p) : s === surelyIn ? 1 : 0);
      const open = s === undecided && (along === 0 || byteAt(along, p) !== 0);
      setNumber(node, p, open ? count : -1);
      if (!open) continue;
      setNumber(pixel, count++, p);
      if (last < 0) first = x;
      last = x;
    }
    setNumber(ends, 2 * y, first);
    setNumber(ends, 2 * y + 1, last);
  }
  return count;
}

/**
 * Puts what was solved in its place, 0 to 1.
 *
 * @param x the count unknowns, whose pixels are told
 * @param again 1 where it may be another than before, or 0 for everywhere
 * @param before the answer before, where that is so
 */
export function settleUnknowns(n: i32, count: i32, pixel: usize, x: usize, again: usize, before: usize, out: usize): void {
  if (again !== 0) for (let p = 0; p < n; p++) if (byteAt(again, p) === 0) setFloat(out, p, floatAt(before, p));
  for (let i = 0; i < count; i++) {
    const p = numberAt(pixel, i);
    if (again === 0 || byteAt(again, p) !== 0) setFloat(out, p, max(0, min(1, floatAt(x, i))));
  }
}

/** Some of n pixels, each taken or left by a hash of its own place: those below the limit. @returns how many there are */
export function sampleOf(n: i32, pixels: usize, limit: f64, out: usize): i32 {
  let count = 0;
  for (let i = 0; i < n; i++) {
    const p = numberAt(pixels, i);
    const h = ((p * <i32>0x9e3779b1) ^ ((<u32>p) >>> 7)) * <i32>0x85ebca6b;
    if (<f64>(<u32>(h ^ ((<u32>h) >>> 15))) < limit) setNumber(out, count++, p);
  }
  return count;
}
