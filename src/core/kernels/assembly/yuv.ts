// Pictures of the film's own kind, YUV 4:2:0 in limited range by the matrix of BT.709, and RGBA. Chroma lies on the left of each pair of columns, between
// its two rows. Planes of Y, U and V follow each other without padding; those of U and V have half the columns and rows, rounded up.

/** 1.164383 · 8192 and what of U and V is in red, green and blue, in the same parts. */
const LIGHT: i32 = 9539;
const RED_OF_V: i32 = 14686;
const GREEN_OF_U: i32 = -1747;
const GREEN_OF_V: i32 = -4366;
const BLUE_OF_U: i32 = 17305;

/** Writes a chroma row between two as 16-bit numbers about 0, four times as large, three quarters of it the nearer one; its last one is repeated twice. */
function chromaRow(near: usize, far: usize, count: i32, out: usize): void {
  for (let k: usize = 0; k < <usize>count; k++)
    store<i16>(out + (k << 1), <i16>(3 * <i32>load<u8>(near + k) + <i32>load<u8>(far + k) - 512));
  const last = load<i16>(out + ((<usize>(count - 1)) << 1));
  store<i16>(out + ((<usize>count) << 1), last);
  store<i16>(out + ((<usize>(count + 1)) << 1), last);
}

/** Chroma of four pixels from the one of the first on, eight times as large. */
function chromaAt(row: usize): v128 {
  const a = <i32>load<i16>(row);
  const b = <i32>load<i16>(row, 2);
  const c = <i32>load<i16>(row, 4);
  return i32x4.replace_lane(i32x4.replace_lane(i32x4.replace_lane(i32x4.splat(2 * a), 1, a + b), 2, 2 * b), 3, b + c);
}

function byteOf(parts: v128): v128 {
  const value = i32x4.shr_s(i32x4.add(parts, i32x4.splat(32768)), 16);
  return i32x4.max_s(i32x4.splat(0), i32x4.min_s(i32x4.splat(255), value));
}

/** Turns `planes` of YUV into RGBA bytes. `scratch`: 8 bytes for each pair of columns and 16 more. */
export function yuvToRgb(planes: usize, width: i32, height: i32, scratch: usize, out: usize): void {
  const across = (width + 1) >> 1;
  const down = (height + 1) >> 1;
  const us = planes + <usize>(width * height);
  const vs = us + <usize>(across * down);
  const uRow = scratch;
  const vRow = scratch + ((<usize>(across + 4)) << 1);
  const opaque = i32x4.splat(0xff000000);
  for (let y = 0; y < height; y++) {
    const near = y >> 1;
    const far = max<i32>(0, min<i32>(down - 1, near + ((y & 1) == 0 ? -1 : 1)));
    chromaRow(us + <usize>(near * across), us + <usize>(far * across), across, uRow);
    chromaRow(vs + <usize>(near * across), vs + <usize>(far * across), across, vRow);
    const row = planes + <usize>(y * width);
    for (let x = 0; x < width; x += 4, out += 16) {
      const n = width - x;
      const lights = n >= 4 ? v128.load32_zero(row + x) : lastOf(row + x, n);
      const light = i32x4.sub(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(lights)), i32x4.splat(16));
      const white = i32x4.mul(light, i32x4.splat(8 * LIGHT));
      const u = chromaAt(uRow + <usize>x);
      const v = chromaAt(vRow + <usize>x);
      const r = byteOf(i32x4.add(white, i32x4.mul(v, i32x4.splat(RED_OF_V))));
      const g = byteOf(i32x4.add(white, i32x4.add(i32x4.mul(u, i32x4.splat(GREEN_OF_U)), i32x4.mul(v, i32x4.splat(GREEN_OF_V)))));
      const b = byteOf(i32x4.add(white, i32x4.mul(u, i32x4.splat(BLUE_OF_U))));
      const pixels = v128.or(v128.or(r, i32x4.shl(g, 8)), v128.or(i32x4.shl(b, 16), opaque));
      if (n >= 4) v128.store(out, pixels);
      else {
        v128.store32_lane(out, pixels, 0);
        if (n > 1) v128.store32_lane(out, pixels, 1, 4);
        if (n > 2) v128.store32_lane(out, pixels, 2, 8);
        out -= (<usize>(4 - n)) << 2;
      }
    }
  }
}

