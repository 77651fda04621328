/**
 * A picture of `n` RGBA bytes, as far as `coverage` (a byte a pixel) leaves it, as premultiplied linear light: four floats a pixel, each 0..65535.
 * `linear` holds 16 bits for each byte.
 */
export function toLight(picture: usize, coverage: usize, n: i32, linear: usize, out: usize): void {
  for (let i: usize = 0; i < <usize>n; i++) {
    const pixel = picture + (i << 2);
    const alpha = <u32>load<u8>(pixel, 3) * <u32>load<u8>(coverage + i);
    const to = out + (i << 4);
    if (alpha == 0) {
      v128.store(to, f32x4.splat(0));
      continue;
    }
    const share = <f32>alpha / 65025;
    store<f32>(to, <f32>load<u16>(linear + ((<usize>load<u8>(pixel)) << 1)) * share);
    store<f32>(to, <f32>load<u16>(linear + ((<usize>load<u8>(pixel, 1)) << 1)) * share, 4);
    store<f32>(to, <f32>load<u16>(linear + ((<usize>load<u8>(pixel, 2)) << 1)) * share, 8);
    store<f32>(to, share * 65535, 12);
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
  return column < 0 || row < 0 ? f32x4.splat(0) : v128.load(picture + ((<usize>(row * width + column)) << 4));
}

/** Adds to the pixel `to` what lies at (px, py) of the picture, pixels from its first pixel's centre, also beyond its border. */
function addAt(picture: usize, width: i32, height: i32, edges: i32, px: f64, py: f64, to: usize): void {
  if (!(abs(px) < 1e8 && abs(py) < 1e8)) return;
  const column = <i32>Math.floor(px);
  const row = <i32>Math.floor(py);
  if (edges == 0 && (column < -1 || row < -1 || column >= width || row >= height)) return;
  const sx = f32x4.splat(<f32>(px - <f64>column));
  const sy = f32x4.splat(<f32>(py - <f64>row));
  const p = lightOf(picture, width, height, column, row, edges);
  const q = lightOf(picture, width, height, column + 1, row, edges);
  const r = lightOf(picture, width, height, column, row + 1, edges);
  const s = lightOf(picture, width, height, column + 1, row + 1, edges);
  add(p, q, r, s, sx, sy, to);
}

/** Adds to `to` what lies between four pixels, by shares of the way across and down. */
function add(p: v128, q: v128, r: v128, s: v128, sx: v128, sy: v128, to: usize): void {
  const upper = f32x4.add(p, f32x4.mul(f32x4.sub(q, p), sx));
  const lower = f32x4.add(r, f32x4.mul(f32x4.sub(s, r), sx));
  v128.store(to, f32x4.add(v128.load(to), f32x4.add(upper, f32x4.mul(f32x4.sub(lower, upper), sy))));
}

/** The first column from `left` on, before `right`, on which `start + column·step` lies within 0..`most`; of a step of 0, `left` or `right`. */
function firstWithin(start: f64, step: f64, most: f64, left: i32, right: i32): i32 {
  if (step == 0) return start >= 0 && start < most ? left : right;
  const at = step > 0 ? -start / step : (most - start) / step;
  return max<i32>(left, min<i32>(right, <i32>Math.ceil(max<f64>(-1e9, min<f64>(1e9, at + 1e-6)))));
}

/** The column past the last of those. */
function endWithin(start: f64, step: f64, most: f64, left: i32, right: i32): i32 {
  if (step == 0) return start >= 0 && start < most ? right : left;
  const at = step > 0 ? (most - start) / step : -start / step;
  return max<i32>(left, min<i32>(right, <i32>Math.floor(max<f64>(-1e9, min<f64>(1e9, at - 1e-6)))));
}

/** Places as whole numbers: pixels of 2^32 parts. */
const PARTS: f64 = 4294967296;
const PART: f32 = 1.0 / 16777216.0;

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
  const flat = g == 0 && load<f64>(map, 56) == 0;
  const stride = (<usize>width) << 4;
  for (let y = top; y < bottom; y++) {
    const fy = <f64>y + 0.5;
    const u = a * 0.5 + load<f64>(map, 8) * fy + load<f64>(map, 16);
    const v = d * 0.5 + load<f64>(map, 32) * fy + load<f64>(map, 40);
    const w = g * 0.5 + load<f64>(map, 56) * fy + load<f64>(map, 64);
    const row = sum + ((<usize>(y * outWidth)) << 4);
    if (!flat) {
      for (let x = left; x < right; x++) {
        const depth = w + <f64>x * g;
        if (depth <= 1e-9) continue;
        const inverse = 1 / depth;
        addAt(picture, width, height, edges, (u + <f64>x * a) * inverse - 0.5, (v + <f64>x * d) * inverse - 0.5, row + ((<usize>x) << 4));
      }
      continue;
    }
    if (w <= 1e-9) continue;
    const stepX = a / w;
    const stepY = d / w;
    const startX = u / w - 0.5;
    const startY = v / w - 0.5;
    // between these columns all four pixels about a place lie in the picture
    const first = max<i32>(
      firstWithin(startX, stepX, <f64>(width - 1), left, right),
      firstWithin(startY, stepY, <f64>(height - 1), left, right),
    );
    const end = min<i32>(endWithin(startX, stepX, <f64>(width - 1), left, right), endWithin(startY, stepY, <f64>(height - 1), left, right));
    const inner = max<i32>(first, end);
    for (let x = left; x < min<i32>(first, right); x++)
      addAt(picture, width, height, edges, startX + <f64>x * stepX, startY + <f64>x * stepY, row + ((<usize>x) << 4));
    let px = <i64>((startX + <f64>first * stepX) * PARTS);
    let py = <i64>((startY + <f64>first * stepY) * PARTS);
    const acrossX = <i64>(stepX * PARTS);
    const acrossY = <i64>(stepY * PARTS);
    let to = row + ((<usize>first) << 4);
    for (let x = first; x < end; x++, px += acrossX, py += acrossY, to += 16) {
      const at = picture + <usize>(<i32>(py >> 32)) * stride + ((<usize>(<i32>(px >> 32))) << 4);
      const sx = f32x4.splat(<f32>((<i32>(px >> 8)) & 0xffffff) * PART);
      const sy = f32x4.splat(<f32>((<i32>(py >> 8)) & 0xffffff) * PART);
      add(v128.load(at), v128.load(at + 16), v128.load(at + stride), v128.load(at + stride + 16), sx, sy, to);
    }
    for (let x = inner; x < right; x++)
      addAt(picture, width, height, edges, startX + <f64>x * stepX, startY + <f64>x * stepY, row + ((<usize>x) << 4));
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
