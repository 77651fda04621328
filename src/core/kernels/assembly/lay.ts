import { channelsAt, times } from './pixels';

// Layers laid over a picture, rows `top` to `bottom` of it. A coverage of 0 (no array) is 255 everywhere. `closed` holds a byte for each block of 16
// pixels of a row: the number of the layer nearest to the eye that hides it, counted from the front, 255 where none does.

/** Pixels of a row that are looked at together. */
export const BLOCK: i32 = 16;
const NOBODY: u8 = 255;

/** The alpha of a pixel in lane 3 of eight 16-bit channels. */
const OPAQUE: v128 = i16x8(0, 0, 0, 255, 0, 0, 0, 0);
const HALF: v128 = i16x8.splat(128);
const FULL: v128 = i8x16.splat(-1);

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

/** True when a layer numbered `index` leaves nothing of the `n` pixels from `coverage` on, or is hidden there. */
export function isHidden(coverage: usize, n: i32, closed: usize, index: i32): bool {
  if (<i32>load<u8>(closed) < index) return true;
  if (coverage == 0) return false;
  if (n == BLOCK) return !v128.any_true(v128.load(coverage));
  for (let i: usize = 0; i < <usize>n; i++) if (load<u8>(coverage + i) != 0) return false;
  return true;
}

/** True when `n` pixels from `coverage` on are covered fully. */
function isFull(coverage: usize, n: i32): bool {
  if (coverage == 0) return true;
  if (n == BLOCK) return i8x16.all_true(i8x16.eq(v128.load(coverage), FULL));
  for (let i: usize = 0; i < <usize>n; i++) if (load<u8>(coverage + i) != 255) return false;
  return true;
}

/** True when all `n` pixels of a picture have an alpha of 255. */
export function isOpaque(picture: usize, n: i32): bool {
  const alphas = i32x4.splat(0xff000000);
  let i = 0;
  for (; i + 4 <= n; i += 4) {
    const pixels = v128.and(v128.load(picture + ((<usize>i) << 2)), alphas);
    if (!i32x4.all_true(i32x4.eq(pixels, alphas))) return false;
  }
  for (; i < n; i++) if (load<u8>(picture + ((<usize>i) << 2), 3) != 255) return false;
  return true;
}

/** Notes where an opaque layer numbered `index` hides what is behind it; gives the blocks that nobody had hidden before. */
export function closeCovered(coverage: usize, width: i32, top: i32, bottom: i32, index: i32, closed: usize): i32 {
  const across = (width + BLOCK - 1) / BLOCK;
  let count = 0;
  for (let y = top; y < bottom; y++) {
    for (let block = 0; block < across; block++) {
      const mark = closed + <usize>(y * across + block);
      if (load<u8>(mark) != NOBODY) continue;
      const x = block * BLOCK;
      if (!isFull(coverage == 0 ? 0 : coverage + <usize>(y * width + x), min<i32>(BLOCK, width - x))) continue;
      store<u8>(mark, <u8>index);
      count++;
    }
  }
  return count;
}

/** The same for a surface that lies on columns `left` to `right`, by its alpha. */
export function closeBySurface(surface: usize, width: i32, left: i32, top: i32, right: i32, bottom: i32, index: i32, closed: usize): i32 {
  const across = (width + BLOCK - 1) / BLOCK;
  let count = 0;
  for (let y = top; y < bottom; y++) {
    const row = surface + ((<usize>((y - top) * (right - left))) << 2);
    for (let block = (left + BLOCK - 1) / BLOCK; block < across; block++) {
      const x = block * BLOCK;
      const end = min<i32>(x + BLOCK, width);
      if (end > right) break;
      const mark = closed + <usize>(y * across + block);
      if (load<u8>(mark) != NOBODY || !isOpaque(row + ((<usize>(x - left)) << 2), end - x)) continue;
      store<u8>(mark, <u8>index);
      count++;
    }
  }
  return count;
}

