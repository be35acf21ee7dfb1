import { floatAt, nextSet, setByte } from './memory';

/** Steps to one side in the four directions in which a line may be crossed. */
function stepX(d: i32): i32 {
  return d === 2 ? 0 : d === 3 ? -1 : 1;
}

function stepY(d: i32): i32 {
  return d === 0 ? 0 : 1;
}

/**
 * Pixels of a plane that lie on a line: more than `most` of the sign's side, and on both sides of them within so many steps something of more
 * than `beside` of the other side, in one of four directions; into a zeroed mask.
 *
 * @param asked a mask of those that are looked at
 * @param sign 1 for lines of positive values, −1 of negative ones
 */
export function flanked(
  width: i32,
  height: i32,
  values: usize,
  asked: usize,
  sign: f64,
  most: f64,
  beside: f64,
  steps: i32,
  out: usize,
): void {
  const n = width * height;
  for (let p = nextSet(asked, 0, n); p < n; p = nextSet(asked, p + 1, n)) {
    if (sign * floatAt(values, p) <= most) continue;
    const y = p / width;
    const x = p - y * width;
    for (let d = 0; d < 4; d++) {
      if (other(values, width, height, x, y, stepX(d), stepY(d), sign, beside, steps)) {
        if (other(values, width, height, x, y, -stepX(d), -stepY(d), sign, beside, steps)) {
          setByte(out, p, 1);
          break;
        }
      }
    }
  }
}

/** Whether the other side begins within so many steps one way. */
function other(values: usize, width: i32, height: i32, x: i32, y: i32, dx: i32, dy: i32, sign: f64, beside: f64, steps: i32): bool {
  for (let k = 0; k < steps; k++) {
    x += dx;
    y += dy;
    if (x < 0 || y < 0 || x >= width || y >= height) return false;
    if (sign * floatAt(values, y * width + x) < -beside) return true;
  }
  return false;
}
