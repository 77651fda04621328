import { double } from './numbers';

// Coverage, a byte a pixel, of polygons.

/** Adds `value` to a cell of `deltas` and marks its column. */
function addTo(deltas: usize, marks: usize, column: i32, value: f64): void {
  const cell = deltas + ((<usize>column) << 3);
  store<f64>(cell, load<f64>(cell) + value);
  const word = marks + ((<usize>(column >> 6)) << 3);
  store<u64>(word, load<u64>(word) | ((<u64>1) << ((<u64>column) & 63)));
}

/** A straight piece within one row, from x = `from` to x = `to`, worth `cover` of the row's height. */
function addPiece(deltas: usize, marks: usize, width: i32, from: f64, to: f64, cover: f64): void {
  let left = min<f64>(from, to);
  const right = max<f64>(from, to);
  if (left >= <f64>width) return;
  if (right <= 0) {
    addTo(deltas, marks, 0, cover);
    return;
  }
  const perX = right > left ? cover / (right - left) : 0;
  if (perX == 0) {
    left = max<f64>(0, left);
    const column = <i32>left;
    addTo(deltas, marks, column, cover * (<f64>(column + 1) - left));
    addTo(deltas, marks, column + 1, cover * (left - <f64>column));
    return;
  }
  if (left < 0) {
    addTo(deltas, marks, 0, perX * -left);
    left = 0;
  }
  const end = min<f64>(right, <f64>width);
  while (left < end) {
    const column = <i32>left;
    const stop = min<f64>(<f64>(column + 1), end);
    const share = perX * (stop - left);
    const mean = (left + stop) / 2 - <f64>column;
    addTo(deltas, marks, column, share * (1 - mean));
    addTo(deltas, marks, column + 1, share * mean);
    left = stop;
  }
}

/** Words of marks that a row of `width` pixels has. */
function markWords(width: i32): i32 {
  return (width + 64) / 64;
}

/** Rows that are worked on together, so that what is noted of them stays near. */
const STRIP: i32 = 64;

/** Adds what a polygon of `count` corners has in rows `first` to `end`: what each pixel adds to itself and to all to its right. */
function addSides(points: usize, count: i32, width: i32, first: i32, end: i32, deltas: usize, marks: usize): void {
  const words = markWords(width);
  for (let i = 0; i < count; i++) {
    const j = i + 1 < count ? i + 1 : 0;
    const down = double(points, 2 * j + 1) > double(points, 2 * i + 1);
    const upper = down ? i : j;
    const lower = down ? j : i;
    const x = double(points, 2 * upper);
    const y = double(points, 2 * upper + 1);
    const bottom = double(points, 2 * lower + 1);
    if (y == bottom) continue;
    const slope = (double(points, 2 * lower) - x) / (bottom - y);
    const past = min<f64>(bottom, <f64>end);
    const sign: f64 = down ? 1 : -1;
    for (let at = max<f64>(y, <f64>first); at < past;) {
      const row = <i32>at;
      const next = min<f64>(<f64>(row + 1), past);
      addPiece(
        deltas + ((<usize>((row - first) * (width + 1))) << 3),
        marks + ((<usize>((row - first) * words)) << 3),
        width,
        x + slope * (at - y),
        x + slope * (next - y),
        sign * (next - at),
      );
      at = next;
    }
  }
}

/** Writes a row's coverage from what its cells add up to, which become 0. */
function coverRow(cells: usize, marks: usize, width: i32, out: usize): void {
  let sum: f64 = 0;
  let value: u8 = 0;
  let x = 0;
  for (let w = 0; w < markWords(width); w++) {
    const word = marks + ((<usize>w) << 3);
    let bits = load<u64>(word);
    store<u64>(word, 0);
    while (bits != 0) {
      const column = w * 64 + <i32>ctz(bits);
      bits &= bits - 1;
      const cell = cells + ((<usize>column) << 3);
      const delta = load<f64>(cell);
      store<f64>(cell, 0);
      if (column >= width) continue;
      if (column > x) memory.fill(out + x, value, column - x);
      sum += delta;
      const cover = abs<f64>(sum);
      value = cover >= 1 ? 255 : <u8>(255 * cover + 0.5);
      store<u8>(out + column, value);
      x = column + 1;
    }
  }
  if (x < width) memory.fill(out + x, value, width - x);
}

