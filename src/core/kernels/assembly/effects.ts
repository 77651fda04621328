import { at, put } from './numbers';
import { floatsAt, storeFloats } from './pixels';

// Effects on premultiplied pictures of RGBA bytes: each reads `picture` and writes `out`, other memory of the same size.

/** A colour with 255 for its alpha. */
function colourOf(r: f32, g: f32, b: f32): v128 {
  return f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(255), 0, r), 1, g), 2, b);
}

/** A byte a pixel: 1 where at least half of it is covered. */
export function insideOf(picture: usize, n: i32, out: usize): void {
  for (let i: usize = 0; i < <usize>n; i++) store<u8>(out + i, load<u8>(picture + (i << 2), 3) >> 7);
}

/** Lays a picture over lines about its edge, `signed` distances (floats) inside of it: line k, from 1 to `count`, begins `first` + k·`apart` outside the edge, is `wide`, and covers by `amount`·(1 − `fall`)^(k − 1). */
export function linesAround(
  picture: usize,
  signed: usize,
  n: i32,
  first: f32,
  apart: f32,
  wide: f32,
  count: i32,
  fall: f32,
  amount: f32,
  r: f32,
  g: f32,
  b: f32,
  out: usize,
): void {
  const colour = colourOf(r, g, b);
  for (let i = 0; i < n; i++) {
    const pixel = picture + ((<usize>i) << 2);
    const to = out + ((<usize>i) << 2);
    const rest = 255 - <i32>load<u8>(pixel, 3);
    const away = -at(signed, i) - first;
    let cover: f32 = 0;
    if (rest > 0) {
      // the lines that may reach here
      const nearest = <i32>Mathf.floor(max<f32>(0, (away - wide - 1) / apart));
      const furthest = <i32>Mathf.ceil(min<f32>(<f32>count, (away + 1) / apart));
      let share: f32 = 1;
      for (let k = 1; k <= min<i32>(count, furthest); k++, share *= 1 - fall) {
        if (k < nearest) continue;
        const from = <f32>k * apart;
        const line = max<f32>(0, min<f32>(1, 0.5 + away - from)) * max<f32>(0, min<f32>(1, from + wide - away + 0.5));
        cover = max<f32>(cover, share * line);
      }
    }
    if (cover == 0) store<u32>(to, load<u32>(pixel));
    else storeFloats(f32x4.add(floatsAt(pixel), f32x4.mul(colour, f32x4.splat((amount * cover * <f32>rest) / 255))), to);
  }
}

/** A picture's alpha, 0..1, moved by (`x` + `u`, `y` + `v`) pixels, whole ones and shares of one, as floats; nothing comes in from beyond its border. */
export function movedCover(picture: usize, width: i32, height: i32, x: i32, y: i32, u: f32, v: f32, out: usize): void {
  const restOfU: f32 = 1 - u;
  const restOfV: f32 = 1 - v;
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      const px = column - x;
      const py = row - y;
      const above = restOfU * alphaAt(picture, width, height, px, py) + u * alphaAt(picture, width, height, px - 1, py);
      const before = restOfU * alphaAt(picture, width, height, px, py - 1) + u * alphaAt(picture, width, height, px - 1, py - 1);
      put(out, row * width + column, (restOfV * above + v * before) / 255);
    }
  }
}

function alphaAt(picture: usize, width: i32, height: i32, x: i32, y: i32): f32 {
  return <u32>x < <u32>width && <u32>y < <u32>height ? <f32>load<u8>(picture + ((<usize>(y * width + x)) << 2), 3) : 0;
}

/** Lays a picture over a colour that covers by `amount` times `cover`, floats 0..1. */
export function layOverCover(picture: usize, cover: usize, n: i32, amount: f32, r: f32, g: f32, b: f32, out: usize): void {
  const colour = colourOf(r, g, b);
  for (let i = 0; i < n; i++) {
    const pixel = picture + ((<usize>i) << 2);
    const to = out + ((<usize>i) << 2);
    const rest: i32 = 255 - <i32>load<u8>(pixel, 3);
    const share = amount * at(cover, i) * <f32>rest;
    if (share == 0) store<u32>(to, load<u32>(pixel));
    else storeFloats(f32x4.add(floatsAt(pixel), f32x4.mul(colour, f32x4.splat(share / 255))), to);
  }
}

/** A picture of which column x keeps `across`[x] and row y `down`[y], floats 0..1. */
export function keepSeparable(picture: usize, across: usize, down: usize, width: i32, height: i32, out: usize): void {
  for (let y = 0, i = 0; y < height; y++) {
    const row = at(down, y);
    for (let x = 0; x < width; x++, i++) keepPixel(picture + ((<usize>i) << 2), row * at(across, x), out + ((<usize>i) << 2));
  }
}

