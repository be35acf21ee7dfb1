// Places in memory as arrays: the address of the first number, and which one is meant.

export function byteAt(array: usize, i: i32): i32 {
  return load<u8>(array + <usize>i);
}

export function setByte(array: usize, i: i32, value: i32): void {
  store<u8>(array + <usize>i, <u8>value);
}

export function numberAt(array: usize, i: i32): i32 {
  return load<i32>(array + ((<usize>i) << 2));
}

export function setNumber(array: usize, i: i32, value: i32): void {
  store<i32>(array + ((<usize>i) << 2), value);
}

export function floatAt(array: usize, i: i32): f64 {
  return <f64>load<f32>(array + ((<usize>i) << 2));
}

export function setFloat(array: usize, i: i32, value: f64): void {
  store<f32>(array + ((<usize>i) << 2), <f32>value);
}

export function doubleAt(array: usize, i: i32): f64 {
  return load<f64>(array + ((<usize>i) << 3));
}

export function setDouble(array: usize, i: i32, value: f64): void {
  store<f64>(array + ((<usize>i) << 3), value);
}

// Masks: non-zero bytes are set. Sixteen are looked at together.

/** The first place from p on and before `end` that is set, or `end`. */
export function nextSet(mask: usize, p: i32, end: i32): i32 {
  while (p + 16 <= end && !v128.any_true(v128.load(mask + <usize>p))) p += 16;
  while (p < end && byteAt(mask, p) === 0) p++;
  return p;
}

/** The first place from p on and before `end` that is not set, or `end`. */
export function nextClear(mask: usize, p: i32, end: i32): i32 {
  while (p + 16 <= end && i8x16.all_true(v128.load(mask + <usize>p))) p += 16;
  while (p < end && byteAt(mask, p) !== 0) p++;
  return p;
}

/** One byte each of sixteen from four times four numbers that are all ones or none. */
export function packed(a: v128, b: v128, c: v128, d: v128): v128 {
  return i8x16.narrow_i16x8_s(i16x8.narrow_i32x4_s(a, b), i16x8.narrow_i32x4_s(c, d));
}
