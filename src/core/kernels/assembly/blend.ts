/** The alpha of a pixel in lane 3 of eight 16-bit channels. */
const OPAQUE: v128 = i16x8(0, 0, 0, 255, 0, 0, 0, 0);
const HALF: v128 = i16x8.splat(128);

/** The four bytes at `pixel` as 16-bit channels. */
function channelsAt(pixel: usize): v128 {
  return i16x8.extend_low_i8x16_u(v128.load32_zero(pixel));
}

/** Two bytes multiplied as shares of 255, rounded. */
function times(a: i32, b: i32): i32 {
  const t = a * b + 128;
  return (t + (t >> 8)) >> 8;
}

/** Lays `source` at `alpha` of 255 over the pixel `to`, each channel rounded once, so that a colour over itself stays itself. */
function lay(source: v128, alpha: i32, to: usize): void {
  let mixed = source;
  if (alpha != 255) {
    const over = i16x8.mul(v128.or(source, OPAQUE), i16x8.splat(<i16>alpha));
    const under = i16x8.mul(channelsAt(to), i16x8.splat(<i16>(255 - alpha)));
    const sum = i16x8.add(i16x8.add(over, under), HALF);
    mixed = i16x8.shr_u(i16x8.add(sum, i16x8.shr_u(sum, 8)), 8);
  }
  v128.store32_lane(to, i8x16.narrow_i16x8_u(mixed, mixed), 0);
}

/**
 * Lays `picture` over `out`, pixel by pixel, as far as `coverage` and `opacity`, 0..255, say: RGBA bytes, and a byte a pixel. Colours in `out` are
 * premultiplied by its alpha.
 */
export function blendAligned(picture: usize, coverage: usize, opacity: i32, n: i32, out: usize): void {
  for (let i: usize = 0; i < <usize>n; i++) {
    const cover = times(load<u8>(coverage + i), opacity);
    if (cover == 0) continue;
    const own = <i32>load<u8>(picture + (i << 2), 3);
    const alpha = own == 255 ? cover : times(cover, own);
    lay(channelsAt(picture + (i << 2)), alpha, out + (i << 2));
  }
}

/** Places in a picture are whole numbers: pixels of 2^32 parts, counted from the first pixel's centre. */
const PARTS: f64 = 4294967296;
/** Half of a 256th of a pixel. */
const ROUNDED: i64 = 1 << 23;

/** Where `place`, beyond a row of `length` pixels, lands when the row goes on mirrored. */
function reflect(place: i64, length: i32): i64 {
  const half: i64 = 1 << 31;
  const whole = (<i64>length) << 32;
  const period = 2 * whole;
  let t = (place + half) % period;
  if (t < 0) t += period;
  return (t < whole ? t : period - t) - half;
}

/**
 * The same for a picture of another size or place: the pixel of `out` whose centre is (x, y) shows (a·x + c·y + e, b·x + d·y + f)
 * of `picture`, bilinear. The picture's edge pixels repeat beyond it, or it goes on `mirrored`.
 */
export function blendSampled(
  picture: usize,
  width: i32,
  height: i32,
  a: f64,
  b: f64,
  c: f64,
  d: f64,
  e: f64,
  f: f64,
  mirrored: bool,
  coverage: usize,
  opacity: i32,
  outWidth: i32,
  outHeight: i32,
  out: usize,
): void {
  const stride = (<usize>width) << 2;
  const acrossX = <i64>(a * PARTS);
  const acrossY = <i64>(b * PARTS);
  for (let y = 0; y < outHeight; y++) {
    const row = <f64>y + 0.5;
    let px = <i64>((a * 0.5 + c * row + e - 0.5) * PARTS) + ROUNDED;
    let py = <i64>((b * 0.5 + d * row + f - 0.5) * PARTS) + ROUNDED;
    for (let x = 0; x < outWidth; x++, px += acrossX, py += acrossY, coverage++, out += 4) {
      const cover = times(load<u8>(coverage), opacity);
      if (cover == 0) continue;
      let left = <i32>(px >> 32);
      let top = <i32>(py >> 32);
      let fx = (<i32>(px >> 24)) & 255;
      let fy = (<i32>(py >> 24)) & 255;
      if (<u32>left >= <u32>(width - 1)) {
        const inside = mirrored ? reflect(px - ROUNDED, width) + ROUNDED : px;
        left = <i32>(inside >> 32);
        fx = left < 0 || left >= width - 1 ? 0 : (<i32>(inside >> 24)) & 255;
        left = max<i32>(0, min<i32>(width - 1, left));
      }
      if (<u32>top >= <u32>(height - 1)) {
        const inside = mirrored ? reflect(py - ROUNDED, height) + ROUNDED : py;
        top = <i32>(inside >> 32);
        fy = top < 0 || top >= height - 1 ? 0 : (<i32>(inside >> 24)) & 255;
        top = max<i32>(0, min<i32>(height - 1, top));
      }
      const at = picture + ((<usize>(top * width + left)) << 2);
      const right: usize = left + 1 < width ? 4 : 0;
      const below: usize = top + 1 < height ? stride : 0;
      // the two pixels on the left in one vector, those on the right in another
      const lefts = i64x2.shuffle(channelsAt(at), channelsAt(at + below), 0, 2);
      const rights = i64x2.shuffle(channelsAt(at + right), channelsAt(at + below + right), 0, 2);
      const rows = between(lefts, rights, fx);
      const colour = between(rows, i64x2.shuffle(rows, rows, 1, 1), fy);
      const own = <i32>i16x8.extract_lane_u(colour, 3);
      lay(colour, own == 255 ? cover : times(cover, own), out);
    }
  }
}

/** Channels between `p` and `q`, `share` in 0..256, rounded. */
function between(p: v128, q: v128, share: i32): v128 {
  const sum = i16x8.add(i16x8.mul(p, i16x8.splat(<i16>(256 - share))), i16x8.mul(q, i16x8.splat(<i16>share)));
  return i16x8.shr_u(i16x8.add(sum, HALF), 8);
}
