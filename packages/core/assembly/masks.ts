import { byteAt, floatAt, nextClear, nextSet, numberAt, packed, setByte, setNumber } from './memory';

/**
 * A mask grown by a disc, run by run of its rows; into a zeroed one.
 *
 * @param half half the disc's width in each of its rows, from `reach` above the middle to `reach` below
 */
export function growMask(mask: usize, width: i32, height: i32, reach: i32, half: usize, out: usize): void {
  for (let y = 0; y < height; y++) {
    const row = y * width;
    const end = row + width;
    for (let p = nextSet(mask, row, end), next = p; p < end; p = nextSet(mask, next, end)) {
      next = nextClear(mask, p, end);
      for (let dy = -reach; dy <= reach; dy++) {
        const ny = y + dy;
        if (ny < 0 || ny >= height) continue;
        const h = numberAt(half, dy + reach);
        const first = max(0, p - row - h);
        memory.fill(out + <usize>(ny * width + first), 1, <usize>(min(width, next - row + h) - first));
      }
    }
  }
}

/**
 * 1 wherever something non-zero lies within `reach` along both axes; into a zeroed mask.
 *
 * @param across a zeroed mask, to work in
 * @param until a zeroed number a column, to work in
 * @param filled a zeroed byte a row, to work in
 */
export function widenMask(mask: usize, width: i32, height: i32, reach: i32, across: usize, until: usize, filled: usize, out: usize): void {
  for (let y = 0, row = 0; y < height; y++, row += width) {
    const end = row + width;
    let done = row;
    for (let p = nextSet(mask, row, end), next = p; p < end; p = nextSet(mask, next, end)) {
      next = nextClear(mask, p, end);
      const from = max(done, p - reach);
      done = min(end, next + reach);
      memory.fill(across + <usize>from, 1, <usize>max(0, done - from));
      setByte(filled, y, 1);
    }
  }
  let anyUntil = 0;
  for (let y = -reach; y < height; y++) {
    const ahead = y + reach;
    if (ahead < height && byteAt(filled, ahead) !== 0) {
      anyUntil = ahead + reach + 1;
      const row = ahead * width;
      const end = row + width;
      for (let p = nextSet(across, row, end); p < end; p = nextSet(across, p, end)) {
        for (const next = nextClear(across, p, end); p < next; p++) setNumber(until, p - row, anyUntil);
      }
    }
    if (y < 0 || y >= anyUntil) continue;
    const row = y * width;
    const now = i32x4.splat(y);
    let x = 0;
    for (; x + 16 <= width; x += 16) {
      const at = until + ((<usize>x) << 2);
      const a = i32x4.gt_s(v128.load(at), now);
      const b = i32x4.gt_s(v128.load(at, 16), now);
      const c = i32x4.gt_s(v128.load(at, 32), now);
      const d = i32x4.gt_s(v128.load(at, 48), now);
      v128.store(out + <usize>(row + x), v128.and(packed(a, b, c, d), i8x16.splat(1)));
    }
    for (; x < width; x++) setByte(out, row + x, y < numberAt(until, x) ? 1 : 0);
  }
}

const undecided: i32 = 1;
const markedInside: i32 = 1;
const markedOutside: i32 = 2;
const markedEdge: i32 = 3;

/**
 * Whose colour is still to be asked about: beside the border and anywhere inside, where it is not known yet and nothing is marked.
 *
 * @param known 1 where it is known, or 0 for nowhere
 * @param asked zeroed
 */
export function bandAsks(n: i32, seeds: usize, near: usize, label: usize, known: usize, asked: usize): void {
  for (let p = 0; p < n; p++) {
    if (byteAt(seeds, p) !== 0 || (known !== 0 && byteAt(known, p) !== 0)) continue;
    if (byteAt(near, p) !== 0 || byteAt(label, p) !== 0) setByte(asked, p, 1);
  }
}

