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
let du: usize = 0;
let dv: usize = 0;
let a11: usize = 0;
let a12: usize = 0;
let a22: usize = 0;
let b1: usize = 0;
let b2: usize = 0;
let across: usize = 0;
let down: usize = 0;
let seen: usize = 0;

/** How many 32-bit floats a pixel the work needs. */
export const FLOW_SCRATCH = 19;

function lay(scratch: usize): void {
  const size = (<usize>count) << 2;
  warped = scratch;
  ix = warped + size;
  iy = ix + size;
  it = iy + size;
  ixx = it + size;
  ixy = ixx + size;
  iyy = ixy + size;
  ixt = iyy + size;
  iyt = ixt + size;
  du = iyt + size;
  dv = du + size;
  a11 = dv + size;
  a12 = a11 + size;
  a22 = a12 + size;
  b1 = a22 + size;
  b2 = b1 + size;
  across = b2 + size;
  down = across + size;
  seen = down + size;
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
    const stepU = at(du, i);
    const stepV = at(dv, i);
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
function hold(u: usize, v: usize, inverse: f32, alpha: f32): void {
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const u0 = at(u, i) * inverse + at(du, i);
      const v0 = at(v, i) * inverse + at(dv, i);
      let ux: f32 = 0;
      let vx: f32 = 0;
      let uy: f32 = 0;
      let vy: f32 = 0;
      if (x + 1 < width) {
        ux = at(u, i + 1) * inverse + at(du, i + 1) - u0;
        vx = at(v, i + 1) * inverse + at(dv, i + 1) - v0;
      }
      if (y + 1 < height) {
        uy = at(u, i + width) * inverse + at(du, i + width) - u0;
        vy = at(v, i + width) * inverse + at(dv, i + width) - v0;
      }
      const weight = alpha / sqrt<f32>(ux * ux + vx * vx + uy * uy + vy * vy + EPSILON);
      put(across, i, x + 1 < width ? weight : 0);
      put(down, i, y + 1 < height ? weight : 0);
    }
  }
}

/** One round of over-relaxation over all pixels. */
function relax(u: usize, v: usize, inverse: f32): void {
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const u0 = at(u, i) * inverse;
      const v0 = at(v, i) * inverse;
      let sum: f32 = 0;
      let su: f32 = 0;
      let sv: f32 = 0;
      if (x > 0) {
        const w = at(across, i - 1);
        sum += w;
        su += w * (at(u, i - 1) * inverse + at(du, i - 1) - u0);
        sv += w * (at(v, i - 1) * inverse + at(dv, i - 1) - v0);
      }
      if (x + 1 < width) {
        const w = at(across, i);
        sum += w;
        su += w * (at(u, i + 1) * inverse + at(du, i + 1) - u0);
        sv += w * (at(v, i + 1) * inverse + at(dv, i + 1) - v0);
      }
      if (y > 0) {
        const w = at(down, i - width);
        sum += w;
        su += w * (at(u, i - width) * inverse + at(du, i - width) - u0);
        sv += w * (at(v, i - width) * inverse + at(dv, i - width) - v0);
      }
      if (y + 1 < height) {
        const w = at(down, i);
        sum += w;
        su += w * (at(u, i + width) * inverse + at(du, i + width) - u0);
        sv += w * (at(v, i + width) * inverse + at(dv, i + width) - v0);
      }
      const p = at(a11, i) + sum;
      const q = at(a22, i) + sum;
      const newU = at(du, i) + OVER * ((at(b1, i) + su - at(a12, i) * at(dv, i)) / p - at(du, i));
      put(du, i, newU);
      put(dv, i, at(dv, i) + OVER * ((at(b2, i) + sv - at(a12, i) * newU) / q - at(dv, i)));
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
  memory.fill(du, 0, (<usize>count) << 3);
  for (let round = 0; round < rounds; round++) {
    equate(delta, gamma);
    hold(field.u, field.v, inverse, alpha);
    for (let k = 0; k < relaxations; k++) relax(field.u, field.v, inverse);
  }
  for (let i = 0; i < count; i++) {
    put(field.u, i, at(field.u, i) + at(du, i) * field.step);
    put(field.v, i, at(field.v, i) + at(dv, i) * field.step);
  }
}
