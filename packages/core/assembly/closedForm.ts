import { byteAt, doubleAt, floatAt, numberAt, setDouble, setFloat, setNumber } from './memory';

// The closed-form Laplacian (Levin et al. 2008) and Chebyshev's rounds on it (Golub & Varga 1961).

/** Pixels after each in reading order that share a 3 × 3 window with it. */
const aheadCount: i32 = 12;

/** Places of a window's pixels, their unknowns, and their colours from the mean. */
const at = memory.data(36, 8);
const node = memory.data(36, 8);
const cr = memory.data(72, 8);
const cg = memory.data(72, 8);
const cb = memory.data(72, 8);

/**
 * Adds what all windows say to the unknowns of rows `from` up to `to`.
 *
 * @param top the row with which r, g, b, nodes and known begin
 * @param nodes the unknown of each pixel, or −1
 * @param ends the first and the last column of each row of the picture with an unknown
 * @param slots which of the pixels ahead place j of a window is of an earlier place i, at [9i + j]
 * @param first the first unknown of these rows, with which diagonal, off, partner and right begin, all of them zero
 */
export function addWindows(
  width: i32,
  height: i32,
  from: i32,
  to: i32,
  top: i32,
  r: usize,
  g: usize,
  b: usize,
  nodes: usize,
  known: usize,
  ends: usize,
  slots: usize,
  epsilon: f64,
  first: i32,
  diagonal: usize,
  off: usize,
  partner: usize,
  right: usize,
): void {
  const begin = (from - top) * width;
  const end = (to - top) * width;
  for (let y = max(1, from - 1); y < min(height - 1, to + 1); y++) {
    const farLeft = min(numberAt(ends, 2 * y - 2), min(numberAt(ends, 2 * y), numberAt(ends, 2 * y + 2)));
    const farRight = max(numberAt(ends, 2 * y - 1), max(numberAt(ends, 2 * y + 1), numberAt(ends, 2 * y + 3)));
    for (let x = max(1, farLeft - 1); x <= min(width - 2, farRight + 1); x++) {
      const c = (y - top) * width + x;
      let open = 0;
      for (let k = 0, dy = -width; dy <= width; dy += width) {
        for (let dx = -1; dx <= 1; dx++, k++) {
          setNumber(at, k, c + dy + dx);
          setNumber(node, k, numberAt(nodes, c + dy + dx));
          if (numberAt(node, k) >= 0) open++;
        }
      }
      if (open === 0) continue;
      let mr: f64 = 0;
      let mg: f64 = 0;
      let mb: f64 = 0;
      for (let k = 0; k < 9; k++) {
        setDouble(cr, k, floatAt(r, numberAt(at, k)));
        setDouble(cg, k, floatAt(g, numberAt(at, k)));
        setDouble(cb, k, floatAt(b, numberAt(at, k)));
        mr += doubleAt(cr, k);
        mg += doubleAt(cg, k);
        mb += doubleAt(cb, k);
      }
      mr /= 9;
      mg /= 9;
      mb /= 9;
      let xx: f64 = 0;
      let xy: f64 = 0;
      let xz: f64 = 0;
      let yy: f64 = 0;
      let yz: f64 = 0;
      let zz: f64 = 0;
      for (let k = 0; k < 9; k++) {
        const u = doubleAt(cr, k) - mr;
        const v = doubleAt(cg, k) - mg;
        const w = doubleAt(cb, k) - mb;
        setDouble(cr, k, u);
        setDouble(cg, k, v);
        setDouble(cb, k, w);
        xx += u * u;
        xy += u * v;
        xz += u * w;
        yy += v * v;
        yz += v * w;
        zz += w * w;
      }
      xx = xx / 9 + epsilon / 9;
      yy = yy / 9 + epsilon / 9;
      zz = zz / 9 + epsilon / 9;
      xy /= 9;
      xz /= 9;
      yz /= 9;
      const axx = yy * zz - yz * yz;
      const axy = xz * yz - xy * zz;
      const axz = xy * yz - xz * yy;
      const det = 1 / (xx * axx + xy * axy + xz * axz);
      const ixx = axx * det;
      const ixy = axy * det;
      const ixz = axz * det;
      const iyy = (xx * zz - xz * xz) * det;
      const iyz = (xy * xz - xx * yz) * det;
      const izz = (xx * yy - xy * xy) * det;
      for (let i = 0; i < 9; i++) {
        const vr = ixx * doubleAt(cr, i) + ixy * doubleAt(cg, i) + ixz * doubleAt(cb, i);
        const vg = ixy * doubleAt(cr, i) + iyy * doubleAt(cg, i) + iyz * doubleAt(cb, i);
        const vb = ixz * doubleAt(cr, i) + iyz * doubleAt(cg, i) + izz * doubleAt(cb, i);
        const own = numberAt(node, i) >= 0 && numberAt(at, i) >= begin && numberAt(at, i) < end;
        const ni = numberAt(node, i) - first;
        if (own)
          setFloat(
            diagonal,
            ni,
            floatAt(diagonal, ni) + (1 - (1 + vr * doubleAt(cr, i) + vg * doubleAt(cg, i) + vb * doubleAt(cb, i)) / 9),
          );
        for (let j = i + 1; j < 9; j++) {
          // A pair is kept at its earlier pixel.
          if (!own && (numberAt(node, i) >= 0 || numberAt(node, j) < 0 || numberAt(at, j) < begin || numberAt(at, j) >= end)) continue;
          const affinity = (1 + vr * doubleAt(cr, j) + vg * doubleAt(cg, j) + vb * doubleAt(cb, j)) / 9;
          if (!own) {
            const nj = numberAt(node, j) - first;
            setFloat(right, nj, floatAt(right, nj) + affinity * floatAt(known, numberAt(at, i)));
          } else if (numberAt(node, j) < 0) setFloat(right, ni, floatAt(right, ni) + affinity * floatAt(known, numberAt(at, j)));
          else {
            const slot = ni * aheadCount + byteAt(slots, 9 * i + j);
            setFloat(off, slot, floatAt(off, slot) - affinity);
            setNumber(partner, slot, numberAt(node, j));
          }
        }
      }
    }
  }
}

