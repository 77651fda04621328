import { Field, sampledU, sampledV, sampleField } from './field';
import { at, put } from './numbers';
import { Plane } from './plane';

/** Neighbouring places that move this many times as far apart leave a gap between them. */
const TORN: f32 = 3;
/** A place this far beyond the frame's outermost pixel centres was not in it. */
const BEYOND_PX: f32 = 1;
/** As near to the last pixel as four neighbours allow. */
const LAST: f32 = 1.001;

/**
 * Marks in `torn` (a byte a cell of `back`, 0 before) the cells between places which `motion` pulls apart to at least
 * `TORN` times their distance.
 */
export function markTorn(motion: Field, back: Field, torn: usize): void {
  const step = motion.step;
  const width = motion.width;
  for (let row = 0, i = 0; row < motion.height; row++) {
    const y = (<f32>(motion.top + row) + 0.5) * step;
    for (let column = 0; column < width; column++, i++) {
      const x = (<f32>(motion.left + column) + 0.5) * step;
      if (column + 1 < width) markBetween(motion, i, i + 1, x, y, step, 0, back, torn);
      if (row + 1 < motion.height) markBetween(motion, i, i + width, x, y, 0, step, back, torn);
    }
  }
}

function markBetween(motion: Field, i: i32, j: i32, x: f32, y: f32, dx: f32, dy: f32, back: Field, torn: usize): void {
  const u = at(motion.u, i);
  const v = at(motion.v, i);
  const du = at(motion.u, j) - u + dx;
  const dv = at(motion.v, j) - v + dy;
  const squared = du * du + dv * dv;
  if (squared < TORN * TORN * motion.step * motion.step) return;
  const parts = <i32>ceil<f32>((sqrt<f32>(squared) * 2) / back.step);
  for (let k = 1; k < parts; k++) {
    const share = <f32>k / <f32>parts;
    const column = <i32>floor<f32>((x + u + share * du) / back.step) - back.left;
    const row = <i32>floor<f32>((y + v + share * dv) / back.step) - back.top;
    if (column >= 0 && row >= 0 && column < back.width && row < back.height) store<u8>(torn + <usize>(row * back.width + column), 1);
  }
}

/**
 * For the pixels of the picture `to` from (left, top) on, as many as `miss` has, where `wanted` (a byte each) is 1: looks under
 * `back` where they came from in the picture `from`. Both pictures are features, three floats a pixel, of `cover`'s size.
 * Writes the squared difference to `miss` and what `cover` and `other` have there to `covers` and `others`; clears `shown`
 * (a byte each) where it lay beyond the frame or a cell of `back` is `torn`. Unless it is 0, what was found there goes to `colours`,
 * three floats a pixel and one more at the end.
 */
export function explain(
  from: usize,
  to: usize,
  back: Field,
  torn: usize,
  cover: Plane,
  other: Plane,
  left: i32,
  top: i32,
  wanted: usize,
  miss: Plane,
  covers: usize,
  others: usize,
  shown: usize,
  colours: usize,
): void {
  const width = cover.width;
  const lastX = <f32>width - LAST;
  const lastY = <f32>cover.height - LAST;
  const farX = <f32>(width - 1) + BEYOND_PX;
  const farY = <f32>(cover.height - 1) + BEYOND_PX;
  const step = <i32>back.step;
  for (let y = 0, o = 0; y < miss.height; y++) {
    const cells = (y + top) / step - back.top;
    for (let x = 0; x < miss.width; x++, o++) {
      if (load<u8>(wanted + <usize>o) == 0) continue;
      sampleField(back, <f32>(x + left) + 0.5, <f32>(y + top) + 0.5);
      const sx = <f32>(x + left) + sampledU;
      const sy = <f32>(y + top) + sampledV;
      const cell = cells * back.width - back.left + (x + left) / step;
      if (sx < -BEYOND_PX || sy < -BEYOND_PX || sx > farX || sy > farY || load<u8>(torn + <usize>cell) == 1) store<u8>(shown + <usize>o, 0);
      const px = max<f32>(0, min<f32>(lastX, sx));
      const py = max<f32>(0, min<f32>(lastY, sy));
      const column = <i32>px;
      const row = <i32>py;
      const i = row * width + column;
      const fx = px - <f32>column;
      const fy = py - <f32>row;
      const d = fx * fy;
      const c = fy - d;
      const b = fx - d;
      const a = (1 as f32) - fx - c;
      put(covers, o, mixed(cover.data, i, width, a, b, c, d));
      put(others, o, mixed(other.data, i, width, a, b, c, d));
      const p = from + ((<usize>(3 * i)) << 2);
      const q = p + ((<usize>(3 * width)) << 2);
      // the fourth lane is the next pixel's first number, and is left out
      let e = f32x4.mul(f32x4.splat(a), v128.load(p));
      e = f32x4.add(e, f32x4.mul(f32x4.splat(b), v128.load(p, 12)));
      e = f32x4.add(e, f32x4.mul(f32x4.splat(c), v128.load(q)));
      e = f32x4.add(e, f32x4.mul(f32x4.splat(d), v128.load(q, 12)));
      // one number too many, which the next pixel's overwrites
      if (colours != 0) v128.store(colours + ((<usize>(3 * o)) << 2), e);
      e = f32x4.sub(e, v128.load(to + ((<usize>(3 * ((y + top) * width + x + left))) << 2)));
      e = f32x4.mul(e, e);
      put(miss.data, o, f32x4.extract_lane(e, 0) + f32x4.extract_lane(e, 1) + f32x4.extract_lane(e, 2));
    }
  }
}

