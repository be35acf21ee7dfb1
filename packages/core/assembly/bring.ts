import { doubleAt, setNumber } from './memory';

/** Samples along each axis that make one, how many of them lie before the place but for the nearest, and room for their weights. */
const taps: i32 = 10;
const before: i32 = 4;
const pitch: usize = 48;
/** Steps between two pixels for which weights are kept. */
const phases: i32 = 512;

/**
 * Rows of a picture brought to where another looks, as sharp as they are: a windowed sinc of ten by ten pixels, borders repeated.
 *
 * @param width of what is made; its rows `from` up to the one before `to`
 * @param map nine doubles: from a pixel of what is made to a place in the picture, px
 * @param wide the picture's size; of its rows only `top` up to `top` + `rows` are there, three planes one after the other
 * @param weights for each step between two pixels ten numbers and two zeros
 * @param gain three doubles
 * @param margin how far beyond the outermost pixels' middles the picture reaches, px
 * @param out three planes of the rows that are made
 * @param nearest the pixel nearest to each place, −1 where the picture does not reach
 */
export function bringRows(
  width: i32,
  from: i32,
  to: i32,
  map: usize,
  wide: i32,
  high: i32,
  top: i32,
  rows: i32,
  picture: usize,
  weights: usize,
  gain: usize,
  margin: f64,
  out: usize,
  nearest: usize,
): void {
  const plane = (<usize>(wide * rows)) << 2;
  const made = (<usize>(width * (to - from))) << 2;
  const m0 = doubleAt(map, 0);
  const m1 = doubleAt(map, 1);
  const m2 = doubleAt(map, 2);
  const m3 = doubleAt(map, 3);
  const m4 = doubleAt(map, 4);
  const m5 = doubleAt(map, 5);
  const m6 = doubleAt(map, 6);
  const m7 = doubleAt(map, 7);
  const m8 = doubleAt(map, 8);
  const right = <f64>wide - 1;
  const low = <f64>high - 1;
  for (let y = from, p = 0; y < to; y++) {
    for (let x = 0; x < width; x++, p++) {
      let sx = m0 * x + m1 * y + m2;
      let sy = m3 * x + m4 * y + m5;
      const w = m6 * x + m7 * y + m8;
      if (w !== 1) {
        sx /= w;
        sy /= w;
      }
      const cx = min<f64>(right, max<f64>(0, sx));
      const cy = min<f64>(low, max<f64>(0, sy));
      const reached = sx >= -margin && sy >= -margin && sx <= right + margin && sy <= low + margin;
      setNumber(nearest, p, reached ? <i32>(cy + 0.5) * wide + <i32>(cx + 0.5) : -1);
      const x0 = <i32>cx;
      const y0 = <i32>cy;
      const u = <i32>((cx - x0) * phases + 0.5);
      const v = <i32>((cy - y0) * phases + 0.5);
      const own = out + ((<usize>p) << 2);
      if ((u & (phases - 1)) === 0 && (v & (phases - 1)) === 0) {
        const at = picture + ((<usize>((min(high - 1, y0 + (v > 0 ? 1 : 0)) - top) * wide + min(wide - 1, x0 + (u > 0 ? 1 : 0)))) << 2);
        for (let c: usize = 0; c < 3; c++) store<f32>(own + c * made, lit(load<f32>(at + c * plane), gain, c));
        continue;
      }
      const across = weights + <usize>u * pitch;
      const down = weights + <usize>v * pitch;
      const isWithin = x0 >= before && x0 + 8 <= wide && y0 - before >= top && y0 + taps - before <= top + rows;
      for (let c: usize = 0; c < 3; c++) {
        const plain = picture + c * plane;
        const sum = isWithin
          ? within(plain + ((<usize>((y0 - before - top) * wide + x0 - before)) << 2), (<usize>wide) << 2, across, down)
          : atBorder(plain, wide, high, top, x0, y0, across, down);
        store<f32>(own + c * made, lit(sum, gain, c));
      }
    }
  }
}

function lit(value: f32, gain: usize, c: usize): f32 {
  return <f32>max<f64>(0, <f64>value * doubleAt(gain, <i32>c));
}

/** @param at the first of the pixels; a row's last weights are 0, so that twelve of them can be taken */
function within(at: usize, row: usize, across: usize, down: usize): f32 {
  const a = v128.load(across);
  const b = v128.load(across, 16);
  const c = v128.load(across, 32);
  let sum = f32x4.splat(0);
  for (let j = 0; j < taps; j++, at += row, down += 4) {
    const first = f32x4.add(f32x4.mul(a, v128.load(at)), f32x4.mul(b, v128.load(at, 16)));
    // Two numbers: what lies after them may be beyond the picture.
    const line = f32x4.add(first, f32x4.mul(c, v128.load64_zero(at + 32)));
    sum = f32x4.add(sum, f32x4.mul(v128.load_splat<f32>(down), line));
  }
  return f32x4.extract_lane(sum, 0) + f32x4.extract_lane(sum, 1) + f32x4.extract_lane(sum, 2) + f32x4.extract_lane(sum, 3);
}

function atBorder(plane: usize, wide: i32, high: i32, top: i32, x0: i32, y0: i32, across: usize, down: usize): f32 {
  let sum: f32 = 0;
  for (let j = 0; j < taps; j++) {
    const row = (min(high - 1, max(0, y0 + j - before)) - top) * wide;
    let line: f32 = 0;
    for (let i = 0; i < taps; i++) {
      const x = min(wide - 1, max(0, x0 + i - before));
      line += load<f32>(across + ((<usize>i) << 2)) * load<f32>(plane + ((<usize>(row + x)) << 2));
    }
    sum += load<f32>(down + ((<usize>j) << 2)) * line;
  }
  return sum;
}
