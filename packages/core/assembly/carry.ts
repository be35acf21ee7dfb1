import { byteAt, floatAt, setByte, setFloat } from './memory';
import { encoded } from './encode';

/** Least squared light that counts as structure of the guide. */
const epsilon: f64 = 2e-4;

/** What is to be done right below and to the right of each small pixel of a row: nothing, copying, or colour's lines. */
const kept: i32 = 0;
const plain: i32 = 1;
const mixed: i32 = 2;

/**
 * Opacity as a line through colour around each wanted pixel of rows `from` up to `to`: slopes over r, g, b and the constant, four
 * numbers a pixel, averaged over 3 × 3 windows that end at the picture's border.
 *
 * @param top the row with which r, g, b, a and wanted begin; the lines begin with row `from`
 */
export function colourLines(
  width: i32,
  height: i32,
  top: i32,
  r: usize,
  g: usize,
  b: usize,
  a: usize,
  wanted: usize,
  from: i32,
  to: i32,
  lines: usize,
): void {
  for (let y = from; y < to; y++) {
    for (let x = 0; x < width; x++) {
      const p = (y - top) * width + x;
      if (byteAt(wanted, p) === 0) continue;
      const pr = floatAt(r, p);
      const pg = floatAt(g, p);
      const pb = floatAt(b, p);
      let mr: f64 = 0;
      let mg: f64 = 0;
      let mb: f64 = 0;
      let ma: f64 = 0;
      let rr: f64 = 0;
      let rg: f64 = 0;
      let rb: f64 = 0;
      let gg: f64 = 0;
      let gb: f64 = 0;
      let bb: f64 = 0;
      let ra: f64 = 0;
      let ga: f64 = 0;
      let ba: f64 = 0;
      for (let dy = -1; dy <= 1; dy++) {
        const row = (min(height - 1, max(0, y + dy)) - top) * width;
        for (let dx = -1; dx <= 1; dx++) {
          const q = row + min(width - 1, max(0, x + dx));
          // Around the middle pixel, so that little is lost in taking differences.
          const dr = floatAt(r, q) - pr;
          const dg = floatAt(g, q) - pg;
          const db = floatAt(b, q) - pb;
          const da = floatAt(a, q);
          mr += dr;
          mg += dg;
          mb += db;
          ma += da;
          rr += dr * dr;
          rg += dr * dg;
          rb += dr * db;
          gg += dg * dg;
          gb += dg * db;
          bb += db * db;
          ra += dr * da;
          ga += dg * da;
          ba += db * da;
        }
      }
      mr /= 9;
      mg /= 9;
      mb /= 9;
      ma /= 9;
      const xx = rr / 9 - mr * mr + epsilon;
      const xy = rg / 9 - mr * mg;
      const xz = rb / 9 - mr * mb;
      const yy = gg / 9 - mg * mg + epsilon;
      const yz = gb / 9 - mg * mb;
      const zz = bb / 9 - mb * mb + epsilon;
      const u = ra / 9 - mr * ma;
      const v = ga / 9 - mg * ma;
      const t = ba / 9 - mb * ma;
      const cxx = yy * zz - yz * yz;
      const cxy = xz * yz - xy * zz;
      const cxz = xy * yz - xz * yy;
      const det = xx * cxx + xy * cxy + xz * cxz;
      const sr = (cxx * u + cxy * v + cxz * t) / det;
      const sg = (cxy * u + (xx * zz - xz * xz) * v + (xy * xz - xx * yz) * t) / det;
      const sb = (cxz * u + (xy * xz - xx * yz) * v + (xx * yy - xy * xy) * t) / det;
      const k = 4 * ((y - from) * width + x);
      setFloat(lines, k, sr);
      setFloat(lines, k + 1, sg);
      setFloat(lines, k + 2, sb);
      setFloat(lines, k + 3, ma - sr * (mr + pr) - sg * (mg + pg) - sb * (mb + pb));
    }
  }
}