function mixed(data: usize, i: i32, width: i32, a: f32, b: f32, c: f32, d: f32): f32 {
  return a * at(data, i) + b * at(data, i + 1) + c * at(data, i + width) + d * at(data, i + width + 1);
}

/** Bilinear value at (x, y), pixel centres at +0.5; the edge pixels repeat outwards. */
function sampleBilinear(plane: Plane, x: f32, y: f32): f32 {
  const width = plane.width;
  const px = max<f32>(0, min<f32>(<f32>(width - 1), x - 0.5));
  const py = max<f32>(0, min<f32>(<f32>(plane.height - 1), y - 0.5));
  const column = <i32>px;
  const row = <i32>py;
  const right = column + 1 < width ? 1 : 0;
  const below = row + 1 < plane.height ? width : 0;
  const fx = px - <f32>column;
  const fy = py - <f32>row;
  const i = row * width + column;
  const data = plane.data;
  const upper = at(data, i) + fx * (at(data, i + right) - at(data, i));
  const lower = at(data, i + below) + fx * (at(data, i + below + right) - at(data, i + below));
  return upper + fy * (lower - upper);
}

/**
 * Writes to `warped` and `weight`, of one size, what `luma` (1 / `scale` of the full size, times `gain`) and `cover` have where
 * their pixels, at that size and from (left, top) on, came from under `back`; covered less than half weighs nothing.
 */
export function warp(
  back: Field,
  luma: Plane,
  cover: Plane,
  gain: f32,
  scale: f32,
  left: i32,
  top: i32,
  warped: Plane,
  weight: Plane,
): void {
  const inverse = (1 as f32) / scale;
  for (let y = 0, o = 0; y < warped.height; y++) {
    const py = (<f32>(y + top) + 0.5) * scale;
    for (let x = 0; x < warped.width; x++, o++) {
      const px = (<f32>(x + left) + 0.5) * scale;
      sampleField(back, px, py);
      const qx = px + sampledU;
      const qy = py + sampledV;
      put(warped.data, o, gain * sampleBilinear(luma, qx * inverse, qy * inverse));
      put(weight.data, o, max<f32>(0, sampleBilinear(cover, qx, qy) * 2 - 1));
    }
  }
}

/** Writes to `out`, from (left, top) of the later picture on, what `plane` has where its pixels came from under `back`. */
export function carryPlane(back: Field, plane: Plane, left: i32, top: i32, out: Plane): void {
  for (let y = 0, o = 0; y < out.height; y++) {
    for (let x = 0; x < out.width; x++, o++) {
      const px = <f32>(x + left) + 0.5;
      const py = <f32>(y + top) + 0.5;
      sampleField(back, px, py);
      put(out.data, o, sampleBilinear(plane, px + sampledU, py + sampledV));
    }
  }
}
