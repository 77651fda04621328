// Pixels of RGBA bytes, as kernels read and write them.

/** Two bytes multiplied as shares of 255, rounded. */
export function times(a: i32, b: i32): i32 {
  const t = a * b + 128;
  return (t + (t >> 8)) >> 8;
}

/** The four bytes at `pixel` as 16-bit channels. */
export function channelsAt(pixel: usize): v128 {
  return i16x8.extend_low_i8x16_u(v128.load32_zero(pixel));
}

/** A pixel's channels as floats. */
export function floatsAt(pixel: usize): v128 {
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(channelsAt(pixel)));
}

/** Stores channels, rounded, within 0..255. */
export function storeFloats(channels: v128, to: usize): void {
  const whole = i32x4.trunc_sat_f32x4_s(f32x4.nearest(channels));
  const narrow = i16x8.narrow_i32x4_s(whole, whole);
  v128.store32_lane(to, i8x16.narrow_i16x8_u(narrow, narrow), 0);
}
