import { doubleAt, floatAt, setDouble, setFloat } from './memory';

/**
 * Mean over a (2·radius+1)² window, borders repeated, by running sums.
 *
 * @param across room for a number a pixel
 * @param sums room for a double a column
 */
export function boxMean(width: i32, height: i32, radius: i32, data: usize, across: usize, sums: usize, out: usize): void {
  for (let y = 0; y < height; y++) {
    const row = y * width;
    let sum: f64 = 0;
    for (let k = -radius; k <= radius; k++) sum += floatAt(data, row + min(width - 1, max(0, k)));
    for (let x = 0; x < width; x++) {
      setFloat(across, row + x, sum);
      sum += floatAt(data, row + min(width - 1, x + radius + 1)) - floatAt(data, row + max(0, x - radius));
    }
  }
  for (let x = 0; x < width; x++) setDouble(sums, x, 0);
  for (let k = -radius; k <= radius; k++) {
    const row = min(height - 1, max(0, k)) * width;
    for (let x = 0; x < width; x++) setDouble(sums, x, doubleAt(sums, x) + floatAt(across, row + x));
  }
  const size = <f64>(2 * radius + 1);
  const weight = 1 / (size * size);
  for (let y = 0; y < height; y++) {
    const next = min(height - 1, y + radius + 1) * width;
    const gone = max(0, y - radius) * width;
    for (let x = 0; x < width; x++) {
      setFloat(out, y * width + x, doubleAt(sums, x) * weight);
      setDouble(sums, x, doubleAt(sums, x) + (floatAt(across, next + x) - floatAt(across, gone + x)));
    }
  }
}

/** The weights of a plane of half the size: half of a block known is known well enough. */
export function pullWeight(width: i32, height: i32, weight: usize, out: usize): void {
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) setFloat(out, y * w + x, min(<f64>1, sumOfBlock(x, y, width, height, weight) / 2));
  }
}

function sumOfBlock(x: i32, y: i32, width: i32, height: i32, weight: usize): f64 {
  const top = 2 * y * width;
  const low = min(height - 1, 2 * y + 1) * width;
  const left = 2 * x;
  const right = min(width - 1, 2 * x + 1);
  return floatAt(weight, top + left) + floatAt(weight, top + right) + floatAt(weight, low + left) + floatAt(weight, low + right);
}

/** A plane of half the size: the blocks' weighed means, 0 where nothing is known. */
export function pullDown(width: i32, height: i32, data: usize, weight: usize, out: usize): void {
  const w = (width + 1) >> 1;
  const h = (height + 1) >> 1;
  for (let y = 0; y < h; y++) {
    const top = 2 * y * width;
    const low = min(height - 1, 2 * y + 1) * width;
    for (let x = 0; x < w; x++) {
      const left = 2 * x;
      const right = min(width - 1, 2 * x + 1);
      const at = y * w + x;
      const sum = sumOfBlock(x, y, width, height, weight);
      setFloat(out, at, floatAt(weight, top + left) * floatAt(data, top + left));
      setFloat(out, at, floatAt(out, at) + floatAt(weight, top + right) * floatAt(data, top + right));
      setFloat(out, at, floatAt(out, at) + floatAt(weight, low + left) * floatAt(data, low + left));
      setFloat(out, at, floatAt(out, at) + floatAt(weight, low + right) * floatAt(data, low + right));
      if (sum > 0) setFloat(out, at, floatAt(out, at) / sum);
    }
  }
}

/** The plane where it is known, one of half the size enlarged (bilinear) where it is not. */
export function pushUp(width: i32, height: i32, data: usize, weight: usize, small: usize, out: usize): void {
  const across = (width + 1) >> 1;
  const along = (height + 1) >> 1;
  for (let y = 0; y < height; y++) {
    const near = (y >> 1) * across;
    const far = min(along - 1, max(0, (y >> 1) + ((y & 1) === 0 ? -1 : 1))) * across;
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      const w = floatAt(weight, p);
      if (w >= 1) {
        setFloat(out, p, floatAt(data, p));
        continue;
      }
      const n = x >> 1;
      const f = min(across - 1, max(0, n + ((x & 1) === 0 ? -1 : 1)));
      const up =
        0.5625 * floatAt(small, near + n) +
        0.1875 * (floatAt(small, near + f) + floatAt(small, far + n)) +
        0.0625 * floatAt(small, far + f);
      setFloat(out, p, w * floatAt(data, p) + (1 - w) * up);
    }
  }
}
