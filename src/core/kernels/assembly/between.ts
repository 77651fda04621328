import { at, clamped, put } from './numbers';
import { Field, sampledU, sampledV, sampleField } from './field';
import { Plane } from './plane';

/** Disagreement of both directions, in squared pixels, that halves the trust, and how much more for a motion of a squared pixel. */
const AGREE: f32 = 2;
const AGREE_MOVING: f32 = 0.01;
/** Weight that makes a cell of the middle known. */
const LEAST: f32 = 0.05;

/** About e to the −x, for x of 0 and more. */
function falling(x: f32): f32 {
  return 1 / (1 + x * (1 + x * (0.5 + x * <f32>(1.0 / 6.0))));
}

function sampled(plane: Plane, px: f32, py: f32): f32 {
  const x = clamped(px, <f32>(plane.width - 1) - 0.001);
  const y = clamped(py, <f32>(plane.height - 1) - 0.001);
  const left = <i32>x;
  const top = <i32>y;
  const fx = x - <f32>left;
  const fy = y - <f32>top;
  const o = top * plane.width + left;
  const upper = at(plane.data, o) + fx * (at(plane.data, o + 1) - at(plane.data, o));
  const lower = at(plane.data, o + plane.width) + fx * (at(plane.data, o + plane.width + 1) - at(plane.data, o + plane.width));
  return upper + fy * (lower - upper);
}

/**
 * Carries the motion of `flow` from its own picture `share` of the way along itself: `out` gets, for places between the pictures,
 * the whole motion of what comes by there, and in its trust how much of it is known. Several that meet are weighed by how well
 * both pictures and the flow the other way, `back`, agree on them (Niklaus & Liu 2020); a difference in brightness of `scale` makes
 * that e times less. `from` and `to` are the pictures at the size of the field's cells; `agreed` gets a number a cell, 0 before: how
 * well both directions agree on what comes by there, 0..1.
 */
export function splatFlow(from: Plane, to: Plane, flow: Field, back: Field, share: f32, scale: f32, agreed: usize, out: Field): void {
  const width = flow.width;
  const height = flow.height;
  const inverse = flow.inverse;
  const step = flow.step;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const u = at(flow.u, i);
      const v = at(flow.v, i);
      sampleField(back, (<f32>x + 0.5) * step + u, (<f32>y + 0.5) * step + v);
      const du = u + sampledU;
      const dv = v + sampledV;
      const toX = <f32>x + u * inverse;
      const toY = <f32>y + v * inverse;
      const differs = abs<f32>(sampled(to, toX, toY) - at(from.data, i));
      const agree: f32 = 1 / (1 + (du * du + dv * dv) / (AGREE + AGREE_MOVING * (u * u + v * v)));
      let trust: f32 = falling(differs / scale) * agree;
      if (toX < 0 || toY < 0 || toX > <f32>(width - 1) || toY > <f32>(height - 1)) trust *= 0.3;
      const weight: f32 = 0.001 + trust * trust;
      const px = <f32>x + share * u * inverse;
      const py = <f32>y + share * v * inverse;
      const left = <i32>floor<f32>(px);
      const top = <i32>floor<f32>(py);
      const fx = px - <f32>left;
      const fy = py - <f32>top;
      for (let k = 0; k < 4; k++) {
        const column = left + (k & 1);
        const row = top + (k >> 1);
        if (column < 0 || row < 0 || column >= width || row >= height) continue;
        const partX: f32 = k & 1 ? fx : 1 - fx;
        const partY: f32 = k >> 1 ? fy : 1 - fy;
        const w: f32 = weight * partX * partY;
        const o = row * width + column;
        put(out.u, o, at(out.u, o) + w * u);
        put(out.v, o, at(out.v, o) + w * v);
        put(out.trust, o, at(out.trust, o) + w);
        put(agreed, o, at(agreed, o) + w * agree);
      }
    }
  }
  const n = width * height;
  for (let i = 0; i < n; i++) {
    const w = at(out.trust, i);
    if (w <= 0) continue;
    put(out.u, i, at(out.u, i) / w);
    put(out.v, i, at(out.v, i) / w);
    put(agreed, i, at(agreed, i) / w);
    put(out.trust, i, min<f32>(1, w / LEAST));
  }
}

/** How far both pictures differ under a motion through the middle, a number a cell, before it is smoothed. */
export function missAt(from: Plane, to: Plane, middle: Field, share: f32, miss: usize): void {
  const inverse = middle.inverse;
  for (let y = 0, i = 0; y < middle.height; y++) {
    for (let x = 0; x < middle.width; x++, i++) {
      const u = at(middle.u, i) * inverse;
      const v = at(middle.v, i) * inverse;
      const ax = <f32>x - share * u;
      const ay = <f32>y - share * v;
      const bx = <f32>x + (1 - share) * u;
      const by = <f32>y + (1 - share) * v;
      put(miss, i, abs<f32>(sampled(from, ax, ay) - sampled(to, bx, by)));
    }
  }
}

