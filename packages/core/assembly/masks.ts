import { byteAt, floatAt, numberAt, setByte, setNumber } from './memory';

/**
 * A mask grown by a disc, run by run of its rows; into a zeroed one.
 *
 * @param half half the disc's width in each of its rows, from `reach` above the middle to `reach` below
 */
export function growMask(mask: usize, width: i32, height: i32, reach: i32, half: usize, out: usize): void {
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      if (byteAt(mask, row + x) === 0) continue;
      const from = x;
      while (x + 1 < width && byteAt(mask, row + x + 1) !== 0) x++;
      for (let dy = -reach; dy <= reach; dy++) {
        const ny = y + dy;
        if (ny < 0 || ny >= height) continue;
        const h = numberAt(half, dy + reach);
        const first = max(0, from - h);
        memory.fill(out + <usize>(ny * width + first), 1, <usize>(min(width - 1, x + h) + 1 - first));
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
    let done = 0;
    for (let x = 0; x < width; x++) {
      if (byteAt(mask, row + x) === 0) continue;
      const to = min(width, x + reach + 1);
      const from = max(done, x - reach);
      memory.fill(across + <usize>(row + from), 1, <usize>max(0, to - from));
      done = to;
      setByte(filled, y, 1);
    }
  }
  let anyUntil = 0;
  for (let y = -reach; y < height; y++) {
    const ahead = y + reach;
    if (ahead < height && byteAt(filled, ahead) !== 0) {
      anyUntil = ahead + reach + 1;
      for (let x = 0, row = ahead * width; x < width; x++) if (byteAt(across, row + x) !== 0) setNumber(until, x, anyUntil);
    }
    if (y < 0 || y >= anyUntil) continue;
    for (let x = 0, p = y * width; x < width; x++, p++) if (y < numberAt(until, x)) setByte(out, p, 1);
  }
}

const undecided: i32 = 1;
const markedInside: i32 = 1;
const markedOutside: i32 = 2;
const markedEdge: i32 = 3;

/**
 * Whose colour is still to be asked about: beside the border, where it is not known yet, and deep inside.
 *
 * @param known 1 where it is known, or 0 for nowhere
 * @param beside zeroed, as deep
 */
export function bandAsks(n: i32, said: usize, near: usize, label: usize, known: usize, beside: usize, deep: usize): void {
  for (let p = 0; p < n; p++) {
    if (byteAt(said, p) !== 0) continue;
    if (byteAt(near, p) === 0) setByte(deep, p, byteAt(label, p));
    else if (known === 0 || byteAt(known, p) === 0) setByte(beside, p, 1);
  }
}

/**
 * Where colour speaks against the cut: beside the border by so much, deep inside by as much as `plain`.
 *
 * @param told what is said of colour where it is known, `around` and `within` where it was asked for
 * @param out zeroed
 */
export function bandAgainst(
  n: i32,
  said: usize,
  near: usize,
  label: usize,
  known: usize,
  told: usize,
  around: usize,
  deep: usize,
  within: usize,
  much: f64,
  plain: f64,
  out: usize,
): void {
  for (let p = 0; p < n; p++) {
    if (byteAt(deep, p) !== 0) setByte(out, p, floatAt(within, p) < plain ? 1 : 0);
    else if (byteAt(near, p) !== 0 && byteAt(said, p) === 0) {
      const says = known !== 0 && byteAt(known, p) !== 0 ? floatAt(told, p) : floatAt(around, p);
      setByte(out, p, (byteAt(label, p) === 1 ? says < -much : says > much) ? 1 : 0);
    }
  }
}

/** What is known of each pixel: what is marked, else undecided along the border and where there is doubt, else the cut. */
export function bandStates(n: i32, said: usize, along: usize, doubtful: usize, label: usize, out: usize): void {
  for (let p = 0; p < n; p++) {
    const code = byteAt(said, p);
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
    for (let p = y * width; p < last; p++) {
      if (byteAt(mask, p) === 0) continue;
      setNumber(start, count, p);
      while (p < last && byteAt(mask, p) !== 0) p++;
      setNumber(end, count++, p);
    }
  }
  return count;
}

/** Where n values are above the one limit, and where below the other. */
export function aboveAndBelow(n: i32, values: usize, low: f64, high: f64, above: usize, below: usize): void {
  for (let p = 0; p < n; p++) {
    const v = floatAt(values, p);
    setByte(above, p, v > low ? 1 : 0);
    setByte(below, p, v < high ? 1 : 0);
  }
}
