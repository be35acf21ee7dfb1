import { floatAt } from './memory';

/** Steps of the table of codes by light. */
const steps: f64 = 4096;

/** Linear light encoded as sRGB by an interpolated table, clipped to 0 to 1. */
export function encoded(table: usize, v: f64): f64 {
  if (v >= 1) return 1;
  if (!(v > 0)) return 0;
  const t = v * steps;
  const k = <i32>t;
  const code = floatAt(table, k);
  return code + (t - k) * (floatAt(table, k + 1) - code);
}