/**
 * Writes the exact area of each pixel inside a polygon of `count` corners (x, y as doubles, closed by itself) as coverage into `out`. Loops that overlap
 * in the same direction count once. Scratch, all 0 before and after: `deltas`, 64 rows of `width` + 1 doubles, and `marks`, a bit for each of those, 8
 * bytes for 64 columns.
 */
export function fillPolygon(points: usize, count: i32, width: i32, height: i32, deltas: usize, marks: usize, out: usize): void {
  const words = markWords(width);
  for (let first = 0; first < height; first += STRIP) {
    const end = min<i32>(height, first + STRIP);
    addSides(points, count, width, first, end, deltas, marks);
    for (let row = 0; row < end - first; row++, out += width)
      coverRow(deltas + ((<usize>(row * (width + 1))) << 3), marks + ((<usize>(row * words)) << 3), width, out);
  }
}

/** The same area, in pixels, without rounding to 8 bits. */
export function polygonArea(points: usize, count: i32, width: i32, height: i32, deltas: usize, marks: usize): f64 {
  const words = markWords(width);
  let total: f64 = 0;
  for (let first = 0; first < height; first += STRIP) {
    const end = min<i32>(height, first + STRIP);
    addSides(points, count, width, first, end, deltas, marks);
    for (let row = 0; row < end - first; row++) {
      let sum: f64 = 0;
      for (let x = 0; x <= width; x++) {
        const cell = deltas + ((<usize>(row * (width + 1) + x)) << 3);
        sum += load<f64>(cell);
        store<f64>(cell, 0);
        if (x < width) total += min<f64>(1, abs<f64>(sum));
      }
      memory.fill(marks + ((<usize>(row * words)) << 3), 0, (<usize>words) << 3);
    }
  }
  return total;
}

/** Squares of lengths that are further away than anything is asked for. */
const FAR: f32 = 1e12;

/** Lowers `distances` (squared) to the side's, for centres of pixels within `reach` of it, in rows `first` to `end`. */
function nearSide(x0: f64, y0: f64, x1: f64, y1: f64, reach: f64, width: i32, first: i32, end: i32, distances: usize): void {
  const dx = x1 - x0;
  const dy = y1 - y0;
  const squaredLength = dx * dx + dy * dy;
  const inverse = squaredLength > 0 ? 1 / squaredLength : 0;
  const firstRow = <i32>max<f64>(<f64>first, Math.ceil(min<f64>(y0, y1) - reach - 0.5));
  const lastRow = <i32>min<f64>(<f64>(end - 1), Math.floor(max<f64>(y0, y1) + reach - 0.5));
  for (let row = firstRow; row <= lastRow; row++) {
    const py = <f64>row + 0.5 - y0;
    // the part of the side whose y lies within reach of this row bounds the columns to visit
    const u = dy == 0 ? 0 : (py - reach) / dy;
    const v = dy == 0 ? 1 : (py + reach) / dy;
    const xa = x0 + dx * max<f64>(0, min<f64>(1, min<f64>(u, v)));
    const xb = x0 + dx * max<f64>(0, min<f64>(1, max<f64>(u, v)));
    const left = <i32>max<f64>(0, Math.ceil(min<f64>(xa, xb) - reach - 0.5));
    const right = <i32>min<f64>(<f64>(width - 1), Math.floor(max<f64>(xa, xb) + reach - 0.5));
    const columns = f64x2.replace_lane(f64x2.splat(0), 1, 1);
    const down = f64x2.splat(py * dy);
    for (let x = left; x <= right; x += 2) {
      const px = f64x2.add(f64x2.splat(<f64>x + 0.5 - x0), columns);
      const along = f64x2.mul(f64x2.add(f64x2.mul(px, f64x2.splat(dx)), down), f64x2.splat(inverse));
      const t = f64x2.max(f64x2.splat(0), f64x2.min(f64x2.splat(1), along));
      const ex = f64x2.sub(px, f64x2.mul(t, f64x2.splat(dx)));
      const ey = f64x2.sub(f64x2.splat(py), f64x2.mul(t, f64x2.splat(dy)));
      const squared = f32x4.demote_f64x2_zero(f64x2.add(f64x2.mul(ex, ex), f64x2.mul(ey, ey)));
      const at = distances + ((<usize>((row - first) * width + x)) << 2);
      store<f32>(at, min<f32>(load<f32>(at), f32x4.extract_lane(squared, 0)));
      if (x < right) store<f32>(at, min<f32>(load<f32>(at, 4), f32x4.extract_lane(squared, 1)), 4);
    }
  }
}

