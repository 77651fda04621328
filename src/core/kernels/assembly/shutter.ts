// Pictures seen through maps while a shutter is open, added up in linear light. Light is premultiplied, four numbers of 15 bits a pixel.

/** Full light. */
const MOST: i32 = 32767;

/** As much of `light` as `alpha` of 65025 leaves, rounded. */
function part(light: i32, alpha: i32): u64 {
  return <u64>((light * alpha + 32512) / 65025);
}

/**
 * Pixels `from` to `to` of a picture of RGBA bytes, as far as `coverage` (a byte a pixel; 0 for none) leaves it, as light in `out`. `linear` holds
 * 16 bits, 0..32767, for each byte.
 */
export function toLight(picture: usize, coverage: usize, from: i32, to: i32, linear: usize, out: usize): void {
  for (let i = <usize>from; i < <usize>to; i++) {
    const pixel = picture + (i << 2);
    const own = <i32>load<u8>(pixel, 3);
    const alpha = own * (coverage == 0 ? 255 : <i32>load<u8>(coverage + i));
    let light: u64 = 0;
    if (alpha != 0) {
      const r = <i32>load<u16>(linear + ((<usize>load<u8>(pixel)) << 1));
      const g = <i32>load<u16>(linear + ((<usize>load<u8>(pixel, 1)) << 1));
      const b = <i32>load<u16>(linear + ((<usize>load<u8>(pixel, 2)) << 1));
      light =
        alpha == 65025
          ? (<u64>r) | ((<u64>g) << 16) | ((<u64>b) << 32) | ((<u64>MOST) << 48)
          : part(r, alpha) | (part(g, alpha) << 16) | (part(b, alpha) << 32) | (part(MOST, alpha) << 48);
    }
    store<u64>(out + (i << 3), light);
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

function lightOf(light: usize, width: i32, height: i32, x: i32, y: i32, edges: i32): u64 {
  const column = placed(x, width, edges);
  const row = placed(y, height, edges);
  return column < 0 || row < 0 ? 0 : load<u64>(light + ((<usize>(row * width + column)) << 3));
}

/** Shares of two neighbours, `second` of 32767 for the second one, in each lane. */
function sharesOf(second: i32): v128 {
  return i32x4.splat(MOST + second * 65535);
}

/** Adds to the sum `to` what lies between two pixels above (eight numbers) and two below, by shares of 32767 across and down. */
function add(above: v128, below: v128, fx: i32, fy: i32, to: usize): void {
  const shares = sharesOf(fx);
  const half = i32x4.splat(16384);
  const upper = i32x4.shr_u(i32x4.add(i32x4.dot_i16x8_s(i16x8.shuffle(above, above, 0, 4, 1, 5, 2, 6, 3, 7), shares), half), 15);
  const lower = i32x4.shr_u(i32x4.add(i32x4.dot_i16x8_s(i16x8.shuffle(below, below, 0, 4, 1, 5, 2, 6, 3, 7), shares), half), 15);
  const rows = i16x8.narrow_i32x4_s(upper, lower);
  const colour = i32x4.dot_i16x8_s(i16x8.shuffle(rows, rows, 0, 4, 1, 5, 2, 6, 3, 7), sharesOf(fy));
  v128.store(to, i32x4.add(v128.load(to), i32x4.shr_u(colour, 7)));
}

/** Adds to the sum `to` what lies at (px, py) of the picture, pixels from its first pixel's centre, also beyond its border. */
function addAt(light: usize, width: i32, height: i32, edges: i32, px: f64, py: f64, to: usize): void {
  if (!(abs(px) < 1e8 && abs(py) < 1e8)) return;
  const column = <i32>Math.floor(px);
  const row = <i32>Math.floor(py);
  const fx = <i32>((px - <f64>column) * 32767 + 0.5);
  const fy = <i32>((py - <f64>row) * 32767 + 0.5);
  if (<u32>column < <u32>(width - 1) && <u32>row < <u32>(height - 1)) {
    const at = light + ((<usize>(row * width + column)) << 3);
    add(v128.load(at), v128.load(at + ((<usize>width) << 3)), fx, fy, to);
    return;
  }
  if (edges == 0 && (column < -1 || row < -1 || column >= width || row >= height)) return;
  const above = i64x2.splat(lightOf(light, width, height, column, row, edges));
  const below = i64x2.splat(lightOf(light, width, height, column, row + 1, edges));
  add(
    i64x2.replace_lane(above, 1, lightOf(light, width, height, column + 1, row, edges)),
    i64x2.replace_lane(below, 1, lightOf(light, width, height, column + 1, row + 1, edges)),
    fx,
    fy,
    to,
  );
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

/** Mixes `count` pixels of a row with those below them, `share` of 32767 of these, into `out`, which may take one more. */
function mixRows(above: usize, stride: usize, count: i32, share: i32, out: usize): void {
  const shares = sharesOf(share);
  const half = i32x4.splat(16384);
  for (let x = 0; x < count; x += 2, above += 16, out += 16) {
    const upper = v128.load(above);
    const lower = v128.load(above + stride);
    const first = i32x4.dot_i16x8_s(i16x8.shuffle(upper, lower, 0, 8, 1, 9, 2, 10, 3, 11), shares);
    const second = i32x4.dot_i16x8_s(i16x8.shuffle(upper, lower, 4, 12, 5, 13, 6, 14, 7, 15), shares);
    v128.store(out, i16x8.narrow_i32x4_s(i32x4.shr_u(i32x4.add(first, half), 15), i32x4.shr_u(i32x4.add(second, half), 15)));
  }
}

/** Adds `n` pixels from places (px, py) on, steps apart, all of them and those to their right and below inside the picture. */
function addLine(light: usize, stride: usize, px: i64, py: i64, stepX: i64, stepY: i64, n: i32, to: usize): void {
  for (let i = 0; i < n; i++, px += stepX, py += stepY, to += 16) {
    const at = light + <usize>(<i32>(py >> 32)) * stride + ((<usize>(<i32>(px >> 32))) << 3);
    add(v128.load(at), v128.load(at + stride), (<i32>(px >> 17)) & 32767, (<i32>(py >> 17)) & 32767, to);
  }
}

/** Pixels of a row that are taken for evenly spaced in a picture seen at an angle, where they are to a 2048th of a pixel. */
const RUN: i32 = 8;
const UNEVEN: f64 = 1.0 / 2048;

/** Adds `n` pixels of a row, from column `x` on, of a picture turned in space: column c shows ((u + c·a) / (w + c·g), (v + c·d) / (w + c·g)). */
function addTurned(
  light: usize,
  width: i32,
  height: i32,
  edges: i32,
  u: f64,
  a: f64,
  v: f64,
  d: f64,
  w: f64,
  g: f64,
  x: i32,
  n: i32,
  row: usize,
): void {
  const start = w + <f64>x * g;
  const end = w + <f64>(x + n) * g;
  if (start > 1e-6 && end > 1e-6) {
    const nearest = g / min<f64>(start, end);
    const beginX = (u + <f64>x * a) / start - 0.5;
    const beginY = (v + <f64>x * d) / start - 0.5;
    const endX = (u + <f64>(x + n) * a) / end - 0.5;
    const endY = (v + <f64>(x + n) * d) / end - 0.5;
    const leastX = min<f64>(beginX, endX);
    const leastY = min<f64>(beginY, endY);
    const mostX = max<f64>(beginX, endX);
    const mostY = max<f64>(beginY, endY);
    const isInner = leastX >= 0 && leastY >= 0 && mostX < <f64>width - 1.001 && mostY < <f64>height - 1.001;
    if (isInner && <f64>((RUN * RUN) / 4) * nearest * nearest * <f64>(width + height) < UNEVEN) {
      const stepX = <i64>(((endX - beginX) / <f64>n) * PARTS);
      const stepY = <i64>(((endY - beginY) / <f64>n) * PARTS);
      addLine(light, (<usize>width) << 3, <i64>(beginX * PARTS), <i64>(beginY * PARTS), stepX, stepY, n, row + ((<usize>x) << 4));
      return;
    }
    // nothing of it shows here
    if (edges == 0 && (mostX < -1 || mostY < -1 || leastX > <f64>width || leastY > <f64>height)) return;
  }
  for (let c = x; c < x + n; c++) {
    const depth = w + <f64>c * g;
    if (depth <= 1e-9) continue;
    const inverse = 1 / depth;
    addAt(light, width, height, edges, (u + <f64>c * a) * inverse - 0.5, (v + <f64>c * d) * inverse - 0.5, row + ((<usize>c) << 4));
  }
}

/**
 * Adds a row of the picture seen through `map` (see `drawLight`) to `sum`, whose first column is `origin`; columns `left` to `right`. `mixed`: room for a row
 * of the picture.
 */
function addRow(
  light: usize,
  width: i32,
  height: i32,
  edges: i32,
  map: usize,
  y: i32,
  left: i32,
  right: i32,
  origin: i32,
  sum: usize,
  mixed: usize,
): void {
  const a = load<f64>(map);
  const d = load<f64>(map, 24);
  const g = load<f64>(map, 48);
  const fy = <f64>y + 0.5;
  const u = a * 0.5 + load<f64>(map, 8) * fy + load<f64>(map, 16);
  const v = d * 0.5 + load<f64>(map, 32) * fy + load<f64>(map, 40);
  const w = g * 0.5 + load<f64>(map, 56) * fy + load<f64>(map, 64);
  const row = sum - ((<usize>origin) << 4);
  if (g != 0 || load<f64>(map, 56) != 0) {
    for (let x = left; x < right; x += RUN) addTurned(light, width, height, edges, u, a, v, d, w, g, x, min<i32>(RUN, right - x), row);
    return;
  }
  if (w <= 1e-9) return;
  const stride = (<usize>width) << 3;
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
    addAt(light, width, height, edges, startX + <f64>x * stepX, startY + <f64>x * stepY, row + ((<usize>x) << 4));
  let px = <i64>((startX + <f64>first * stepX) * PARTS);
  let py = <i64>((startY + <f64>first * stepY) * PARTS);
  const acrossX = <i64>(stepX * PARTS);
  const acrossY = <i64>(stepY * PARTS);
  let to = row + ((<usize>first) << 4);
  if (acrossY == 0 && end > first) {
    // all of the row lies between two rows of the picture: these are mixed once
    const furthest = px + <i64>(end - 1 - first) * acrossX;
    const from = <i32>(min<i64>(px, furthest) >> 32);
    const count = <i32>(max<i64>(px, furthest) >> 32) + 2 - from;
    mixRows(light + <usize>(<i32>(py >> 32)) * stride + ((<usize>from) << 3), stride, count, (<i32>(py >> 17)) & 32767, mixed);
    const line = mixed - ((<usize>from) << 3);
    for (let x = first; x < end; x++, px += acrossX, to += 16) {
      const pair = v128.load(line + ((<usize>(<i32>(px >> 32))) << 3));
      const colour = i32x4.dot_i16x8_s(i16x8.shuffle(pair, pair, 0, 4, 1, 5, 2, 6, 3, 7), sharesOf((<i32>(px >> 17)) & 32767));
      v128.store(to, i32x4.add(v128.load(to), i32x4.shr_u(colour, 7)));
    }
  } else if (end > first) addLine(light, stride, px, py, acrossX, acrossY, end - first, to);
  for (let x = inner; x < right; x++)
    addAt(light, width, height, edges, startX + <f64>x * stepX, startY + <f64>x * stepY, row + ((<usize>x) << 4));
}

/**
 * Draws a picture of light through each of `count` maps and their mean into `out`, RGBA bytes of the columns and rows `left` to `right`, `top` to
 * `bottom`: colours in display light, premultiplied. What lies behind the eye, where a map's last row gives nothing above 0, is not seen.
 * `maps`: thirteen doubles each, from pixels of the whole output to those of the picture, row by row, and the columns and rows that it may
 * show on as left, top, right, bottom. `display` holds a byte for each of 4096 even steps of the square root of linear light. `closed` holds a byte for each
 * block of 16 pixels of a row of the whole output, `across` of them a row, 255 where it is seen: what lies before the first and after the last such
 * block of a row may be left out, all 0. `scratch`: 16 bytes a column, then 8 a column of the picture, and 32 more.
 */
export function drawLight(
  light: usize,
  width: i32,
  height: i32,
  edges: i32,
  maps: usize,
  count: i32,
  display: usize,
  closed: usize,
  across: i32,
  scratch: usize,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  out: usize,
): void {
  const mixed = scratch + ((<usize>(right - left)) << 4);
  for (let y = top; y < bottom; y++) {
    const row = out + ((<usize>((y - top) * (right - left))) << 2);
    let first = left >> 4;
    let end = (right + 15) >> 4;
    const marks = closed + <usize>(y * across);
    while (first < end && load<u8>(marks + first) != 255) first++;
    while (end > first && load<u8>(marks + end - 1) != 255) end--;
    const from = max<i32>(left, first << 4);
    const to = min<i32>(right, end << 4);
    if (from >= to) {
      memory.fill(row, 0, (<usize>(right - left)) << 2);
      continue;
    }
    memory.fill(scratch, 0, (<usize>(to - from)) << 4);
    for (let i = 0; i < count; i++) {
      const map = maps + <usize>(i * 104);
      if (<f64>y < load<f64>(map, 80) || <f64>y >= load<f64>(map, 96)) continue;
      const begin = max<i32>(from, <i32>load<f64>(map, 72));
      const past = min<i32>(to, <i32>load<f64>(map, 88));
      if (begin < past) addRow(light, width, height, edges, map, y, begin, past, from, scratch, mixed);
    }
    memory.fill(row, 0, (<usize>(from - left)) << 2);
    showRow(scratch, to - from, count, display, row + ((<usize>(from - left)) << 2));
    memory.fill(row + ((<usize>(to - left)) << 2), 0, (<usize>(right - to)) << 2);
  }
}

/** What `count` pictures have added up to in a row of `n`, as bytes. */
function showRow(sum: usize, n: i32, count: i32, display: usize, out: usize): void {
  // full light is 32767² parts, of which seven bits were dropped
  const whole: f32 = <f32>count * 8388095;
  for (let i: usize = 0; i < <usize>n; i++) {
    const from = sum + (i << 4);
    const alpha = <f32>load<i32>(from, 12);
    if (alpha <= 0) {
      store<u32>(out + (i << 2), 0);
      continue;
    }
    const share: f32 = min<f32>(1, alpha / whole);
    const light = f32x4.min(f32x4.splat(1), f32x4.mul(f32x4.convert_i32x4_s(v128.load(from)), f32x4.splat(1 / alpha)));
    const step = i32x4.trunc_sat_f32x4_u(f32x4.add(f32x4.mul(f32x4.sqrt(light), f32x4.splat(4095)), f32x4.splat(0.5)));
    const r = <u32>(<f32>load<u8>(display + <usize>i32x4.extract_lane(step, 0)) * share + 0.5);
    const g = <u32>(<f32>load<u8>(display + <usize>i32x4.extract_lane(step, 1)) * share + 0.5);
    const b = <u32>(<f32>load<u8>(display + <usize>i32x4.extract_lane(step, 2)) * share + 0.5);
    store<u32>(out + (i << 2), r | (g << 8) | (b << 16) | ((<u32>(share * 255 + 0.5)) << 24));
  }
}

/** A picture of `n` RGBA bytes premultiplied, as far as `coverage` (0 for none) leaves it: what `drawLight` gives for a map that changes nothing. */
export function premultiply(picture: usize, coverage: usize, n: i32, out: usize): void {
  for (let i: usize = 0; i < <usize>n; i++) {
    const own = <i32>load<u8>(picture + (i << 2), 3);
    const alpha = own * (coverage == 0 ? 255 : <i32>load<u8>(coverage + i));
    if (alpha == 65025) {
      store<u32>(out + (i << 2), load<u32>(picture + (i << 2)));
      continue;
    }
    const share: f32 = <f32>alpha / 65025;
    for (let c: usize = 0; c < 3; c++) store<u8>(out + (i << 2) + c, <u8>(<f32>load<u8>(picture + (i << 2) + c) * share + 0.5));
    store<u8>(out + (i << 2), <u8>(share * 255 + 0.5), 3);
  }
}
