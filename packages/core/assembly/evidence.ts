import { byteAt, doubleAt, floatAt, numberAt, setByte, setDouble, setFloat, setNumber } from './memory';

/** Numbers that describe a component: mean (4), inverse Cholesky factor (10), −2·log of its weighted peak (1). */
const numbersAPart: i32 = 15;

/**
 * How unlikely a pixel is under a mixture: −2·log likelihood of its best component, without the constant; at most the limit.
 *
 * @param parts so many components, one after the other
 * @param busy whether the fourth feature counts
 */
export function unlikeliness(parts: usize, count: i32, busy: bool, l: f64, a: f64, b: f64, r: f64, limit: f64): f64 {
  let least = limit;
  for (let k = 0; k < count * numbersAPart; k += numbersAPart) {
    const x = l - doubleAt(parts, k);
    const p = doubleAt(parts, k + 4) * x;
    let v = p * p + doubleAt(parts, k + 14);
    // The rest only adds: most components are out of the running by now.
    if (v >= least) continue;
    const y = a - doubleAt(parts, k + 1);
    const q = doubleAt(parts, k + 5) * x + doubleAt(parts, k + 6) * y;
    v += q * q;
    if (v >= least) continue;
    const z = b - doubleAt(parts, k + 2);
    const s = doubleAt(parts, k + 7) * x + doubleAt(parts, k + 8) * y + doubleAt(parts, k + 9) * z;
    v += s * s;
    if (v >= least) continue;
    if (busy) {
      const w = r - doubleAt(parts, k + 3);
      const t = doubleAt(parts, k + 10) * x + doubleAt(parts, k + 11) * y + doubleAt(parts, k + 12) * z + doubleAt(parts, k + 13) * w;
      v += t * t;
    }
    if (v < least) least = v;
  }
  return least;
}

/**
 * Compares two mixtures at n pixels.
 *
 * @param busy the fourth feature, or 0 where only colour counts
 * @param wanted 1 for the pixels that ask, or 0 where all do
 * @param end evidence is not told apart beyond this
 */
export function evidence(
  n: i32,
  l: usize,
  a: usize,
  b: usize,
  busy: usize,
  wanted: usize,
  inside: usize,
  insideParts: i32,
  outside: usize,
  outsideParts: i32,
  end: f64,
  out: usize,
): void {
  const counts = busy !== 0;
  for (let p = 0; p < n; p++) {
    if (wanted !== 0 && byteAt(wanted, p) === 0) continue;
    const r = counts ? floatAt(busy, p) : 0;
    const forInside = unlikeliness(inside, insideParts, counts, floatAt(l, p), floatAt(a, p), floatAt(b, p), r, Infinity);
    const forOutside = unlikeliness(outside, outsideParts, counts, floatAt(l, p), floatAt(a, p), floatAt(b, p), r, forInside + end);
    setFloat(out, p, forOutside === forInside ? 0 : max(-end, forOutside - forInside));
  }
}

/** So many components of a mixture as there are before the first number that is none. */
function partsOf(room: usize, most: i32): i32 {
  let count = 0;
  while (count < most && !isNaN(doubleAt(room, count * numbersAPart))) count++;
  return count;
}

/**
 * What the mixtures of the four tiles around each of n pixels say, who count by how near their middles are.
 *
 * @param asking the pixels, and l, a, b their colours
 * @param parts of each tile the room of both sides' components, inside first, not-a-number beyond the last
 * @param most components of a side
 * @param told what they say, of each pixel that asks, and how near they are together
 */
export function askTiles(
  n: i32,
  asking: usize,
  l: usize,
  a: usize,
  b: usize,
  width: i32,
  pitch: i32,
  across: i32,
  parts: usize,
  most: i32,
  end: f64,
  told: usize,
  weight: usize,
): void {
  const side = 8 * <usize>(most * numbersAPart);
  for (let i = 0; i < n; i++) {
    const p = numberAt(asking, i);
    const x = <f64>(p % width) / pitch + 0.5;
    const y = <f64>(p / width) / pitch + 0.5;
    const column = floor(x);
    const row = floor(y);
    setFloat(told, i, 0);
    setFloat(weight, i, 0);
    for (let k = 0; k < 4; k++) {
      const share = (k & 1 ? x - column : 1 - (x - column)) * (k & 2 ? y - row : 1 - (y - row));
      const tile = (<i32>row + (k >> 1)) * across + <i32>column + (k & 1);
      const inside = parts + 2 * side * <usize>tile;
      const insideParts = share > 0 ? partsOf(inside, most) : 0;
      if (insideParts === 0) continue;
      const outside = inside + side;
      const forInside = unlikeliness(inside, insideParts, false, floatAt(l, i), floatAt(a, i), floatAt(b, i), 0, Infinity);
      const limit = forInside + end;
      const forOutside = unlikeliness(outside, partsOf(outside, most), false, floatAt(l, i), floatAt(a, i), floatAt(b, i), 0, limit);
      setFloat(told, i, floatAt(told, i) + share * max(-end, forOutside - forInside));
      setFloat(weight, i, floatAt(weight, i) + share);
    }
  }
}

/**
 * Lloyd's rounds: gives each of n points the nearest of the centres, which move to the means of their points.
 *
 * @param points four numbers each, as the centres
 * @param sums memory for five numbers a centre
 */
export function cluster(n: i32, points: usize, count: i32, centres: usize, rounds: i32, sums: usize, member: usize): void {
  for (let round = 0; round < rounds; round++) {
    memory.fill(sums, 0, 40 * <usize>count);
    for (let i = 0; i < n; i++) {
      const x = doubleAt(points, 4 * i);
      const y = doubleAt(points, 4 * i + 1);
      const z = doubleAt(points, 4 * i + 2);
      const w = doubleAt(points, 4 * i + 3);
      let best = 0;
      let least: f64 = Infinity;
      for (let c = 0; c < count; c++) {
        const dx = x - doubleAt(centres, 4 * c);
        const dy = y - doubleAt(centres, 4 * c + 1);
        const dz = z - doubleAt(centres, 4 * c + 2);
        const dw = w - doubleAt(centres, 4 * c + 3);
        const d = dx * dx + dy * dy + dz * dz + dw * dw;
        if (d < least) {
          least = d;
          best = c;
        }
      }
      setByte(member, i, best);
      const at = 5 * best;
      setDouble(sums, at, doubleAt(sums, at) + x);
      setDouble(sums, at + 1, doubleAt(sums, at + 1) + y);
      setDouble(sums, at + 2, doubleAt(sums, at + 2) + z);
      setDouble(sums, at + 3, doubleAt(sums, at + 3) + w);
      setDouble(sums, at + 4, doubleAt(sums, at + 4) + 1);
    }
    for (let c = 0; c < count; c++) {
      const weight = doubleAt(sums, 5 * c + 4);
      if (weight > 0) for (let k = 0; k < 4; k++) setDouble(centres, 4 * c + k, doubleAt(sums, 5 * c + k) / weight);
    }
  }
}

/** The tile whose middle is the last at or before each of n pixels, in its row and in its column. */
export function tilesOf(n: i32, pixels: usize, width: i32, pitch: i32, across: i32, out: usize): void {
  for (let i = 0; i < n; i++) {
    const p = numberAt(pixels, i);
    const column = <i32>floor(<f64>(p % width) / pitch + 0.5);
    const row = <i32>floor(<f64>(p / width) / pitch + 0.5);
    setNumber(out, i, row * across + column);
  }
}
