import { BLOCK, isHidden } from './lay';
import { floatsAt, storeFloats } from './pixels';

// Surfaces laid over a picture, premultiplied both; coverage and closed blocks as in `lay`.

/** Ways in which colours meet, by number. */
const NORMAL: i32 = 0;
const ADD: i32 = 1;
const MULTIPLY: i32 = 2;
const SCREEN: i32 = 3;
const LIGHTEN: i32 = 4;

/** What straight colours `over` others make, 0..255, by the standard's blend modes. */
function meeting(under: v128, over: v128, mode: i32): v128 {
  const most = f32x4.splat(255);
  if (mode == ADD) return f32x4.min(most, f32x4.add(under, over));
  if (mode == LIGHTEN) return f32x4.max(under, over);
  if (mode != MULTIPLY && mode != SCREEN) return f32x4.min(under, over);
  const product = f32x4.mul(f32x4.mul(under, over), f32x4.splat(1.0 / 255.0));
  return mode == MULTIPLY ? product : f32x4.sub(f32x4.add(under, over), product);
}

/**
 * Lays a premultiplied `surface`, which lies on columns `left` to `right` of `out`, over it as far as `coverage` and `opacity` say. By the standard
 * (W3C Compositing and Blending, level 1) a mode works where there is something under it; elsewhere the surface shows as it is.
 */
export function laySurface(
  surface: usize,
  coverage: usize,
  opacity: i32,
  mode: i32,
  outWidth: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  closed: usize,
  index: i32,
  out: usize,
): void {
  const across = (outWidth + BLOCK - 1) / BLOCK;
  for (let y = top; y < bottom; y++) {
    let x = left;
    while (x < right) {
      const block = x / BLOCK;
      const end = min<i32>(right, (block + 1) * BLOCK);
      const place = <usize>(y * outWidth + x);
      const cover: usize = coverage == 0 ? 0 : coverage + place;
      const hidden = isHidden(cover, end - x, closed + <usize>(y * across + block), index);
      let from = surface + ((<usize>((y - top) * (right - left) + x - left)) << 2);
      let to = out + (place << 2);
      const n = end - x;
      x = end;
      if (hidden) continue;
      for (let i = 0; i < n; i++, from += 4, to += 4) {
        const own = <i32>load<u8>(from, 3);
        const shown = cover == 0 ? 255 * opacity : <i32>load<u8>(cover + <usize>i) * opacity;
        if (own == 0 || shown == 0) continue;
        if (own == 255 && shown == 65025 && mode == NORMAL) {
          store<u32>(to, load<u32>(from));
          continue;
        }
        const share: f32 = <f32>shown / 65025;
        const over: f32 = (<f32>own * share) / 255;
        const source = floatsAt(from);
        const below = floatsAt(to);
        const under = <i32>load<u8>(to, 3);
        let colour = f32x4.mul(source, f32x4.splat(share));
        if (mode != NORMAL && under > 0) {
          const straightUnder = f32x4.min(f32x4.splat(255), f32x4.mul(below, f32x4.splat(<f32>255 / <f32>under)));
          const straightOver = f32x4.min(f32x4.splat(255), f32x4.mul(source, f32x4.splat(<f32>255 / <f32>own)));
          const change = f32x4.sub(meeting(straightUnder, straightOver, mode), straightOver);
          const alpha = f32x4.extract_lane(colour, 3);
          colour = f32x4.replace_lane(f32x4.add(colour, f32x4.mul(change, f32x4.splat((over * <f32>under) / 255))), 3, alpha);
        }
        storeFloats(f32x4.add(colour, f32x4.mul(below, f32x4.splat(1 - over))), to);
      }
    }
  }
}

/** Puts `made`, of the size of `out`, in the place of what it holds in rows `top` to `bottom`, as far as `coverage` and `opacity` say. */
export function replaceIn(made: usize, coverage: usize, opacity: i32, width: i32, top: i32, bottom: i32, out: usize): void {
  const end = <usize>(bottom * width);
  for (let i = <usize>(top * width); i < end; i++) {
    const shown = coverage == 0 ? 255 * opacity : <i32>load<u8>(coverage + i) * opacity;
    if (shown == 0) continue;
    const to = out + (i << 2);
    if (shown == 65025) {
      store<u32>(to, load<u32>(made + (i << 2)));
      continue;
    }
    const below = floatsAt(to);
    const change = f32x4.sub(floatsAt(made + (i << 2)), below);
    storeFloats(f32x4.add(below, f32x4.mul(change, f32x4.splat(<f32>shown / 65025))), to);
  }
}

/** Lays `n` premultiplied pixels over one colour, which `colour` holds as RGBA. */
export function layOverColour(picture: usize, n: i32, colour: u32): void {
  const under = f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(i32x4.splat(<i32>colour))));
  for (let i = 0; i < n; i++, picture += 4) {
    const rest = 255 - <i32>load<u8>(picture, 3);
    if (rest == 0) continue;
    storeFloats(f32x4.add(floatsAt(picture), f32x4.mul(under, f32x4.splat(<f32>rest / 255))), picture);
    store<u8>(picture, 255, 3);
  }
}

/** The picture between two of `n` bytes, `weight` parts of 256 of the second. */
export function fade(first: usize, second: usize, weight: i32, n: i32, out: usize): void {
  for (let i: usize = 0; i < <usize>n; i++) {
    const sum = <i32>load<u8>(first + i) * (256 - weight) + <i32>load<u8>(second + i) * weight;
    store<u8>(out + i, <u8>((sum + 128) >> 8));
  }
}