/** Lays `n` pixels of a picture over as many, by `coverage` and `opacity`. */
function layRun(picture: usize, coverage: usize, opacity: i32, n: i32, out: usize): void {
  for (let i: usize = 0; i < <usize>n; i++) {
    const cover = coverage == 0 ? opacity : times(load<u8>(coverage + i), opacity);
    if (cover == 0) continue;
    const own = <i32>load<u8>(picture + (i << 2), 3);
    lay(channelsAt(picture + (i << 2)), own == 255 ? cover : times(cover, own), out + (i << 2));
  }
}

/**
 * Lays `picture`, of the size of `out`, over it pixel by pixel, as far as `coverage` and `opacity`, 0..255, say: RGBA bytes, and a byte a pixel.
 * `opaque`: all its pixels are. Colours in `out` are premultiplied by its alpha.
 */
export function layAligned(
  picture: usize,
  opaque: bool,
  coverage: usize,
  opacity: i32,
  width: i32,
  top: i32,
  bottom: i32,
  closed: usize,
  index: i32,
  out: usize,
): void {
  const across = (width + BLOCK - 1) / BLOCK;
  for (let y = top; y < bottom; y++) {
    for (let block = 0; block < across; block++) {
      const x = block * BLOCK;
      const n = min<i32>(BLOCK, width - x);
      const at = <usize>(y * width + x);
      const cover: usize = coverage == 0 ? 0 : coverage + at;
      if (isHidden(cover, n, closed + <usize>(y * across + block), index)) continue;
      if (opaque && opacity == 255 && isFull(cover, n)) memory.copy(out + (at << 2), picture + (at << 2), (<usize>n) << 2);
      else layRun(picture + (at << 2), cover, opacity, n, out + (at << 2));
    }
  }
}

/** Places in a picture are whole numbers: pixels of 2^32 parts, counted from the first pixel's centre. */
const PARTS: f64 = 4294967296;
const PIXEL: i64 = 4294967296;
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

/** What lies between the pixel `at`, the one to its right and the two below them, by shares of 256, each channel rounded twice. */
function between(at: usize, stride: usize, fx: i32, fy: i32): v128 {
  return mixed(i16x8.extend_low_i8x16_u(v128.load64_zero(at)), i16x8.extend_low_i8x16_u(v128.load64_zero(at + stride)), fx, fy);
}

/** The same of two pixels above and the two below, eight channels each. */
function mixed(above: v128, below: v128, fx: i32, fy: i32): v128 {
  const sum = i16x8.add(i16x8.mul(above, i16x8.splat(<i16>(256 - fy))), i16x8.mul(below, i16x8.splat(<i16>fy)));
  const row = i16x8.shr_u(i16x8.add(sum, HALF), 8);
  // left and right of each channel side by side
  const pairs = i16x8.shuffle(row, row, 0, 4, 1, 5, 2, 6, 3, 7);
  const across = i32x4.dot_i16x8_s(pairs, i32x4.splat((256 - fx) | (fx << 16)));
  const colour = i32x4.shr_u(i32x4.add(across, i32x4.splat(128)), 8);
  return i16x8.narrow_i32x4_u(colour, colour);
}

/** The same at a place (px, py) near the border or beyond it, where the last pixels repeat or the picture goes on mirrored. */
function nearBorder(picture: usize, width: i32, height: i32, mirrored: bool, px: i64, py: i64): v128 {
  const insideX = mirrored ? reflect(px - ROUNDED, width) + ROUNDED : px;
  const insideY = mirrored ? reflect(py - ROUNDED, height) + ROUNDED : py;
  let left = <i32>max<i64>(-1, min<i64>(width, insideX >> 32));
  let top = <i32>max<i64>(-1, min<i64>(height, insideY >> 32));
  const fx = left < 0 || left >= width - 1 ? 0 : (<i32>(insideX >> 24)) & 255;
  const fy = top < 0 || top >= height - 1 ? 0 : (<i32>(insideY >> 24)) & 255;
  left = max<i32>(0, min<i32>(width - 1, left));
  top = max<i32>(0, min<i32>(height - 1, top));
  const at = picture + ((<usize>(top * width + left)) << 2);
  const right: usize = left + 1 < width ? 4 : 0;
  const below: usize = top + 1 < height ? (<usize>width) << 2 : 0;
  return mixed(
    i64x2.shuffle(channelsAt(at), channelsAt(at + right), 0, 2),
    i64x2.shuffle(channelsAt(at + below), channelsAt(at + below + right), 0, 2),
    fx,
    fy,
  );
}