let count: i32 = 0;
let diagonal: usize = 0;
let off: usize = 0;
let partner: usize = 0;
let x: usize = 0;
let residual: usize = 0;
let step: usize = 0;
let product: usize = 0;
let scale: usize = 0;
let middle: f64 = 0;
let half: f64 = 0;
let rho: f64 = 0;

/** y = A·v */
function multiply(v: usize, y: usize): void {
  for (let i = 0; i < count; i++) setFloat(y, i, floatAt(diagonal, i) * floatAt(v, i));
  for (let i = 0, k = 0; i < count; i++) {
    const vi = floatAt(v, i);
    let sum: f64 = 0;
    for (const end = k + aheadCount; k < end; k++) {
      const c = floatAt(off, k);
      const j = numberAt(partner, k);
      sum += c * floatAt(v, j);
      setFloat(y, j, floatAt(y, j) + c * vi);
    }
    setFloat(y, i, floatAt(y, i) + sum);
  }
}

/**
 * Begins rounds on a system of n unknowns, which is scaled by the sums of its rows' sizes.
 *
 * @param least the least eigenvalue looked after
 * @param right is used up
 * @param room memory for 3n floats
 */
export function roundsBegin(
  n: i32,
  diagonalAt: usize,
  offAt: usize,
  partnerAt: usize,
  right: usize,
  unknowns: usize,
  least: f64,
  room: usize,
): void {
  count = n;
  diagonal = diagonalAt;
  off = offAt;
  partner = partnerAt;
  x = unknowns;
  residual = right;
  step = room;
  product = step + 4 * <usize>n;
  scale = product + 4 * <usize>n;
  middle = (1 + least) / 2;
  half = (1 - least) / 2;
  rho = half / middle;
  for (let i = 0; i < n; i++) setFloat(scale, i, floatAt(diagonal, i));
  for (let i = 0, k = 0; i < n; i++) {
    for (const end = k + aheadCount; k < end; k++) {
      const size = abs(floatAt(off, k));
      setFloat(scale, i, floatAt(scale, i) + size);
      const j = numberAt(partner, k);
      setFloat(scale, j, floatAt(scale, j) + size);
    }
  }
  multiply(x, product);
  for (let i = 0; i < n; i++) {
    const sum = floatAt(scale, i);
    setFloat(scale, i, sum > 1e-9 ? 1 / sum : 1);
    setFloat(residual, i, floatAt(residual, i) - floatAt(product, i));
    setFloat(step, i, (floatAt(residual, i) * floatAt(scale, i)) / middle);
  }
}

/** Improves the unknowns by one round. @param last whether it is the last one */
export function round(last: bool): void {
  for (let i = 0; i < count; i++) setFloat(x, i, floatAt(x, i) + floatAt(step, i));
  if (last) return;
  multiply(step, product);
  const next = 1 / ((2 * middle) / half - rho);
  const keep = next * rho;
  const add = (2 * next) / half;
  for (let i = 0; i < count; i++) {
    setFloat(residual, i, floatAt(residual, i) - floatAt(product, i));
    setFloat(step, i, keep * floatAt(step, i) + add * floatAt(residual, i) * floatAt(scale, i));
  }
  rho = next;
}
