import { floatAt, setFloat } from './memory';

// Dense inverse search (Kroeger et al. 2016): small patches of one picture are looked for in another.

/** Side of a patch and how far apart patches begin, px. */
const side: i32 = 8;
const step: i32 = 4;
/** A patch that has moved farther than this from where it began is lost, px. */
const farthest: f64 = 8;
/** Rounds of the search, and the step below which it ends, px. */
const rounds: i32 = 16;
const settled: f64 = 0.01;

let wide: i32 = 0;
let high: i32 = 0;
let first: usize = 0;
let second: usize = 0;
/** Patch of the first picture with its mean taken off, its slopes; and of the second one where it is looked at. */
let own: usize = 0;
let slopes: usize = 0;
let there: usize = 0;

/** How many patches lie along a length: one every few pixels, the last one flush with the end. */
export function patchesAlong(length: i32): i32 {
  return (length - side + step - 1) / step + 1;
}

function patchAt(i: i32, length: i32): i32 {
  return min(i * step, length - side);
}

/**
 * Begins a level.
 *
 * @param a the picture whose patches are looked for, and b the one they are looked for in
 * @param room for 4 · 64 numbers
 */
export function flowOn(width: i32, height: i32, a: usize, b: usize, room: usize): void {
  wide = width;
  high = height;
  first = a;
  second = b;
  own = room;
  slopes = room + 256;
  there = room + 768;
}

/** The second picture's patch at a place between pixels, its mean taken off; borders are repeated. */
function lookThere(x: f64, y: f64): void {
  const x0 = <i32>Math.floor(x);
  const y0 = <i32>Math.floor(y);
  const u = x - <f64>x0;
  const v = y - <f64>y0;
  const within = x0 >= 0 && y0 >= 0 && x0 + side < wide && y0 + side < high;
  let sum: f64 = 0;
  for (let j = 0; j < side; j++) {
    const top = (within ? y0 + j : min(high - 1, max(0, y0 + j))) * wide;
    const low = (within ? y0 + j + 1 : min(high - 1, max(0, y0 + j + 1))) * wide;
    let left = within ? x0 : min(wide - 1, max(0, x0));
    let before = floatAt(second, top + left) * (1 - v) + floatAt(second, low + left) * v;
    for (let i = 0; i < side; i++) {
      left = within ? x0 + i + 1 : min(wide - 1, max(0, x0 + i + 1));
      const after = floatAt(second, top + left) * (1 - v) + floatAt(second, low + left) * v;
      const value = before * (1 - u) + after * u;
      setFloat(there, j * side + i, value);
      sum += value;
      before = after;
    }
  }
  const mean = sum / 64;
  for (let k = 0; k < 64; k++) setFloat(there, k, floatAt(there, k) - mean);
}

/** Sum of squared differences of the own patch from the one last looked at. */
function unlike(): f64 {
  let sum: f64 = 0;
  for (let k = 0; k < 64; k++) {
    const d = floatAt(own, k) - floatAt(there, k);
    sum += d * d;
  }
  return sum;
}

let h11: f64 = 0;
let h12: f64 = 0;
let h22: f64 = 0;

/** Takes a patch of the first picture, its slopes and the sums of their products. */
function takeOwn(x: i32, y: i32): void {
  let sum: f64 = 0;
  for (let j = 0; j < side; j++) for (let i = 0; i < side; i++) sum += floatAt(first, (y + j) * wide + x + i);
  const mean = sum / 64;
  let sx: f64 = 0;
  let sy: f64 = 0;
  h11 = 0;
  h12 = 0;
  h22 = 0;
  for (let j = 0, k = 0; j < side; j++) {
    const row = (y + j) * wide;
    const up = max(0, y + j - 1) * wide;
    const down = min(high - 1, y + j + 1) * wide;
    for (let i = 0; i < side; i++, k++) {
      const p = x + i;
      const gx = (floatAt(first, row + min(wide - 1, p + 1)) - floatAt(first, row + max(0, p - 1))) / 2;
      const gy = (floatAt(first, down + p) - floatAt(first, up + p)) / 2;
      setFloat(own, k, floatAt(first, row + p) - mean);
      setFloat(slopes, 2 * k, gx);
      setFloat(slopes, 2 * k + 1, gy);
      sx += gx;
      sy += gy;
      h11 += gx * gx;
      h12 += gx * gy;
      h22 += gy * gy;
    }
  }
  h11 -= (sx * sx) / 64;
  h12 -= (sx * sy) / 64;
  h22 -= (sy * sy) / 64;
  // Where a patch has no slope one way it stays where it began.
  h11 += 1e-4;
  h22 += 1e-4;
}

/**
 * Looks for the patches of some rows. Each begins with the best of what it is given and what the patches beside it have found, once from
 * the first to the last and once back.
 *
 * @param u the way of each patch, in and out, px; v downwards
 * @param cost what is left of the difference, a patch
 * @param back 1 on the way back
 */