/** Adds a side's crossings of the rows of pixels' centres, `first` to `end`, to the winding numbers. */
function windSide(x0: f64, y0: f64, x1: f64, y1: f64, width: i32, first: i32, end: i32, winding: usize): void {
  if (y0 == y1) return;
  const sign: i16 = y1 > y0 ? 1 : -1;
  const from = <i32>max<f64>(<f64>first, Math.ceil(min<f64>(y0, y1) - 0.5));
  const last = <i32>min<f64>(<f64>(end - 1), Math.ceil(max<f64>(y0, y1) - 0.5) - 1);
  const slope = (x1 - x0) / (y1 - y0);
  for (let row = from; row <= last; row++) {
    const x = x0 + slope * (<f64>row + 0.5 - y0);
    const column = <i32>max<f64>(0, min<f64>(<f64>width, Math.ceil(x - 0.5)));
    const at = winding + ((<usize>((row - first) * (width + 1) + column)) << 1);
    store<i16>(at, load<i16>(at) + sign);
  }
}

/** Writes a row's ramp from its distances and winding numbers. */
function rampRow(distances: usize, winding: usize, width: i32, grow: f64, ramp: f64, out: usize): void {
  let wind = 0;
  const far = f32x4.splat(FAR);
  for (let x = 0; x < width; x++) {
    // four at once where no side is near
    if (x + 4 <= width && v128.any_true(v128.load64_zero(winding + ((<usize>x) << 1))) == false) {
      if (i32x4.all_true(f32x4.eq(v128.load(distances + ((<usize>x) << 2)), far))) {
        store<u32>(out + x, wind == 0 ? 0 : 0xffffffff);
        x += 3;
        continue;
      }
    }
    wind += <i32>load<i16>(winding + ((<usize>x) << 1));
    const squared = load<f32>(distances + ((<usize>x) << 2));
    if (squared == FAR) {
      // further away than the ramp and what it is moved by
      store<u8>(out + x, wind == 0 ? 0 : 255);
      continue;
    }
    const distance = Math.sqrt(<f64>squared);
    const cover = 0.5 + ((wind == 0 ? -distance : distance) + grow) / ramp;
    store<u8>(out + x, cover <= 0 ? 0 : cover >= 1 ? 255 : <u8>(255 * cover + 0.5));
  }
}

/**
 * Writes a ramp of the true distance to a polygon's sides into `out`: half covered where it is moved outwards by `grow`, from nothing to full
 * over `ramp` pixels. Scratch: `distances`, 64 rows of `width` floats and four more, `winding`, 64 rows of `width` + 1 words of 16 bits and four more.
 */
export function fillRamp(
  points: usize,
  count: i32,
  grow: f64,
  ramp: f64,
  width: i32,
  height: i32,
  distances: usize,
  winding: usize,
  out: usize,
): void {
  const reach = ramp / 2 + abs<f64>(grow) + 1;
  const far = f32x4.splat(FAR);
  for (let first = 0; first < height; first += STRIP) {
    const end = min<i32>(height, first + STRIP);
    const past = distances + ((<usize>((end - first) * width)) << 2);
    for (let at = distances; at < past; at += 16) v128.store(at, far);
    memory.fill(winding, 0, (<usize>((end - first) * (width + 1))) << 1);
    for (let i = 0; i < count; i++) {
      const j = i + 1 < count ? i + 1 : 0;
      const x0 = double(points, 2 * i);
      const y0 = double(points, 2 * i + 1);
      const x1 = double(points, 2 * j);
      const y1 = double(points, 2 * j + 1);
      nearSide(x0, y0, x1, y1, reach, width, first, end, distances);
      windSide(x0, y0, x1, y1, width, first, end, winding);
    }
    for (let row = 0; row < end - first; row++, out += width)
      rampRow(distances + ((<usize>(row * width)) << 2), winding + ((<usize>(row * (width + 1))) << 1), width, grow, ramp, out);
  }
}