/** A pixel of which `share` stays. */
export function keepPixel(pixel: usize, share: f32, to: usize): void {
  if (share >= 1) store<u32>(to, load<u32>(pixel));
  else if (share <= 0) store<u32>(to, 0);
  else storeFloats(f32x4.mul(floatsAt(pixel), f32x4.splat(share)), to);
}

/** How much is kept at `place` where `taken` of a length goes away, over an edge `soft` wide. */
function keptBeyond(taken: f32, place: f32, soft: f32): f32 {
  return taken <= 0 ? 1 : max<f32>(0, min<f32>(1, (place - taken) / soft + 0.5));
}

/**
 * Takes away from four sides along axes turned by an angle of cosine `c` and sine `s` about the middle; `across` and `down` are what the frame
 * measures along them, and `left` to `bottom` the lengths that go.
 */
export function cropTurned(
  picture: usize,
  width: i32,
  height: i32,
  c: f32,
  s: f32,
  across: f32,
  down: f32,
  left: f32,
  right: f32,
  top: f32,
  bottom: f32,
  soft: f32,
  out: usize,
): void {
  for (let y = 0, i = 0; y < height; y++) {
    const py = <f32>y + 0.5 - <f32>height / 2;
    for (let x = 0; x < width; x++, i++) {
      const px = <f32>x + 0.5 - <f32>width / 2;
      const u = c * px + s * py + across / 2;
      const v = c * py - s * px + down / 2;
      const alongX = keptBeyond(left, u, soft) * keptBeyond(right, across - u, soft);
      const alongY = keptBeyond(top, v, soft) * keptBeyond(bottom, down - v, soft);
      keepPixel(picture + ((<usize>i) << 2), alongX * alongY, out + ((<usize>i) << 2));
    }
  }
}

/** A picture that goes over into a colour by `amount`, as far as it covers. */
export function towardsColour(picture: usize, n: i32, amount: f32, r: f32, g: f32, b: f32, out: usize): void {
  const colour = f32x4.mul(colourOf(r, g, b), f32x4.splat(1.0 / 255.0));
  const share = f32x4.splat(amount);
  for (let i: usize = 0; i < <usize>n; i++) {
    const from = floatsAt(picture + (i << 2));
    const wanted = f32x4.mul(colour, f32x4.splat(f32x4.extract_lane(from, 3)));
    storeFloats(f32x4.add(from, f32x4.mul(share, f32x4.sub(wanted, from))), out + (i << 2));
  }
}

/** Colours as `table` has them, a byte for each byte of straight colour. */
export function throughTable(picture: usize, n: i32, table: usize, out: usize): void {
  for (let i: usize = 0; i < <usize>n; i++) {
    const pixel = picture + (i << 2);
    const to = out + (i << 2);
    const alpha = <u32>load<u8>(pixel, 3);
    if (alpha == 0) store<u32>(to, 0);
    else if (alpha == 255)
      store<u32>(
        to,
        (<u32>load<u8>(table + <usize>load<u8>(pixel))) |
          ((<u32>load<u8>(table + <usize>load<u8>(pixel, 1))) << 8) |
          ((<u32>load<u8>(table + <usize>load<u8>(pixel, 2))) << 16) |
          0xff000000,
      );
    else {
      for (let c: usize = 0; c < 3; c++) {
        const straight = min<u32>(255, (510 * <u32>load<u8>(pixel + c) + alpha) / (2 * alpha));
        store<u8>(to + c, <u8>((2 * <u32>load<u8>(table + <usize>straight) * alpha + 255) / 510));
      }
      store<u8>(to, <u8>alpha, 3);
    }
  }
}

function mirroredAt(v: i32, n: i32): i32 {
  if (<u32>v < <u32>n) return v;
  let m = v % (2 * n);
  if (m < 0) m += 2 * n;
  return m < n ? m : 2 * n - 1 - m;
}

