import { at, put } from './numbers';
import { Plane } from './plane';

/**
 * Mean over the (2·radius + 1)² box around each pixel, by running sums; near the border over the part inside. In place.
 * `scratch` holds as many numbers as the plane and a row more.
 */
export function boxBlur(plane: Plane, radius: i32, scratch: usize): void {
  const width = plane.width;
  const height = plane.height;
  const bytes = (<usize>width) << 2;
  const rows = scratch + bytes;
  for (let y = 0; y < height; y++) blurRow(plane.data + <usize>y * bytes, width, radius, rows + <usize>y * bytes);
  memory.fill(scratch, 0, bytes);
  for (let y = -radius; y < height; y++) {
    if (y + radius < height) addRow(scratch, rows + <usize>(y + radius) * bytes, width, 1);
    if (y < 0) continue;
    if (y > radius) addRow(scratch, rows + <usize>(y - radius - 1) * bytes, width, -1);
    const inverse = (1 as f32) / <f32>(min<i32>(height - 1, y + radius) - max<i32>(0, y - radius) + 1);
    const out = plane.data + <usize>y * bytes;
    const scale = f32x4.splat(inverse);
    let x = 0;
    for (let o: usize = 0; x + 4 <= width; x += 4, o += 16) v128.store(out + o, f32x4.mul(v128.load(scratch + o), scale));
    for (; x < width; x++) put(out, x, at(scratch, x) * inverse);
  }
}

function addRow(sums: usize, row: usize, width: i32, sign: f32): void {
  const s = f32x4.splat(sign);
  let x = 0;
  for (let o: usize = 0; x + 4 <= width; x += 4, o += 16)
    v128.store(sums + o, f32x4.add(v128.load(sums + o), f32x4.mul(s, v128.load(row + o))));
  for (; x < width; x++) put(sums, x, at(sums, x) + sign * at(row, x));
}

function blurRow(from: usize, width: i32, radius: i32, out: usize): void {
  const last = width - 1;
  let sum: f64 = 0;
  for (let x = 0; x < min<i32>(radius, width); x++) sum += at(from, x);
  let x = 0;
  // first where the box begins beyond the border, then where it lies within, then where it ends beyond
  for (; x <= min<i32>(radius, last); x++) {
    if (x + radius <= last) sum += at(from, x + radius);
    put(out, x, <f32>(sum / <f64>(min<i32>(last, x + radius) + 1)));
  }
  const inverse = (1 as f64) / <f64>(2 * radius + 1);
  for (; x + radius <= last; x++) {
    sum += <f64>at(from, x + radius) - <f64>at(from, x - radius - 1);
    put(out, x, <f32>(sum * inverse));
  }
  for (; x <= last; x++) {
    sum -= at(from, x - radius - 1);
    put(out, x, <f32>(sum / <f64>(last - x + radius + 1)));
  }
}