/** The colour of an RGBA picture at (px, py), pixel centres at whole numbers; its edge pixels repeat. */
function colourAt(picture: usize, width: i32, height: i32, px: f32, py: f32): v128 {
  const x = clamped(px, <f32>(width - 1) - 0.001);
  const y = clamped(py, <f32>(height - 1) - 0.001);
  const left = <i32>x;
  const top = <i32>y;
  const fx = f32x4.splat(x - <f32>left);
  const fy = f32x4.splat(y - <f32>top);
  const o = picture + ((<usize>(top * width + left)) << 2);
  const p = o + ((<usize>width) << 2);
  const a = wide(o);
  const b = wide(o + 4);
  const c = wide(p);
  const d = wide(p + 4);
  const upper = f32x4.add(a, f32x4.mul(fx, f32x4.sub(b, a)));
  const lower = f32x4.add(c, f32x4.mul(fx, f32x4.sub(d, c)));
  return f32x4.add(upper, f32x4.mul(fy, f32x4.sub(lower, upper)));
}

/** Four bytes as four floats. */
function wide(p: usize): v128 {
  return f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(i16x8.extend_low_i8x16_u(v128.load32_zero(p))));
}

/** Motions that differ by less, in squared pixels, are the same. */
const SAME: f32 = 0.03;

/** Both pictures at one end of a motion through (x, y), mixed. */
function mixedAt(a: usize, b: usize, width: i32, height: i32, x: i32, y: i32, u: f32, v: f32, share: f32, ofA: v128, ofB: v128): v128 {
  const fromA = colourAt(a, width, height, <f32>x - share * u, <f32>y - share * v);
  const fromB = colourAt(b, width, height, <f32>x + (1 - share) * u, <f32>y + (1 - share) * v);
  return f32x4.add(f32x4.mul(ofA, fromA), f32x4.mul(ofB, fromB));
}

/** Brightness difference, in 8-bit steps, at which one of two motions counts e times less. */
const CHOICE: f32 = 12;

/**
 * The picture `share` of the way from `a` to `b` (RGBA), by two motions through it: `first`, from what `a` shows, and `second`, from
 * what `b` shows, weighed by how far the pictures differ under each (`missFirst`, `missSecond`) and under none (`missStill`).
 * `shownA` and `shownB`, on the cells of the fields, say how much of what each picture shows comes by there.
 */
export function blendBetween(
  a: usize,
  b: usize,
  width: i32,
  height: i32,
  first: Field,
  second: Field,
  share: f32,
  mixed: f32,
  missFirst: Plane,
  missSecond: Plane,
  missStill: Plane,
  shownA: Plane,
  shownB: Plane,
  out: usize,
): void {
  const inverse = first.inverse;
  for (let y = 0; y < height; y++) {
    const cy = (<f32>y + 0.5) * inverse - 0.5;
    for (let x = 0; x < width; x++) {
      const cx = (<f32>x + 0.5) * inverse - 0.5;
      const seenA = sampled(shownA, cx, cy);
      const seenB = sampled(shownB, cx, cy);
      const partA: f32 = (<f32>1 - mixed) * (seenA + <f32>0.001);
      const partB: f32 = mixed * (seenB + <f32>0.001);
      const ofA = f32x4.splat(partA / (partA + partB));
      const ofB = f32x4.splat(partB / (partA + partB));
      const e1 = sampled(missFirst, cx, cy);
      const e2 = sampled(missSecond, cx, cy);
      const e0 = sampled(missStill, cx, cy) + 1.5;
      const least = min<f32>(e1, min<f32>(e2, e0));
      let w1 = falling((e1 - least) / CHOICE);
      let w2 = falling((e2 - least) / CHOICE);
      let w0 = falling((e0 - least) / CHOICE);
      sampleField(first, <f32>x + 0.5, <f32>y + 0.5);
      let u1 = sampledU;
      let v1 = sampledV;
      sampleField(second, <f32>x + 0.5, <f32>y + 0.5);
      // this one leads from b to a
      const u2 = -sampledU;
      const v2 = -sampledV;
      const total = w1 + w2 + w0;
      // motions that are the same need be followed only once
      if ((u1 - u2) * (u1 - u2) + (v1 - v2) * (v1 - v2) < SAME) {
        u1 = 0.5 * (u1 + u2);
        v1 = 0.5 * (v1 + v2);
        w1 += w2;
        w2 = 0;
        if (u1 * u1 + v1 * v1 < SAME) {
          w0 += w1;
          w1 = 0;
        }
      }
      let sum = f32x4.splat(0);
      if (w1 > 0.01) sum = f32x4.add(sum, f32x4.mul(f32x4.splat(w1), mixedAt(a, b, width, height, x, y, u1, v1, share, ofA, ofB)));
      if (w2 > 0.01) sum = f32x4.add(sum, f32x4.mul(f32x4.splat(w2), mixedAt(a, b, width, height, x, y, u2, v2, share, ofA, ofB)));
      if (w0 > 0.01) {
        const o = (<usize>(y * width + x)) << 2;
        const mixture = f32x4.add(f32x4.mul(f32x4.splat(1 - mixed), wide(a + o)), f32x4.mul(f32x4.splat(mixed), wide(b + o)));
        sum = f32x4.add(sum, f32x4.mul(f32x4.splat(w0), mixture));
      }
      const rounded = f32x4.add(f32x4.mul(sum, f32x4.splat(1 / total)), f32x4.splat(0.5));
      const whole = i32x4.trunc_sat_f32x4_u(rounded);
      const narrow = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_u(whole, whole), i16x8.splat(0));
      v128.store32_lane(out + ((<usize>(y * width + x)) << 2), narrow, 0);
    }
  }
}
