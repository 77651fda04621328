import { at, clamped, put } from './numbers';
import { Field } from './field';
import { Plane } from './plane';

/**
 * Refines a flow by what both pictures say at every pixel and by its own smoothness: brightness and its slopes stay as they
 * are along the motion, neighbours move alike except at edges (Brox et al. 2004, with the robust penalties and the normalised
 * data terms of Kroeger et al. 2016). Linearised about the flow that is there; solved by over-relaxation.
 */

const EPSILON: f32 = 0.001 * 0.001;
/** Keeps the weight of a difference finite where a picture has no slope, in squared 8-bit steps. */
const FLAT: f32 = 0.1 * 0.1 * 255;
const OVER: f32 = 1.6;

let width = 0;
let height = 0;
let count = 0;
// one number a pixel each
let warped: usize = 0;
let ix: usize = 0;
let iy: usize = 0;
let it: usize = 0;
let ixx: usize = 0;
let ixy: usize = 0;
let iyy: usize = 0;
let ixt: usize = 0;
let iyt: usize = 0;
let baseU: usize = 0;
let baseV: usize = 0;
let nowU: usize = 0;
let nowV: usize = 0;
let pullU: usize = 0;
let pullV: usize = 0;
let holdU: usize = 0;
let holdV: usize = 0;
let a11: usize = 0;
let a12: usize = 0;
let a22: usize = 0;
let b1: usize = 0;
let b2: usize = 0;
let across: usize = 0;
let down: usize = 0;
let seen: usize = 0;

/** Lays the arrays out: 26 numbers a pixel, and rows of zeros where a neighbour may be asked that is not there. */
function lay(scratch: usize): void {
  const size = (<usize>count) << 2;
  const row = ((<usize>width) << 2) + 16;
  memory.fill(scratch, 0, 26 * size + 8 * row);
  let next = scratch + row;
  across = next;
  down = next + size + row;
  next = down + size + row;
  nowU = next;
  nowV = nowU + size + row;
  next = nowV + size + row;
  baseU = next;
  baseV = baseU + size;
  pullU = baseV + size;
  pullV = pullU + size;
  holdU = pullV + size;
  holdV = holdU + size;
  warped = holdV + size;
  ix = warped + size;
  iy = ix + size;
  it = iy + size;
  ixx = it + size;
  ixy = ixx + size;
  iyy = ixy + size;
  ixt = iyy + size;
  iyt = ixt + size;
  a11 = iyt + size;
  a12 = a11 + size;
  a22 = a12 + size;
  b1 = a22 + size;
  b2 = b1 + size;
  seen = b2 + size;
}

/** What the later picture shows where the flow leads; whether that lies inside it. */
function warpAlong(target: Plane, u: usize, v: usize, inverse: f32): void {
  const lastX = <f32>(width - 1);
  const lastY = <f32>(height - 1);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const px = <f32>x + at(u, i) * inverse;
      const py = <f32>y + at(v, i) * inverse;
      put(seen, i, px >= 0 && py >= 0 && px <= lastX && py <= lastY ? 1 : 0);
      const cx = clamped(px, lastX - 0.001);
      const cy = clamped(py, lastY - 0.001);
      const left = <i32>cx;
      const top = <i32>cy;
      const fx = cx - <f32>left;
      const fy = cy - <f32>top;
      const o = top * width + left;
      const upper = at(target.data, o) + fx * (at(target.data, o + 1) - at(target.data, o));
      const lower = at(target.data, o + width) + fx * (at(target.data, o + width + 1) - at(target.data, o + width));
      put(warped, i, upper + fy * (lower - upper));
    }
  }
}

function slopeX(p: usize, x: i32, i: i32): f32 {
  return 0.5 * (at(p, x + 1 < width ? i + 1 : i) - at(p, x > 0 ? i - 1 : i));
}

function slopeY(p: usize, y: i32, i: i32): f32 {
  return 0.5 * (at(p, y + 1 < height ? i + width : i) - at(p, y > 0 ? i - width : i));
}

