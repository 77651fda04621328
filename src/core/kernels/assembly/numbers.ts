// Arrays in memory: number `i` of one that begins at `array`.
export function at(array: usize, i: i32): f32 {
  return load<f32>(array + ((<usize>i) << 2));
}

export function put(array: usize, i: i32, value: f32): void {
  store<f32>(array + ((<usize>i) << 2), value);
}

export function int(array: usize, i: i32): i32 {
  return load<i32>(array + ((<usize>i) << 2));
}

export function putInt(array: usize, i: i32, value: i32): void {
  store<i32>(array + ((<usize>i) << 2), value);
}

export function double(array: usize, i: i32): f64 {
  return load<f64>(array + ((<usize>i) << 3));
}

export function putDouble(array: usize, i: i32, value: f64): void {
  store<f64>(array + ((<usize>i) << 3), value);
}

/** `value` within 0 and `most`. */
export function clamped(value: f32, most: f32): f32 {
  return max<f32>(0, min<f32>(value, most));
}