/**
 * Where colour speaks against the cut: beside the border by so much, deep inside by as much as `plain`.
 *
 * @param told what is said of colour where it is known, `found` where it was asked for
 * @param out zeroed
 */
export function bandAgainst(
  n: i32,
  seeds: usize,
  near: usize,
  label: usize,
  known: usize,
  told: usize,
  found: usize,
  much: f64,
  plain: f64,
  out: usize,
): void {
  for (let p = 0; p < n; p++) {
    if (p + 16 <= n && !v128.any_true(v128.or(v128.load(label + <usize>p), v128.load(near + <usize>p)))) p += 15;
    else if (byteAt(seeds, p) === 0) {
      const says = known !== 0 && byteAt(known, p) !== 0 ? floatAt(told, p) : floatAt(found, p);
      const beside = byteAt(near, p) !== 0;
      if (byteAt(label, p) === 1 ? says < -(beside ? much : plain) : beside && says > much) setByte(out, p, 1);
    }
  }
}

/** What is known of each pixel: what is marked, else undecided along the border and where there is doubt, else the cut. */
export function bandTrimap(n: i32, seeds: usize, along: usize, doubtful: usize, label: usize, out: usize): void {
  const one = i8x16.splat(1);
  let p = 0;
  for (; p + 16 <= n; p += 16) {
    const codes = v128.load(seeds + <usize>p);
    const marked = i8x16.eq(codes, i8x16.splat(<i8>markedInside));
    const free = v128.not(v128.or(marked, i8x16.eq(codes, i8x16.splat(<i8>markedOutside))));
    const doubt = v128.or(v128.load(along + <usize>p), v128.load(doubtful + <usize>p));
    const open = v128.or(i8x16.ne(doubt, i8x16.splat(0)), i8x16.eq(codes, i8x16.splat(<i8>markedEdge)));
    const inside = v128.or(marked, v128.and(free, i8x16.eq(v128.load(label + <usize>p), one)));
    const sides = v128.and(inside, i8x16.splat(2));
    v128.store(out + <usize>p, v128.bitselect(one, sides, v128.and(free, open)));
  }
  for (; p < n; p++) {
    const code = byteAt(seeds, p);
    const open = code === markedEdge || byteAt(along, p) !== 0 || byteAt(doubtful, p) !== 0;
    const inside = code === markedInside || (code !== markedOutside && byteAt(label, p) === 1);
    setByte(out, p, code !== markedInside && code !== markedOutside && open ? undecided : inside ? 2 : 0);
  }
}

/** Stretches of non-zero values in each row: where they begin and the place after each. @returns how many there are */
export function runsOf(mask: usize, width: i32, height: i32, start: usize, end: usize): i32 {
  let count = 0;
  for (let y = 0; y < height; y++) {
    const last = (y + 1) * width;
    for (let p = nextSet(mask, y * width, last); p < last; p = nextSet(mask, p, last)) {
      setNumber(start, count, p);
      p = nextClear(mask, p, last);
      setNumber(end, count++, p);
    }
  }
  return count;
}

/** A mask of those of n values that lie above the one limit and below the other. */
export function between(n: i32, values: usize, above: f32, below: f32, out: usize): void {
  const low = f32x4.splat(above);
  const high = f32x4.splat(below);
  let p = 0;
  for (; p + 16 <= n; p += 16) {
    const at = values + ((<usize>p) << 2);
    const a = amid(v128.load(at), low, high);
    const b = amid(v128.load(at, 16), low, high);
    const c = amid(v128.load(at, 32), low, high);
    v128.store(out + <usize>p, packed(a, b, c, amid(v128.load(at, 48), low, high)));
  }
  for (; p < n; p++) {
    const v = load<f32>(values + ((<usize>p) << 2));
    setByte(out, p, v > above && v < below ? 1 : 0);
  }
}

function amid(v: v128, low: v128, high: v128): v128 {
  return v128.and(f32x4.gt(v, low), f32x4.lt(v, high));
}