function differentiate(from: Plane): void {
  const first = from.data;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const ax = slopeX(first, x, i);
      const ay = slopeY(first, y, i);
      const bx = slopeX(warped, x, i);
      const by = slopeY(warped, y, i);
      put(ix, i, 0.5 * (ax + bx));
      put(iy, i, 0.5 * (ay + by));
      put(it, i, at(warped, i) - at(first, i));
      put(ixt, i, bx - ax);
      put(iyt, i, by - ay);
    }
  }
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      put(ixx, i, slopeX(ix, x, i));
      put(ixy, i, slopeY(ix, y, i));
      put(iyy, i, slopeY(iy, y, i));
    }
  }
}

/** The equations of every pixel for a step from where the flow is, weighted by how well the step before fitted. */
function equate(delta: f32, gamma: f32): void {
  for (let i = 0; i < count; i++) {
    if (at(seen, i) == 0) {
      put(a11, i, 0);
      put(a12, i, 0);
      put(a22, i, 0);
      put(b1, i, 0);
      put(b2, i, 0);
      continue;
    }
    const x = at(ix, i);
    const y = at(iy, i);
    const t = at(it, i);
    const stepU = at(nowU, i) - at(baseU, i);
    const stepV = at(nowV, i) - at(baseV, i);
    let norm: f32 = 1 / (x * x + y * y + FLAT);
    let rest = t + x * stepU + y * stepV;
    let weight: f32 = (delta * norm) / sqrt<f32>(rest * rest * norm + EPSILON);
    let p11 = weight * x * x;
    let p12 = weight * x * y;
    let p22 = weight * y * y;
    let q1 = -weight * x * t;
    let q2 = -weight * y * t;
    const xx = at(ixx, i);
    const xy = at(ixy, i);
    const yy = at(iyy, i);
    const xt = at(ixt, i);
    const yt = at(iyt, i);
    const normX: f32 = 1 / (xx * xx + xy * xy + FLAT);
    const normY: f32 = 1 / (xy * xy + yy * yy + FLAT);
    const restX = xt + xx * stepU + xy * stepV;
    const restY = yt + xy * stepU + yy * stepV;
    weight = gamma / sqrt<f32>(restX * restX * normX + restY * restY * normY + EPSILON);
    const wx = weight * normX;
    const wy = weight * normY;
    p11 += wx * xx * xx + wy * xy * xy;
    p12 += wx * xx * xy + wy * xy * yy;
    p22 += wx * xy * xy + wy * yy * yy;
    q1 -= wx * xx * xt + wy * xy * yt;
    q2 -= wx * xy * xt + wy * yy * yt;
    put(a11, i, p11);
    put(a12, i, p12);
    put(a22, i, p22);
    put(b1, i, q1);
    put(b2, i, q2);
  }
}

/** How much each pixel holds to the next one across and down: little where motion has an edge. */
function hold(alpha: f32): void {
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const u = at(nowU, i);
      const v = at(nowV, i);
      const isInX = x + 1 < width;
      const isInY = y + 1 < height;
      const ux: f32 = isInX ? at(nowU, i + 1) - u : 0;
      const vx: f32 = isInX ? at(nowV, i + 1) - v : 0;
      const uy: f32 = isInY ? at(nowU, i + width) - u : 0;
      const vy: f32 = isInY ? at(nowV, i + width) - v : 0;
      const weight = alpha / sqrt<f32>(ux * ux + vx * vx + uy * uy + vy * vy + EPSILON);
      put(across, i, isInX ? weight : 0);
      put(down, i, isInY ? weight : 0);
    }
  }
}

/**
 * What stays the same through the rounds of relaxation: what a pixel's own equations pull its whole motion to, and the inverses of all
 * that holds it.
 */
function prepare(): void {
  for (let i = 0; i < count; i++) {
    const sum = at(across, i) + at(across, i - 1) + at(down, i) + at(down, i - width);
    const p = at(a11, i);
    const q = at(a22, i);
    const r = at(a12, i);
    const u = at(baseU, i);
    const v = at(baseV, i);
    put(pullU, i, at(b1, i) + p * u + r * v);
    put(pullV, i, at(b2, i) + r * u + q * v);
    put(holdU, i, OVER / (p + sum + HELD));
    put(holdV, i, OVER / (q + sum + HELD));
  }
}

