import { doubleAt, floatAt, numberAt, setDouble, setFloat } from './memory';

/**
 * Rows of a plane spread by a blur shape and added up: each row is laid, as long as each of the shape's chords, in the rows the chord
 * lies from it. By running sums: the cost grows with the shape's height, not with its area.
 *
 * @param width of the plane and of what is made
 * @param reach farthest that light travels, px
 * @param count rows that are spread; the first of them lies `first` rows below the first one made
 * @param source of each the row of the plane it shows; `from` and `to` its first column and the one after its last, below 0 and beyond
 *   the width where the border goes on
 * @param left the columns and rows that are made: up to the one before `right`, and from `top` up to the one before `bottom`
 * @param chords five doubles each: rows down, rows down of a twin or a number beyond any, ends, and weight
 * @param sums room for a double a column and 2 · reach + 2 more
 * @param out zeroed where anything is made
 */
export function shed(
  width: i32,
  reach: i32,
  count: i32,
  first: i32,
  data: usize,
  source: usize,
  from: usize,
  to: usize,
  left: i32,
  right: i32,
  top: i32,
  bottom: i32,
  chords: usize,
  chordCount: i32,
  sums: usize,
  out: usize,
): void {
  for (let k = 0; k < count; k++) {
    const begin = numberAt(from, k);
    const end = numberAt(to, k);
    if (begin >= end) continue;
    const a = max(left, begin - reach);
    const b = min(right, end + reach);
    if (a >= b) continue;
    sumRow(sums, data + ((<usize>(numberAt(source, k) * width)) << 2), width, begin, end, reach);
    const y = first + k;
    for (let c = 0; c < chordCount; c++) {
      const chord = chords + <usize>c * 40;
      const one = y + <i32>doubleAt(chord, 0);
      const two = y + <i32>doubleAt(chord, 1);
      const at = <f64>reach + 0.5;
      const here = one >= top && one < bottom;
      const there = two >= top && two < bottom;
      if (!here && !there) continue;
      const near = out + ((<usize>((here ? one : two) * width + a)) << 2);
      const far = here && there ? out + ((<usize>(two * width + a)) << 2) : 0;
      addChord(near, far, b - a, sums, at - doubleAt(chord, 3) + a, at - doubleAt(chord, 2) + a, doubleAt(chord, 4));
    }
  }
}

/** Sums of a row from its left, `reach` pixels of what lies beyond on both sides. */
function sumRow(sums: usize, row: usize, width: i32, from: i32, to: i32, reach: i32): void {
  const padded = width + 2 * reach;
  let i = max(0, from + reach);
  memory.fill(sums, 0, (<usize>i) << 3);
  let sum: f64 = 0;
  for (; i < reach; i++) {
    setDouble(sums, i, sum);
    sum += floatAt(row, 0);
  }
  const end = min(width + reach, to + reach);
  for (let x = i - reach; i < end; i++, x++) {
    setDouble(sums, i, sum);
    sum += floatAt(row, x);
  }
  if (to > width) {
    for (; i < padded; i++) {
      setDouble(sums, i, sum);
      sum += floatAt(row, width - 1);
    }
  }
  for (; i < padded + 2; i++) setDouble(sums, i, sum);
}

/** Adds, for every column of a stretch, the integral of the row between two places that go along with it; to a second row as well, if there is one. */
function addChord(one: usize, two: usize, count: i32, sums: usize, left: f64, right: f64, weight: f64): void {
  const l = <i32>left;
  const r = <i32>right;
  const u = left - l;
  const v = right - r;
  const us = f64x2.splat(u);
  const vs = f64x2.splat(v);
  const ws = f64x2.splat(weight);
  let low = sums + ((<usize>l) << 3);
  let high = sums + ((<usize>r) << 3);
  let x = 0;
  for (; x + 2 <= count; x += 2, low += 16, high += 16, one += 8) {
    const sl = v128.load(low);
    const sr = v128.load(high);
    const more = f64x2.mul(vs, f64x2.sub(v128.load(high, 8), sr));
    const less = f64x2.mul(us, f64x2.sub(v128.load(low, 8), sl));
    const light = f64x2.mul(ws, f64x2.sub(f64x2.sub(f64x2.add(sr, more), sl), less));
    addTwo(one, light);
    if (two) {
      addTwo(two, light);
      two += 8;
    }
  }
  if (x === count) return;
  const sl = load<f64>(low);
  const sr = load<f64>(high);
  const light = weight * (sr + v * (load<f64>(high, 8) - sr) - sl - u * (load<f64>(low, 8) - sl));
  setFloat(one, 0, floatAt(one, 0) + light);
  if (two) setFloat(two, 0, floatAt(two, 0) + light);
}

function addTwo(at: usize, light: v128): void {
  const sum = f64x2.add(f64x2.promote_low_f32x4(v128.load64_zero(at)), light);
  v128.store64_lane(at, f32x4.demote_f64x2_zero(sum), 0);
}
