import { byteAt, doubleAt, floatAt, setDouble, setFloat } from './memory';

// Gauss-Newton steps of a projective map between two pictures of one size (Lucas & Kanade 1981).

let wide: i32 = 0;
let high: i32 = 0;
/** Every so many pixels along both axes are looked at. */
let step: i32 = 1;
let source: usize = 0;
let target: usize = 0;
/** Slopes of the source across and down. */
let across: usize = 0;
let down: usize = 0;
/** What does not belong to the scene, of the source and of the target; 0 where all of it does. */
let hiddenThere: usize = 0;
let hiddenHere: usize = 0;

/** Begins a level. */
export function alignOn(
  width: i32,
  height: i32,
  stride: i32,
  from: usize,
  to: usize,
  slopesAcross: usize,
  slopesDown: usize,
  hiddenFrom: usize,
  hiddenTo: usize,
): void {
  wide = width;
  high = height;
  step = stride;
  source = from;
  target = to;
  across = slopesAcross;
  down = slopesDown;
  hiddenThere = hiddenFrom;
  hiddenHere = hiddenTo;
}

// Where a point of the target lies in the source.
let place: i32 = 0;
let over: i32 = 0;
let under: i32 = 0;
let u: f64 = 0;
let v: f64 = 0;

/** Looks up a point of the target. @param map eight numbers @returns whether it is in the source and shows the scene on both sides */
function isSeen(map: usize, x: i32, y: i32): bool {
  const unit = <f64>max(wide, high) / 2;
  const middleX = <f64>(wide - 1) / 2;
  const middleY = <f64>(high - 1) / 2;
  const nx = (<f64>x - middleX) / unit;
  const ny = (<f64>y - middleY) / unit;
  const w = doubleAt(map, 6) * nx + doubleAt(map, 7) * ny + 1;
  const px = ((doubleAt(map, 0) * nx + doubleAt(map, 1) * ny + doubleAt(map, 2)) / w) * unit + middleX;
  const py = ((doubleAt(map, 3) * nx + doubleAt(map, 4) * ny + doubleAt(map, 5)) / w) * unit + middleY;
  const sx = ((px + 0.5) * <f64>wide) / <f64>wide - 0.5;
  const sy = ((py + 0.5) * <f64>high) / <f64>high - 0.5;
  if (!(sx >= -0.5 && sy >= -0.5 && sx <= <f64>wide - 0.5 && sy <= <f64>high - 0.5)) return false;
  const cx = Math.min(<f64>(wide - 1), Math.max(0, sx));
  const cy = Math.min(<f64>(high - 1), Math.max(0, sy));
  const x0 = <i32>cx;
  const y0 = <i32>cy;
  place = y0 * wide + x0;
  over = x0 + 1 < wide ? 1 : 0;
  under = y0 + 1 < high ? wide : 0;
  u = cx - <f64>x0;
  v = cy - <f64>y0;
  if (hiddenHere !== 0 && byteAt(hiddenHere, y * wide + x) === 1) return false;
  return hiddenThere === 0 || byteAt(hiddenThere, place + (u > 0.5 ? over : 0) + (v > 0.5 ? under : 0)) !== 1;
}

/** A plane at the place that was looked up. */
function sample(data: usize): f64 {
  const top = floatAt(data, place) * (1 - u) + floatAt(data, place + over) * u;
  const low = floatAt(data, place + under) * (1 - u) + floatAt(data, place + under + over) * u;
  return top * (1 - v) + low * v;
}

/** How far each point is from being explained. @returns how many were written */
export function alignResiduals(map: usize, gain: f64, offset: f64, out: usize): i32 {
  let used = 0;
  for (let y = 0; y < high; y += step) {
    for (let x = 0; x < wide; x += step) {
      if (isSeen(map, x, y)) setFloat(out, used++, Math.abs(gain * sample(source) + offset - floatAt(target, y * wide + x)));
    }
  }
  return used;
}

/**
 * Sums of the normal equations, with Tukey's weights.
 *
 * @param free which of the map's numbers are, a byte each; the last two unknowns are gain and offset of brightness
 * @param cut residuals from here on count nothing
 * @param row as many numbers as there are unknowns, and eight more, to work in
 * @param normal,right zeroed sums; of the matrix the upper half
 */
export function alignSums(
  map: usize,
  gain: f64,
  offset: f64,
  free: usize,
  freeCount: i32,
  cut: f64,
  row: usize,
  normal: usize,
  right: usize,
): void {
  const count = freeCount + 2;
  const all = row + ((<usize>count) << 3);
  const unit = <f64>max(wide, high) / 2;
  for (let y = 0; y < high; y += step) {
    for (let x = 0; x < wide; x += step) {
      if (!isSeen(map, x, y)) continue;
      const value = sample(source);
      const r = floatAt(target, y * wide + x) - gain * value - offset;
      if (Math.abs(r) >= cut) continue;
      const share = 1 - (r / cut) * (r / cut);
      const weight = share * share;
      const nx = (<f64>x - <f64>(wide - 1) / 2) / unit;
      const ny = (<f64>y - <f64>(high - 1) / 2) / unit;
      const w = 1 / (doubleAt(map, 6) * nx + doubleAt(map, 7) * ny + 1);
      const gx = gain * sample(across) * unit * w;
      const gy = gain * sample(down) * unit * w;
      const towards =
        -(
          gx * (doubleAt(map, 0) * nx + doubleAt(map, 1) * ny + doubleAt(map, 2)) +
          gy * (doubleAt(map, 3) * nx + doubleAt(map, 4) * ny + doubleAt(map, 5))
        ) * w;
      setDouble(all, 0, gx * nx);
      setDouble(all, 1, gx * ny);
      setDouble(all, 2, gx);
      setDouble(all, 3, gy * nx);
      setDouble(all, 4, gy * ny);
      setDouble(all, 5, gy);
      setDouble(all, 6, towards * nx);
      setDouble(all, 7, towards * ny);
      for (let i = 0; i < freeCount; i++) setDouble(row, i, doubleAt(all, byteAt(free, i)));
      setDouble(row, count - 2, value);
      setDouble(row, count - 1, 1);
      for (let i = 0; i < count; i++) {
        const own = weight * doubleAt(row, i);
        setDouble(right, i, doubleAt(right, i) + own * r);
        for (let j = i; j < count; j++) setDouble(normal, i * count + j, doubleAt(normal, i * count + j) + own * doubleAt(row, j));
      }
    }
  }
}
