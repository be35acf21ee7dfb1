import { encoded } from './encode';
import { floatAt, setFloat } from './memory';

/** Steps of the table of cube roots. */
const steps: f64 = 4096;

/** Cube root of light by an interpolated table, in whose good range. */
function root(table: usize, v: f64): f64 {
  if (v < 0.01 || v >= 1) return Math.cbrt(v);
  const t = v * steps;
  const k = <i32>t;
  const low = floatAt(table, k);
  return low + (t - k) * (floatAt(table, k + 1) - low);
}

/** n pixels of linear light in OKLab (Ottosson 2020). */
export function perceive(n: i32, red: usize, green: usize, blue: usize, roots: usize, light: usize, a: usize, b: usize): void {
  for (let p = 0; p < n; p++) {
    const r = floatAt(red, p);
    const g = floatAt(green, p);
    const k = floatAt(blue, p);
    const l = root(roots, 0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * k);
    const m = root(roots, 0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * k);
    const s = root(roots, 0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * k);
    setFloat(light, p, 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s);
    setFloat(a, p, 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s);
    setFloat(b, p, 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s);
  }
}

/** n numbers of linear light, encoded. @param codes the table of `encoded` */
export function encode(n: i32, light: usize, codes: usize, out: usize): void {
  for (let p = 0; p < n; p++) setFloat(out, p, encoded(codes, floatAt(light, p)));
}

/**
 * Sums of slopes of lightness over blocks, as shares of the lightness around, the products of both directions; steps count
 * no more than `most`.
 *
 * @param dim lightness at which a difference counts half
 * @param xx zeroed, a number a block, as xy and yy
 */
export function sumSlopes(
  width: i32,
  height: i32,
  light: usize,
  block: i32,
  dim: f64,
  most: f64,
  across: i32,
  xx: usize,
  xy: usize,
  yy: usize,
): void {
  for (let y = 1; y + 1 < height; y++) {
    const row = (y / block) * across;
    for (let x = 1, p = y * width + 1; x + 1 < width; x++, p++) {
      const left = floatAt(light, p - 1);
      const right = floatAt(light, p + 1);
      const upper = floatAt(light, p - width);
      const lower = floatAt(light, p + width);
      const around = (left + right + upper + lower) / 4 + dim;
      const dx = (right - left) / 2 / around;
      const dy = (lower - upper) / 2 / around;
      const squared = dx * dx + dy * dy;
      const share = squared > most * most ? (most * most) / squared : 1;
      const at = row + x / block;
      setFloat(xx, at, floatAt(xx, at) + dx * dx * share);
      setFloat(xy, at, floatAt(xy, at) + dx * dy * share);
      setFloat(yy, at, floatAt(yy, at) + dy * dy * share);
    }
  }
}
