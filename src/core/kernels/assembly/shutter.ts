/** Four numbers of 16 bits at `pixel` as floats. */
function lightAt(pixel: usize): v128 {
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(pixel)));
}

/**
 * A picture of `n` RGBA bytes, as far as `coverage` (a byte a pixel) leaves it, as premultiplied linear light: four numbers of 16 bits a pixel.
 * `linear` holds 16 bits for each byte.
 */
export function toLight(picture: usize, coverage: usize, n: i32, linear: usize, out: usize): void {
  for (let i: usize = 0; i < <usize>n; i++) {
    const pixel = picture + (i << 2);
    const own = <u32>load<u8>(pixel, 3);
    const alpha = own * <u32>load<u8>(coverage + i);
    const to = out + (i << 3);
    if (alpha == 0) {
      store<u64>(to, 0);
      continue;
    }
    // 65535 = 257·255, and alpha is a product of two bytes
    const share = <f32>alpha / 65025;
    store<u16>(to, <u16>(<f32>load<u16>(linear + ((<usize>load<u8>(pixel)) << 1)) * share + 0.5));
    store<u16>(to, <u16>(<f32>load<u16>(linear + ((<usize>load<u8>(pixel, 1)) << 1)) * share + 0.5), 2);
    store<u16>(to, <u16>(<f32>load<u16>(linear + ((<usize>load<u8>(pixel, 2)) << 1)) * share + 0.5), 4);
    store<u16>(to, <u16>(share * 65535 + 0.5), 6);
  }
}

/** Where column or row `at` of a picture `length` long is found: by `edges` 1 mirrored, 2 over again, 3 its last one; below 0 where nothing is. */
function placed(at: i32, length: i32, edges: i32): i32 {
  if (<u32>at < <u32>length) return at;
  if (edges == 0) return -1;
  if (edges == 3) return at < 0 ? 0 : length - 1;
  if (edges == 2) {
    const t = at % length;
    return t < 0 ? t + length : t;
  }
  let t = at % (2 * length);
  if (t < 0) t += 2 * length;
  return t < length ? t : 2 * length - 1 - t;
}

function lightOf(picture: usize, width: i32, height: i32, x: i32, y: i32, edges: i32): v128 {
  const column = placed(x, width, edges);
  const row = placed(y, height, edges);
  return column < 0 || row < 0 ? f32x4.splat(0) : lightAt(picture + ((<usize>(row * width + column)) << 3));
}

/**
 * Adds a picture of linear light, seen through a projective map from pixels of `sum` (four floats each) to its own, row by row in `map` as nine
 * doubles: bilinear. What lies behind the eye, where the map's last row gives nothing above 0, stays as it is. Rows `top` to `bottom`, columns
 * `left` to `right`, ends not included.
 */
export function addLight(
  picture: usize,
  width: i32,
  height: i32,
  edges: i32,
  map: usize,
  sum: usize,
  outWidth: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
): void {
  const a = load<f64>(map);
  const d = load<f64>(map, 24);
  const g = load<f64>(map, 48);
  const affine = g == 0 && load<f64>(map, 56) == 0;
  const stride = (<usize>width) << 3;
  for (let y = top; y < bottom; y++) {
    const fy = <f64>y + 0.5;
    const fx = <f64>left + 0.5;
    let u = a * fx + load<f64>(map, 8) * fy + load<f64>(map, 16);
    let v = d * fx + load<f64>(map, 32) * fy + load<f64>(map, 40);
    let w = g * fx + load<f64>(map, 56) * fy + load<f64>(map, 64);
    const flat = 1 / w;
    let to = sum + ((<usize>(y * outWidth + left)) << 4);
    for (let x = left; x < right; x++, u += a, v += d, w += g, to += 16) {
      if (w <= 1e-9) continue;
      const inverse = affine ? flat : 1 / w;
      const px = u * inverse - 0.5;
      const py = v * inverse - 0.5;
      if (!(abs(px) < 1e8 && abs(py) < 1e8)) continue;
      const column = <i32>Math.floor(px);
      const row = <i32>Math.floor(py);
      const sx = f32x4.splat(<f32>(px - <f64>column));
      const sy = f32x4.splat(<f32>(py - <f64>row));
      let p: v128, q: v128, r: v128, s: v128;
      if (<u32>column < <u32>(width - 1) && <u32>row < <u32>(height - 1)) {
        const at = picture + ((<usize>(row * width + column)) << 3);
        p = lightAt(at);
        q = lightAt(at + 8);
        r = lightAt(at + stride);
        s = lightAt(at + stride + 8);
      } else {
        if (edges == 0 && (column < -1 || row < -1 || column >= width || row >= height)) continue;
        p = lightOf(picture, width, height, column, row, edges);
        q = lightOf(picture, width, height, column + 1, row, edges);
        r = lightOf(picture, width, height, column, row + 1, edges);
        s = lightOf(picture, width, height, column + 1, row + 1, edges);
      }
      const upper = f32x4.add(p, f32x4.mul(f32x4.sub(q, p), sx));
      const lower = f32x4.add(r, f32x4.mul(f32x4.sub(s, r), sx));
      v128.store(to, f32x4.add(v128.load(to), f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), sy))));
    }
  }
}

/**
 * What `count` pictures have added up to, as premultiplied RGBA bytes of display light: colours are what they are without their alpha.
 * `display` holds a byte for each of 4096 even steps of the square root of linear light.
 */
export function fromLight(sum: usize, n: i32, count: i32, display: usize, out: usize): void {
  const whole = <f32>count * 65535;
  for (let i: usize = 0; i < <usize>n; i++) {
    const from = sum + (i << 4);
    const to = out + (i << 2);
    const alpha = load<f32>(from, 12);
    if (alpha <= 0) {
      store<u32>(to, 0);
      continue;
    }
    const share: f32 = min<f32>(1, alpha / whole);
    const scale: f32 = 1 / alpha;
    for (let c: usize = 0; c < 3; c++) {
      const light = min<f32>(1, load<f32>(from + (c << 2)) * scale);
      const value = <f32>load<u8>(display + <usize>(sqrt<f32>(light) * 4095 + 0.5));
      store<u8>(to + c, <u8>(value * share + 0.5));
    }
    store<u8>(to, <u8>(share * 255 + 0.5), 3);
  }
}
