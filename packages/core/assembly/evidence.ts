import { byteAt, doubleAt, floatAt, setFloat } from './memory';

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
 * @param most evidence above it is given as it
 * @param end evidence below minus this is given as it
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
  most: f64,
  end: f64,
  out: usize,
): void {
  const counts = busy !== 0;
  for (let p = 0; p < n; p++) {
    if (wanted !== 0 && byteAt(wanted, p) === 0) continue;
    const r = counts ? floatAt(busy, p) : 0;
    const forInside = unlikeliness(inside, insideParts, counts, floatAt(l, p), floatAt(a, p), floatAt(b, p), r, Infinity);
    const forOutside = unlikeliness(outside, outsideParts, counts, floatAt(l, p), floatAt(a, p), floatAt(b, p), r, forInside + most);
    setFloat(out, p, forOutside === forInside ? 0 : max(-end, forOutside - forInside));
  }
}
