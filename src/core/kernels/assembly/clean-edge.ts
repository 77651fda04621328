import { at } from './numbers';

/**
 * Writes the least rectangle that holds all pixels whose coverage lies between `none` and `own` into `out`: left, top, right and bottom as 32 bits, the
 * last two not included; all 0 where there are none.
 */
export function softPart(alpha: usize, width: i32, height: i32, none: i32, own: i32, out: usize): void {
  let left = width;
  let top = height;
  let right = 0;
  let bottom = 0;
  const least = i8x16.splat(<i8>(none + 1));
  const most = i8x16.splat(<i8>(own - 1));
  for (let y = 0; y < height; y++) {
    const row = alpha + <usize>(y * width);
    for (let x = 0; x < width; x++) {
      if (x + 16 <= width) {
        const covers = v128.load(row + x);
        const isSoft = v128.and(i8x16.ge_u(covers, least), i8x16.le_u(covers, most));
        if (!v128.any_true(isSoft)) {
          x += 15;
          continue;
        }
      }
      const cover = <i32>load<u8>(row + x);
      if (cover <= none || cover >= own) continue;
      left = min<i32>(left, x);
      right = max<i32>(right, x + 1);
      top = min<i32>(top, y);
      bottom = y + 1;
    }
  }
  const found = bottom > 0;
  store<i32>(out, found ? left : 0);
  store<i32>(out, found ? top : 0, 4);
  store<i32>(out, found ? right : 0, 8);
  store<i32>(out, found ? bottom : 0, 12);
}

/** Sums of pixels, four floats each, over 2·`radius` + 1 of them across and then down, in place; beyond the border there is nothing. */
function boxSums(pixels: usize, width: i32, height: i32, radius: i32, scratch: usize): void {
  for (let y = 0; y < height; y++) sumLine(pixels + ((<usize>(y * width)) << 4), 16, width, radius, scratch);
  for (let x = 0; x < width; x++) sumLine(pixels + ((<usize>x) << 4), (<usize>width) << 4, height, radius, scratch);
}

function sumLine(start: usize, stride: usize, length: i32, radius: i32, line: usize): void {
  for (let k = 0; k < length; k++) v128.store(line + ((<usize>k) << 4), v128.load(start + <usize>k * stride));
  let sum = f32x4.splat(0);
  for (let k = 0; k < min<i32>(radius, length); k++) sum = f32x4.add(sum, v128.load(line + ((<usize>k) << 4)));
  for (let k = 0; k < length; k++) {
    if (k + radius < length) sum = f32x4.add(sum, v128.load(line + ((<usize>(k + radius)) << 4)));
    v128.store(start + <usize>k * stride, sum);
    if (k >= radius) sum = f32x4.sub(sum, v128.load(line + ((<usize>(k - radius)) << 4)));
  }
}

/**
 * Gives a soft edge the colour of the subject next to it: columns and rows `left` to `right` and `top` to `bottom` of `picture` (RGBA bytes) where `alpha`
 * lies between `none` and `own`. Colours are means over two boxes of `radius`, each pixel counting as `weights` has it for its coverage. `strength`
 * 0..1. `out` holds the picture already. `scratch`: four floats for each pixel of that part, and for each of its longer side.
 */
export function cleanSoftEdge(
  picture: usize,
  alpha: usize,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  radius: i32,
  none: i32,
  own: i32,
  strength: f32,
  weights: usize,
  scratch: usize,
  out: usize,
): void {
  const w = right - left;
  const h = bottom - top;
  const sums = scratch + ((<usize>max<i32>(w, h)) << 4);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const i = (top + y) * width + left + x;
      const to = sums + ((<usize>(y * w + x)) << 4);
      const share = at(weights, load<u8>(alpha + <usize>i));
      const pixel = picture + ((<usize>i) << 2);
      store<f32>(to, share * <f32>load<u8>(pixel));
      store<f32>(to, share * <f32>load<u8>(pixel, 1), 4);
      store<f32>(to, share * <f32>load<u8>(pixel, 2), 8);
      store<f32>(to, share, 12);
    }
  }
  boxSums(sums, w, h, radius, scratch);
  boxSums(sums, w, h, radius, scratch);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const i = (top + y) * width + left + x;
      const cover = <i32>load<u8>(alpha + <usize>i);
      const from = sums + ((<usize>(y * w + x)) << 4);
      const weight = load<f32>(from, 12);
      if (cover >= own || cover <= none || weight < 1e-6) continue;
      // nearly whole pixels keep most of what they show
      const mix = strength * min<f32>(1, <f32>(own - cover) / 60);
      for (let c: usize = 0; c < 3; c++) {
        const shown = <f32>load<u8>(picture + ((<usize>i) << 2) + c);
        const value = shown + mix * (load<f32>(from + (c << 2)) / weight - shown);
        store<u8>(out + ((<usize>i) << 2) + c, <u8>(max<f32>(0, min<f32>(255, value)) + 0.5));
      }
    }
  }
}