export function flowSearch(u: usize, v: usize, cost: usize, back: i32): void {
  const across = patchesAlong(wide);
  const along = patchesAlong(high);
  const n = across * along;
  const beside = back !== 0 ? 1 : -1;
  for (let k = 0; k < n; k++) {
    const i = back !== 0 ? n - 1 - k : k;
    const px = i % across;
    const py = i / across;
    const x = patchAt(px, wide);
    const y = patchAt(py, high);
    takeOwn(x, y);
    let bu = floatAt(u, i);
    let bv = floatAt(v, i);
    lookThere(<f64>x + bu, <f64>y + bv);
    let best = unlike();
    const started = best;
    for (let turn = 0; turn < 2; turn++) {
      const qx = px + (turn === 0 ? beside : 0);
      const qy = py + (turn === 0 ? 0 : beside);
      if (qx < 0 || qy < 0 || qx >= across || qy >= along) continue;
      const cu = floatAt(u, qy * across + qx);
      const cv = floatAt(v, qy * across + qx);
      if (Math.abs(cu - bu) + Math.abs(cv - bv) < 0.25) continue;
      lookThere(<f64>x + cu, <f64>y + cv);
      const d = unlike();
      if (d < best * 0.98) {
        best = d;
        bu = cu;
        bv = cv;
      }
    }
    // On the way back only what has found something better is worth another search.
    if (back !== 0 && best === started) continue;
    const determinant = h11 * h22 - h12 * h12;
    const u0 = bu;
    const v0 = bv;
    let cu = bu;
    let cv = bv;
    for (let round = 0; round < rounds; round++) {
      lookThere(<f64>x + cu, <f64>y + cv);
      let r1: f64 = 0;
      let r2: f64 = 0;
      let d: f64 = 0;
      for (let m = 0; m < 64; m++) {
        const e = floatAt(there, m) - floatAt(own, m);
        d += e * e;
        r1 += e * floatAt(slopes, 2 * m);
        r2 += e * floatAt(slopes, 2 * m + 1);
      }
      if (d < best) {
        best = d;
        bu = cu;
        bv = cv;
      } else if (round > 2) break;
      const du = (h22 * r1 - h12 * r2) / determinant;
      const dv = (h11 * r2 - h12 * r1) / determinant;
      cu -= du;
      cv -= dv;
      if (Math.abs(cu - u0) > farthest || Math.abs(cv - v0) > farthest) break;
      if (du * du + dv * dv < settled * settled) break;
    }
    setFloat(u, i, bu);
    setFloat(v, i, bv);
    setFloat(cost, i, best);
  }
}

/**
 * The way of every pixel: the mean over the patches on it, each counting by how well it fits there.
 *
 * @param room for 3 numbers a pixel
 */
export function flowSpread(u: usize, v: usize, outU: usize, outV: usize, weight: usize): void {
  const across = patchesAlong(wide);
  const along = patchesAlong(high);
  const n = wide * high;
  memory.fill(outU, 0, (<usize>n) << 2);
  memory.fill(outV, 0, (<usize>n) << 2);
  memory.fill(weight, 0, (<usize>n) << 2);
  for (let i = 0; i < across * along; i++) {
    const x = patchAt(i % across, wide);
    const y = patchAt(i / across, high);
    const pu = floatAt(u, i);
    const pv = floatAt(v, i);
    let mean: f64 = 0;
    for (let j = 0; j < side; j++) for (let k = 0; k < side; k++) mean += floatAt(first, (y + j) * wide + x + k);
    mean /= 64;
    lookThere(<f64>x + pu, <f64>y + pv);
    for (let j = 0; j < side; j++) {
      for (let k = 0; k < side; k++) {
        const p = (y + j) * wide + x + k;
        const d = Math.abs(floatAt(first, p) - mean - floatAt(there, j * side + k));
        const w = 1 / Math.max(0.004, d);
        setFloat(outU, p, floatAt(outU, p) + w * pu);
        setFloat(outV, p, floatAt(outV, p) + w * pv);
        setFloat(weight, p, floatAt(weight, p) + w);
      }
    }
  }
  for (let p = 0; p < n; p++) {
    const w = floatAt(weight, p);
    setFloat(outU, p, floatAt(outU, p) / w);
    setFloat(outV, p, floatAt(outV, p) / w);
  }
}

/** Begins the patches of a level with the ways found on one of half its size. */
export function flowBegin(smallWidth: i32, smallHeight: i32, smallU: usize, smallV: usize, u: usize, v: usize): void {
  const across = patchesAlong(wide);
  const along = patchesAlong(high);
  for (let i = 0; i < across * along; i++) {
    const x = min(smallWidth - 1, (patchAt(i % across, wide) + side / 2) / 2);
    const y = min(smallHeight - 1, (patchAt(i / across, high) + side / 2) / 2);
    setFloat(u, i, 2 * floatAt(smallU, y * smallWidth + x));
    setFloat(v, i, 2 * floatAt(smallV, y * smallWidth + x));
  }
}

/**
 * Planes seen along a flow: at each pixel the value where it lies in the other picture; bilinear, borders repeated.
 *
 * @param planes so many of them, one after the other, as they come out
 */
export function bringAlong(width: i32, height: i32, u: usize, v: usize, planes: usize, count: i32, out: usize): void {
  const n = width * height;
  const right = <f64>(width - 1);
  const bottom = <f64>(height - 1);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      const sx = Math.min(right, Math.max(0, <f64>x + floatAt(u, p)));
      const sy = Math.min(bottom, Math.max(0, <f64>y + floatAt(v, p)));
      const x0 = <i32>sx;
      const y0 = <i32>sy;
      const s = sx - <f64>x0;
      const t = sy - <f64>y0;
      const over = x0 + 1 < width ? 1 : 0;
      const down = y0 + 1 < height ? width : 0;
      for (let k = 0, q = y0 * width + x0; k < count; k++, q += n) {
        const a = floatAt(planes, q);
        const c = floatAt(planes, q + down);
        const top = a + s * (floatAt(planes, q + over) - a);
        const low = c + s * (floatAt(planes, q + down + over) - c);
        setFloat(out, k * n + p, top + t * (low - top));
      }
    }
  }
}
