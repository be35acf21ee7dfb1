import { byteAt, doubleAt, floatAt, numberAt, setByte, setFloat, setNumber } from './memory';
import { area, codes, colourDifference, high, longest, placeCost, reach, side, source, upwards, wide } from './patches';

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
