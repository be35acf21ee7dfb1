import { byteAt, floatAt, nextSet, numberAt, setByte, setNumber } from './memory';

/** Steps to one side in the four directions in which a line may be crossed. */
function stepX(d: i32): i32 {
  return d === 2 ? 0 : d === 3 ? -1 : 1;
}

function stepY(d: i32): i32 {
  return d === 0 ? 0 : 1;
}

/**
 * Pixels of a plane that lie on a line: more than `most` of the sign's side, and on both sides of them within so many steps something of more
 * than `beside` of the other side and lower by `drop`, in one of four directions; into a zeroed mask.
 *
 * @param asked a mask of those that are looked at
 * @param sign 1 for lines of positive values, −1 of negative ones
 */
export function flanked(
  width: i32,
  height: i32,
  values: usize,
  asked: usize,
  sign: f64,
  most: f64,
  beside: f64,
  drop: f64,
  steps: i32,
  out: usize,
): void {
  const n = width * height;
  for (let p = nextSet(asked, 0, n); p < n; p = nextSet(asked, p + 1, n)) {
    const value = sign * floatAt(values, p);
    if (value <= most) continue;
    const end = Math.min(-beside, value - drop);
    const y = p / width;
    const x = p - y * width;
    for (let d = 0; d < 4; d++) {
      if (other(values, width, height, x, y, stepX(d), stepY(d), sign, end, steps)) {
        if (other(values, width, height, x, y, -stepX(d), -stepY(d), sign, end, steps)) {
          setByte(out, p, 1);
          break;
        }
      }
    }
  }
}

/** Whether something below `end` lies within so many steps one way. */
function other(values: usize, width: i32, height: i32, x: i32, y: i32, dx: i32, dy: i32, sign: f64, end: f64, steps: i32): bool {
  for (let k = 0; k < steps; k++) {
    x += dx;
    y += dy;
    if (x < 0 || y < 0 || x >= width || y >= height) return false;
    if (sign * floatAt(values, y * width + x) < end) return true;
  }
  return false;
}

/**
 * Pixels of a mask that lie on a path of at least so many through it (constrained path opening: Talbot & Appleton 2007, Luengo Hendriks
 * 2010), into a zeroed mask. A path runs along a row, a column or a diagonal, with a step to either side at every second pixel at most,
 * over gaps of so many.
 *
 * @param room 16 bytes a pixel
 */
export function onPaths(width: i32, height: i32, mask: usize, least: i32, gap: i32, room: usize, out: usize): void {
  const back = room + ((<usize>(width * height)) << 3);
  for (let d = 0; d < 4; d++) {
    const across = d === 1;
    const slant = d === 2 ? 1 : d === 3 ? -1 : 0;
    const along = across ? width : height;
    const aside = across ? height : width;
    const stepAlong = across ? 1 : width;
    const stepAside = across ? width : 1;
    for (let i = 0; i < along; i++) {
      for (let j = 0; j < aside; j++) {
        const p = i * stepAlong + j * stepAside;
        if (byteAt(mask, p)) lengthen(mask, room, p, i, j, 1, slant, gap, along, aside, stepAlong, stepAside);
      }
    }
    for (let i = along - 1; i >= 0; i--) {
      for (let j = 0; j < aside; j++) {
        const p = i * stepAlong + j * stepAside;
        if (!byteAt(mask, p)) continue;
        lengthen(mask, back, p, i, j, -1, slant, gap, along, aside, stepAlong, stepAside);
        if (longestAt(room, p) + longestAt(back, p) - 1 >= least) setByte(out, p, 1);
      }
    }
  }
}

/** The longest path that ends at a pixel. */
function longestAt(lengths: usize, p: i32): i32 {
  return max(numberAt(lengths, 2 * p), numberAt(lengths, 2 * p + 1));
}

/** Sets how long the longest paths are that end at a pixel with a straight step and with one to a side, what they go over counted. */
function lengthen(
  mask: usize,
  lengths: usize,
  p: i32,
  i: i32,
  j: i32,
  sign: i32,
  slant: i32,
  gap: i32,
  along: i32,
  aside: i32,
  stepAlong: i32,
  stepAside: i32,
): void {
  let straight = 0;
  let turned = 0;
  for (let k = 1; k <= 1 + gap && straight + turned === 0; k++) {
    const at = i - sign * k;
    if (at < 0 || at >= along) break;
    for (let o = -1; o <= 1; o++) {
      const beside = j + o - sign * slant * k;
      if (beside < 0 || beside >= aside) continue;
      const q = at * stepAlong + beside * stepAside;
      if (!byteAt(mask, q)) continue;
      if (o === 0) straight = longestAt(lengths, q) + k - 1;
      else turned = max(turned, numberAt(lengths, 2 * q) + k - 1);
    }
  }
  setNumber(lengths, 2 * p, 1 + straight);
  setNumber(lengths, 2 * p + 1, 1 + turned);
}
