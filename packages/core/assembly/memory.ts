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