/** The `n` bytes at `from`, fewer than four. */
function lastOf(from: usize, n: i32): v128 {
  let bytes: u32 = load<u8>(from);
  if (n > 1) bytes |= (<u32>load<u8>(from, 1)) << 8;
  if (n > 2) bytes |= (<u32>load<u8>(from, 2)) << 16;
  return i32x4.splat(bytes);
}

/** A row's light in 16 bits of parts: 16 + 0.182586 R + 0.614231 G + 0.062007 B. */
function lightRow(picture: usize, width: i32, out: usize): void {
  const low = i32x4.splat(255);
  let x = 0;
  for (; x + 4 <= width; x += 4) {
    const pixels = v128.load(picture + ((<usize>x) << 2));
    const r = v128.and(pixels, low);
    const g = v128.and(i32x4.shr_u(pixels, 8), low);
    const b = v128.and(i32x4.shr_u(pixels, 16), low);
    const sum = i32x4.add(
      i32x4.add(i32x4.mul(r, i32x4.splat(11966)), i32x4.mul(g, i32x4.splat(40254))),
      i32x4.add(i32x4.mul(b, i32x4.splat(4064)), i32x4.splat(16 * 65536 + 32768)),
    );
    const value = i32x4.shr_u(sum, 16);
    const narrow = i16x8.narrow_i32x4_u(value, value);
    v128.store32_lane(out + x, i8x16.narrow_i16x8_u(narrow, narrow), 0);
  }
  for (; x < width; x++) {
    const pixel = picture + ((<usize>x) << 2);
    const sum = 11966 * <u32>load<u8>(pixel) + 40254 * <u32>load<u8>(pixel, 1) + 4064 * <u32>load<u8>(pixel, 2);
    store<u8>(out + x, <u8>((sum + 16 * 65536 + 32768) >> 16));
  }
}

/** Sums of a column of two pixels, channel by channel in 32 bits. */
function columnAt(upper: usize, lower: usize, x: i32): v128 {
  const at = (<usize>x) << 2;
  const sum = i16x8.add(i16x8.extend_low_i8x16_u(v128.load32_zero(upper + at)), i16x8.extend_low_i8x16_u(v128.load32_zero(lower + at)));
  return i32x4.extend_low_i16x8_u(sum);
}

/**
 * Turns RGBA bytes into `planes` of YUV, whatever their alpha. Chroma is the mean of three columns, the middle one counted twice, and two rows.
 * @returns the pixels whose alpha is less than `whole`
 */
export function rgbToYuv(picture: usize, width: i32, height: i32, whole: i32, planes: usize): i32 {
  const across = (width + 1) >> 1;
  const down = (height + 1) >> 1;
  const us = planes + <usize>(width * height);
  const vs = us + <usize>(across * down);
  const stride = (<usize>width) << 2;
  for (let y = 0; y < height; y++) lightRow(picture + <usize>y * stride, width, planes + <usize>(y * width));
  for (let j = 0; j < down; j++) {
    const upper = picture + <usize>(2 * j) * stride;
    const lower = 2 * j + 1 < height ? upper + stride : upper;
    let before = columnAt(upper, lower, 0);
    for (let k = 0; k < across; k++) {
      const x = 2 * k;
      const middle = columnAt(upper, lower, x);
      const after = columnAt(upper, lower, min<i32>(width - 1, x + 1));
      const sum = i32x4.add(i32x4.add(before, after), i32x4.shl(middle, 1));
      before = after;
      const r = i32x4.extract_lane(sum, 0);
      const g = i32x4.extract_lane(sum, 1);
      const b = i32x4.extract_lane(sum, 2);
      // eight times the mean, in 16 bits of parts; half is 128.5
      const half = (128 * 8 + 4) * 65536;
      store<u8>(us + <usize>(j * across + k), <u8>((half - 6596 * r - 22189 * g + 28785 * b) >> 19));
      store<u8>(vs + <usize>(j * across + k), <u8>((half + 28785 * r - 26145 * g - 2640 * b) >> 19));
    }
  }
  let open = 0;
  for (let i: usize = 0; i < <usize>(width * height); i++) if (<i32>load<u8>(picture + (i << 2), 3) < whole) open++;
  return open;
}