/** Holds a pixel that nothing else does, a little. */
const HELD: f32 = 0.00001;

/** Four pixels of a row, of which those that `mask` has take a step. */
function relaxFour(o: usize, mask: v128): void {
  const row = (<usize>width) << 2;
  const left = v128.load(across + o - 4);
  const right = v128.load(across + o);
  const above = v128.load(down + o - row);
  const below = v128.load(down + o);
  const cross = v128.load(a12 + o);
  const u = v128.load(nowU + o);
  const v = v128.load(nowV + o);
  let sum = f32x4.add(f32x4.mul(left, v128.load(nowU + o - 4)), f32x4.mul(right, v128.load(nowU + o + 4)));
  sum = f32x4.add(sum, f32x4.add(f32x4.mul(above, v128.load(nowU + o - row)), f32x4.mul(below, v128.load(nowU + o + row))));
  sum = f32x4.sub(f32x4.add(sum, v128.load(pullU + o)), f32x4.mul(cross, v));
  const stay = f32x4.splat(1 - OVER);
  const nextU = v128.bitselect(f32x4.add(f32x4.mul(stay, u), f32x4.mul(sum, v128.load(holdU + o))), u, mask);
  v128.store(nowU + o, nextU);
  sum = f32x4.add(f32x4.mul(left, v128.load(nowV + o - 4)), f32x4.mul(right, v128.load(nowV + o + 4)));
  sum = f32x4.add(sum, f32x4.add(f32x4.mul(above, v128.load(nowV + o - row)), f32x4.mul(below, v128.load(nowV + o + row))));
  sum = f32x4.sub(f32x4.add(sum, v128.load(pullV + o)), f32x4.mul(cross, nextU));
  v128.store(nowV + o, v128.bitselect(f32x4.add(f32x4.mul(stay, v), f32x4.mul(sum, v128.load(holdV + o))), v, mask));
}

/** One round of over-relaxation over all pixels: first the one half of a chessboard, then the other. */
function relax(): void {
  const even = i32x4(-1, 0, -1, 0);
  const odd = i32x4(0, -1, 0, -1);
  for (let colour = 0; colour < 2; colour++) {
    for (let y = 0; y < height; y++) {
      const start = y * width;
      const first = ((y + colour) & 1) == 0;
      for (let x = 0; x + 4 <= width; x += 4) relaxFour((<usize>(start + x)) << 2, first ? even : odd);
      const rest = width & 3;
      // the last ones of a row, in a group that reaches back over what is done
      if (rest > 0) {
        const at = width - 4;
        const mask = (first ? 1 : 0) == ((at & 1) == 0 ? 1 : 0) ? even : odd;
        const tail = v128.and(mask, rest == 1 ? i32x4(0, 0, 0, -1) : rest == 2 ? i32x4(0, 0, -1, -1) : i32x4(0, -1, -1, -1));
        relaxFour((<usize>(start + at)) << 2, tail);
      }
    }
  }
}

/**
 * Refines `field`, which covers all of `from` with a cell a pixel, its motion in full-size pixels, against `target`. `rounds` times
 * the equations are set up anew and relaxed `relaxations` times.
 */
export function smoothFlow(
  from: Plane,
  target: Plane,
  field: Field,
  alpha: f32,
  delta: f32,
  gamma: f32,
  rounds: i32,
  relaxations: i32,
  scratch: usize,
): void {
  width = from.width;
  height = from.height;
  count = width * height;
  lay(scratch);
  const inverse = field.inverse;
  warpAlong(target, field.u, field.v, inverse);
  differentiate(from);
  for (let i = 0; i < count; i++) {
    put(baseU, i, at(field.u, i) * inverse);
    put(baseV, i, at(field.v, i) * inverse);
    put(nowU, i, at(baseU, i));
    put(nowV, i, at(baseV, i));
  }
  for (let round = 0; round < rounds; round++) {
    equate(delta, gamma);
    hold(alpha);
    prepare();
    for (let k = 0; k < relaxations; k++) relax();
  }
  for (let i = 0; i < count; i++) {
    put(field.u, i, at(nowU, i) * field.step);
    put(field.v, i, at(nowV, i) * field.step);
  }
}
