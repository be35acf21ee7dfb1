/**
 * Some rows of a plane blurred by a symmetric kernel, across and then down; borders are repeated.
 *
 * @param height of the plane
 * @param source the plane's rows from `top` to the one before `bottom`: all that is looked at from rows `from` up to `to`
 * @param taps the kernel's middle and its one side, radius + 1 numbers
 * @param padded room for width + 2 * radius numbers
 * @param across room for the source's rows
 * @param out rows `from` up to `to`
 */
export function blurRows(
  width: i32,
  height: i32,
  top: i32,
  bottom: i32,
  from: i32,
  to: i32,
  source: usize,
  taps: usize,
  radius: i32,
  padded: usize,
  across: usize,
  out: usize,
): void {
  const pitch = (<usize>width) << 2;
  for (let y = 0; y < bottom - top; y++) {
    const row = source + <usize>y * pitch;
    for (let k = 0; k < radius; k++) {
      store<f32>(padded + ((<usize>k) << 2), load<f32>(row));
      store<f32>(padded + ((<usize>(radius + width + k)) << 2), load<f32>(row + pitch - 4));
    }
    memory.copy(padded + ((<usize>radius) << 2), row, pitch);
    blurRow(width, padded, taps, radius, across + <usize>y * pitch);
  }
  for (let y = from; y < to; y++) {
    const own = across + <usize>(y - top) * pitch;
    const goal = out + <usize>(y - from) * pitch;
    let x = 0;
    for (; x + 8 <= width; x += 8) {
      const at = (<usize>x) << 2;
      const middle = v128.load_splat<f32>(taps);
      let a = f32x4.mul(middle, v128.load(own + at));
      let b = f32x4.mul(middle, v128.load(own + at, 16));
      for (let k = 1; k <= radius; k++) {
        const up = across + <usize>(max(0, y - k) - top) * pitch + at;
        const down = across + <usize>(min(height - 1, y + k) - top) * pitch + at;
        const w = v128.load_splat<f32>(taps + ((<usize>k) << 2));
        a = f32x4.add(a, f32x4.mul(w, f32x4.add(v128.load(up), v128.load(down))));
        b = f32x4.add(b, f32x4.mul(w, f32x4.add(v128.load(up, 16), v128.load(down, 16))));
      }
      v128.store(goal + at, a);
      v128.store(goal + at, b, 16);
    }
    for (; x < width; x++) {
      const at = (<usize>x) << 2;
      let sum = load<f32>(taps) * load<f32>(own + at);
      for (let k = 1; k <= radius; k++) {
        const up = across + <usize>(max(0, y - k) - top) * pitch + at;
        const down = across + <usize>(min(height - 1, y + k) - top) * pitch + at;
        sum += load<f32>(taps + ((<usize>k) << 2)) * (load<f32>(up) + load<f32>(down));
      }
      store<f32>(goal + at, sum);
    }
  }
}

function blurRow(width: i32, padded: usize, taps: usize, radius: i32, out: usize): void {
  let x = 0;
  for (; x + 8 <= width; x += 8) {
    const own = padded + ((<usize>(x + radius)) << 2);
    const middle = v128.load_splat<f32>(taps);
    let a = f32x4.mul(middle, v128.load(own));
    let b = f32x4.mul(middle, v128.load(own, 16));
    for (let k = 1; k <= radius; k++) {
      const away = (<usize>k) << 2;
      const w = v128.load_splat<f32>(taps + away);
      a = f32x4.add(a, f32x4.mul(w, f32x4.add(v128.load(own - away), v128.load(own + away))));
      b = f32x4.add(b, f32x4.mul(w, f32x4.add(v128.load(own - away, 16), v128.load(own + away, 16))));
    }
    const goal = out + ((<usize>x) << 2);
    v128.store(goal, a);
    v128.store(goal, b, 16);
  }
  for (; x < width; x++) {
    const own = padded + ((<usize>(x + radius)) << 2);
    let sum = load<f32>(taps) * load<f32>(own);
    for (let k = 1; k <= radius; k++) {
      const away = (<usize>k) << 2;
      sum += load<f32>(taps + away) * (load<f32>(own - away) + load<f32>(own + away));
    }
    store<f32>(out + ((<usize>x) << 2), sum);
  }
}
