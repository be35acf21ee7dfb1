import { floatAt, numberAt } from './memory';

/** Adds so many rows, one after the other in memory, each by its weight. */
export function addDown(rows: usize, width: i32, count: i32, weights: usize, out: usize): void {
  const stride = 4 * <usize>width;
  const fours = width & ~3;
  for (let k = 0; k < count; k++) {
    const w = <f32>floatAt(weights, k);
    if (w === 0) continue;
    const row = rows + stride * <usize>k;
    const each = f32x4.splat(w);
    let x = 0;
    for (; x < fours; x += 4) {
      const at = (<usize>x) << 2;
      v128.store(out + at, f32x4.add(v128.load(out + at), f32x4.mul(each, v128.load(row + at))));
    }
    for (; x < width; x++) {
      const at = (<usize>x) << 2;
      store<f32>(out + at, load<f32>(out + at) + w * load<f32>(row + at));
    }
  }
}

/** Resizes one row along itself: each sample from so many, the first of which is told, by their weights. */
export function takeAcross(row: usize, first: usize, count: i32, weights: usize, width: i32, out: usize): void {
  for (let x = 0, w = 0; x < width; x++, w += count) {
    const from = row + ((<usize>numberAt(first, x)) << 2);
    let sum: f64 = 0;
    for (let k = 0; k < count; k++) sum += floatAt(weights, w + k) * floatAt(from, k);
    store<f32>(out + ((<usize>x) << 2), <f32>sum);
  }
}