/**
 * Rows `from` up to `to` of the lines, averaged over 3 × 3 where wanted.
 *
 * @param first the row with which the lines begin
 * @param top the row with which wanted begins
 */
export function smoothLines(
  width: i32,
  height: i32,
  first: i32,
  lines: usize,
  top: i32,
  wanted: usize,
  from: i32,
  to: i32,
  out: usize,
): void {
  const ninth = f32x4.splat(<f32>(1.0 / 9.0));
  for (let y = from; y < to; y++) {
    for (let x = 0; x < width; x++) {
      if (byteAt(wanted, (y - top) * width + x) === 0) continue;
      let sum = f32x4.splat(0);
      for (let dy = -1; dy <= 1; dy++) {
        const row = (min(height - 1, max(0, y + dy)) - first) * width;
        for (let dx = -1; dx <= 1; dx++) {
          const q = row + min(width - 1, max(0, x + dx));
          sum = f32x4.add(sum, v128.load(lines + ((<usize>q) << 4)));
        }
      }
      v128.store(out + ((<usize>((y - from) * width + x)) << 4), f32x4.mul(sum, ninth));
    }
  }
}

/** Sorts out what is to be done beside each small pixel of a row and the one below. @param again where it may be another, or 0 */
export function carryKinds(width: i32, upper: i32, lower: i32, solved: usize, again: usize, kinds: usize): void {
  for (let x = 0; x < width; x++) {
    const right = min(width - 1, x + 1);
    if (again !== 0 && anyOf(again, upper + x, upper + right, lower + x, lower + right) === 0) setByte(kinds, x, kept);
    else setByte(kinds, x, anyOf(solved, upper + x, upper + right, lower + x, lower + right) !== 0 ? mixed : plain);
  }
}

function anyOf(mask: usize, i: i32, j: i32, k: i32, l: i32): i32 {
  return byteAt(mask, i) | byteAt(mask, j) | byteAt(mask, k) | byteAt(mask, l);
}

/**
 * One row of the large matte.
 *
 * @param a the small matte's row
 * @param left small pixel to the left of each large one, and how far beyond it
 * @param codes the table of `encoded`
 * @param upper the lines of the small row above and, with the share `down` of it, below
 */
export function carryRow(
  width: i32,
  smallWidth: i32,
  kinds: usize,
  a: usize,
  left: usize,
  share: usize,
  r: usize,
  g: usize,
  b: usize,
  codes: usize,
  upper: usize,
  lower: usize,
  down: f64,
  out: usize,
): void {
  for (let x = 0; x < width; x++) {
    const x0 = load<i32>(left + ((<usize>x) << 2));
    const kind = byteAt(kinds, x0);
    if (kind === plain) store<f32>(out + ((<usize>x) << 2), load<f32>(a + ((<usize>x0) << 2)));
    if (kind !== mixed) continue;
    const colour = f32x4(<f32>encoded(codes, floatAt(r, x)), <f32>encoded(codes, floatAt(g, x)), <f32>encoded(codes, floatAt(b, x)), 1);
    const i = (<usize>x0) << 4;
    const j = (<usize>min(smallWidth - 1, x0 + 1)) << 4;
    const u = f32x4.splat(<f32>floatAt(share, x));
    const over = between(v128.load(upper + i), v128.load(upper + j), u);
    const under = between(v128.load(lower + i), v128.load(lower + j), u);
    const each = f32x4.mul(between(over, under, f32x4.splat(<f32>down)), colour);
    const t = f32x4.extract_lane(each, 0) + f32x4.extract_lane(each, 1) + f32x4.extract_lane(each, 2) + f32x4.extract_lane(each, 3);
    store<f32>(out + ((<usize>x) << 2), t < 0.004 ? <f32>0 : t > 0.996 ? <f32>1 : t);
  }
}

function between(a: v128, b: v128, share: v128): v128 {
  return f32x4.add(a, f32x4.mul(share, f32x4.sub(b, a)));
}