/** A picture turned by an angle of cosine `c` and sine `s` about its middle and moved by (dx, dy), bilinear; beyond its border it goes on mirrored. */
export function movedMirrored(picture: usize, width: i32, height: i32, c: f64, s: f64, dx: f64, dy: f64, out: usize): void {
  for (let y = 0; y < height; y++) {
    const py = <f64>y + 0.5 - <f64>height / 2 - dy;
    for (let x = 0; x < width; x++, out += 4) {
      const px = <f64>x + 0.5 - <f64>width / 2 - dx;
      const sx = c * px + s * py + <f64>width / 2 - 0.5;
      const sy = c * py - s * px + <f64>height / 2 - 0.5;
      const column = <i32>Math.floor(sx);
      const row = <i32>Math.floor(sy);
      const inner = <u32>column < <u32>(width - 1) && <u32>row < <u32>(height - 1);
      const left = inner ? column : mirroredAt(column, width);
      const right = inner ? column + 1 : mirroredAt(column + 1, width);
      const top = (inner ? row : mirroredAt(row, height)) * width;
      const bottom = (inner ? row + 1 : mirroredAt(row + 1, height)) * width;
      const u = f32x4.splat(<f32>(sx - <f64>column));
      const p = floatsAt(picture + ((<usize>(top + left)) << 2));
      const q = floatsAt(picture + ((<usize>(bottom + left)) << 2));
      const above = f32x4.add(p, f32x4.mul(u, f32x4.sub(floatsAt(picture + ((<usize>(top + right)) << 2)), p)));
      const below = f32x4.add(q, f32x4.mul(u, f32x4.sub(floatsAt(picture + ((<usize>(bottom + right)) << 2)), q)));
      storeFloats(f32x4.add(above, f32x4.mul(f32x4.splat(<f32>(sy - <f64>row)), f32x4.sub(below, above))), out);
    }
  }
}

/** A picture's bytes as floats, four a pixel. */
export function floatsOf(picture: usize, n: i32, out: usize): void {
  for (let i: usize = 0; i < <usize>n; i++) v128.store(out + (i << 4), floatsAt(picture + (i << 2)));
}

/**
 * The mean of the pixels, four floats each, at `count` places (`places`: x and y in 32 bits each) about each one; the picture's last pixels go on
 * beyond its border. `bytes`: the result is rounded to RGBA bytes.
 */
export function meanAlong(pixels: usize, width: i32, height: i32, places: usize, count: i32, bytes: bool, out: usize): void {
  let reachX = 0;
  let reachY = 0;
  for (let k = 0; k < count; k++) {
    reachX = max<i32>(reachX, abs<i32>(load<i32>(places + ((<usize>k) << 3))));
    reachY = max<i32>(reachY, abs<i32>(load<i32>(places + ((<usize>k) << 3), 4)));
  }
  const share = f32x4.splat(1 / <f32>count);
  for (let y = 0; y < height; y++) {
    const rowInside = y >= reachY && y < height - reachY;
    for (let x = 0; x < width; x++) {
      const inside = rowInside && x >= reachX && x < width - reachX;
      let sum = f32x4.splat(0);
      for (let k = 0; k < count; k++) {
        let px = x + load<i32>(places + ((<usize>k) << 3));
        let py = y + load<i32>(places + ((<usize>k) << 3), 4);
        if (!inside) {
          px = max<i32>(0, min<i32>(width - 1, px));
          py = max<i32>(0, min<i32>(height - 1, py));
        }
        sum = f32x4.add(sum, v128.load(pixels + ((<usize>(py * width + px)) << 4)));
      }
      const mean = f32x4.mul(sum, share);
      const i = <usize>(y * width + x);
      if (bytes) storeFloats(mean, out + (i << 2));
      else v128.store(out + (i << 4), mean);
    }
  }
}

/** What of one channel is brighter than `least`, in linear light times `scale`, as floats; `linear`: a float for each byte. */
export function brightOf(picture: usize, n: i32, channel: i32, least: f32, scale: f32, linear: usize, out: usize): void {
  for (let i = 0; i < n; i++) put(out, i, max<f32>(0, at(linear, load<u8>(picture + ((<usize>i) << 2) + <usize>channel)) - least) * scale);
}

/** Adds light, three planes of floats, to a picture by `amount`; it covers as far as it shines. `display`: a byte for each of 4096 steps and one more. */
export function addShed(
  picture: usize,
  r: usize,
  g: usize,
  b: usize,
  n: i32,
  amount: f32,
  linear: usize,
  display: usize,
  out: usize,
): void {
  for (let i = 0; i < n; i++) {
    const pixel = picture + ((<usize>i) << 2);
    const to = out + ((<usize>i) << 2);
    const red = load<u8>(display + stepOf(at(linear, load<u8>(pixel)) + amount * at(r, i)));
    const green = load<u8>(display + stepOf(at(linear, load<u8>(pixel, 1)) + amount * at(g, i)));
    const blue = load<u8>(display + stepOf(at(linear, load<u8>(pixel, 2)) + amount * at(b, i)));
    store<u8>(to, red);
    store<u8>(to, green, 1);
    store<u8>(to, blue, 2);
    store<u8>(to, max<u8>(load<u8>(pixel, 3), max<u8>(red, max<u8>(green, blue))), 3);
  }
}

function stepOf(light: f32): usize {
  return <usize>(max<f32>(0, min<f32>(4096, light * 4096)) + 0.5);
}