/** True when a place and the pixel to its right or below lie within `length`. */
function isInner(place: i64, length: i32): bool {
  return place >= 0 && place >> 32 < <i64>(length - 1);
}

/**
 * The same for a picture of another size or place: the pixel of `out` whose centre is (x, y) shows (a·x + c·y + e, b·x + d·y + f)
 * of `picture`, bilinear. The picture's edge pixels repeat beyond it, or it goes on `mirrored`.
 */
export function laySampled(
  picture: usize,
  width: i32,
  height: i32,
  opaque: bool,
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
  top: i32,
  bottom: i32,
  closed: usize,
  index: i32,
  out: usize,
): void {
  const stride = (<usize>width) << 2;
  const across = (outWidth + BLOCK - 1) / BLOCK;
  const stepX = <i64>(a * PARTS);
  const stepY = <i64>(b * PARTS);
  const isShift = stepX == PIXEL && stepY == 0;
  for (let y = top; y < bottom; y++) {
    const row = <f64>y + 0.5;
    const startX = <i64>((a * 0.5 + c * row + e - 0.5) * PARTS) + ROUNDED;
    const startY = <i64>((b * 0.5 + d * row + f - 0.5) * PARTS) + ROUNDED;
    for (let block = 0; block < across; block++) {
      const x = block * BLOCK;
      const n = min<i32>(BLOCK, outWidth - x);
      const place = <usize>(y * outWidth + x);
      const cover: usize = coverage == 0 ? 0 : coverage + place;
      if (isHidden(cover, n, closed + <usize>(y * across + block), index)) continue;
      let px = startX + <i64>x * stepX;
      let py = startY + <i64>x * stepY;
      const endX = px + <i64>(n - 1) * stepX;
      const endY = py + <i64>(n - 1) * stepY;
      const inner = isInner(px, width) && isInner(endX, width) && isInner(py, height) && isInner(endY, height);
      const full = opaque && opacity == 255 && isFull(cover, n);
      let to = out + (place << 2);
      if (inner && isShift && ((px >> 24) & 255) == 0 && ((py >> 24) & 255) == 0) {
        const at = picture + <usize>(py >> 32) * stride + ((<usize>(px >> 32)) << 2);
        if (full) memory.copy(to, at, (<usize>n) << 2);
        else layRun(at, cover, opacity, n, to);
        continue;
      }
      if (inner && full) {
        for (let i = 0; i < n; i++, px += stepX, py += stepY, to += 4) {
          const at = picture + <usize>(py >> 32) * stride + ((<usize>(px >> 32)) << 2);
          const colour = between(at, stride, (<i32>(px >> 24)) & 255, (<i32>(py >> 24)) & 255);
          v128.store32_lane(to, i8x16.narrow_i16x8_u(colour, colour), 0);
        }
        continue;
      }
      for (let i = 0; i < n; i++, px += stepX, py += stepY, to += 4) {
        const shown = cover == 0 ? opacity : times(load<u8>(cover + <usize>i), opacity);
        if (shown == 0) continue;
        const colour = inner
          ? between(
              picture + <usize>(py >> 32) * stride + ((<usize>(px >> 32)) << 2),
              stride,
              (<i32>(px >> 24)) & 255,
              (<i32>(py >> 24)) & 255,
            )
          : nearBorder(picture, width, height, mirrored, px, py);
        const own = <i32>i16x8.extract_lane_u(colour, 3);
        lay(colour, own == 255 ? shown : times(shown, own), to);
      }
    }
  }
}
