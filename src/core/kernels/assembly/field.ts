import { at, clamped, put } from './numbers';

/** Motion on a grid; the same as `FlowField`, laid out for loops. `u`, `v` and `trust` point to 32-bit floats, one a cell. */
@unmanaged
export class Field {
  left: i32;
  top: i32;
  width: i32;
  height: i32;
  step: f32;
  /** 1 / step. */
  inverse: f32;
  u: usize;
  v: usize;
  trust: usize;
}

/** What `sampleField` found. */
export let sampledU: f32 = 0;
export let sampledV: f32 = 0;

/** Flow at full-size position (x, y), bilinear; left in `sampledU` and `sampledV`. */
export function sampleField(field: Field, x: f32, y: f32): void {
  const width = field.width;
  const height = field.height;
  const px = clamped(x * field.inverse - 0.5 - <f32>field.left, <f32>(width - 1));
  const py = clamped(y * field.inverse - 0.5 - <f32>field.top, <f32>(height - 1));
  const left = <i32>px;
  const top = <i32>py;
  const right = left + 1 < width ? 1 : 0;
  const below = top + 1 < height ? width : 0;
  const fx = px - <f32>left;
  const fy = py - <f32>top;
  const i = top * width + left;
  const d = fx * fy;
  const c = fy - d;
  const b = fx - d;
  const a = (1 as f32) - fx - c;
  const u = field.u;
  const v = field.v;
  sampledU = a * at(u, i) + b * at(u, i + right) + c * at(u, i + below) + d * at(u, i + below + right);
  sampledV = a * at(v, i) + b * at(v, i + right) + c * at(v, i + below) + d * at(v, i + below + right);
}

/** Motions further than this from the common one, in pixels, count half in the next round. */
const COMMON_SCALE: f32 = 2.5;
const COMMON_ROUNDS = 5;
/** Cells that are asked, at most about. */
const COMMON_CELLS: f32 = 2000;

/**
 * The affine motion most of the trusted cells share (see `sharedMotion`), by iteratively reweighted least squares, to the six
 * 64-bit floats at `out`: for x and y in full-size pixels.
 */
export function sharedMotion(field: Field, out: usize): void {
  const width = field.width;
  const height = field.height;
  const trust = field.trust;
  const stride = max<i32>(1, <i32>sqrt<f32>(<f32>(width * height) / COMMON_CELLS));
  const scale: f32 = 2 / <f32>max<i32>(width, height);
  const middleX: f32 = 0.5 * <f32>width;
  const middleY: f32 = 0.5 * <f32>height;
  // of positions counted from the middle, half the longer side long
  let a: f64 = 0;
  let b: f64 = 0;
  let c: f64 = 0;
  let d: f64 = 0;
  let e: f64 = 0;
  let f: f64 = 0;
  for (let round = 0; round < COMMON_ROUNDS; round++) {
    let sum: f64 = 1e-9;
    let sx: f64 = 0;
    let sy: f64 = 0;
    let xx: f64 = 0;
    let xy: f64 = 0;
    let yy: f64 = 0;
    let ux: f64 = 0;
    let uy: f64 = 0;
    let u0: f64 = 0;
    let vx: f64 = 0;
    let vy: f64 = 0;
    let v0: f64 = 0;
    for (let row = 0; row < height; row += stride) {
      const y: f64 = (<f32>row + 0.5 - middleY) * scale;
      for (let column = 0, i = row * width; column < width; column += stride, i += stride) {
        let w: f64 = at(trust, i);
        if (w < 0.02) continue;
        const x: f64 = (<f32>column + 0.5 - middleX) * scale;
        const u: f64 = at(field.u, i);
        const v: f64 = at(field.v, i);
        if (round > 0) {
          const du = u - (a * x + b * y + c);
          const dv = v - (d * x + e * y + f);
          w /= 1 + (du * du + dv * dv) / (COMMON_SCALE * COMMON_SCALE);
        }
        const wx = w * x;
        const wy = w * y;
        sum += w;
        sx += wx;
        sy += wy;
        xx += wx * x;
        xy += wx * y;
        yy += wy * y;
        ux += wx * u;
        uy += wy * u;
        u0 += w * u;
        vx += wx * v;
        vy += wy * v;
        v0 += w * v;
      }
    }
    // centred second moments, held up where the trusted cells lie in a line or a spot
    const hold = 0.02 * sum + 1;
    const cxx = xx - (sx * sx) / sum + hold;
    const cxy = xy - (sx * sy) / sum;
    const cyy = yy - (sy * sy) / sum + hold;
    const determinant = cxx * cyy - cxy * cxy;
    const bux = ux - (sx * u0) / sum;
    const buy = uy - (sy * u0) / sum;
    const bvx = vx - (sx * v0) / sum;
    const bvy = vy - (sy * v0) / sum;
    a = (cyy * bux - cxy * buy) / determinant;
    b = (cxx * buy - cxy * bux) / determinant;
    c = (u0 - a * sx - b * sy) / sum;
    d = (cyy * bvx - cxy * bvy) / determinant;
    e = (cxx * bvy - cxy * bvx) / determinant;
    f = (v0 - d * sx - e * sy) / sum;
  }
  const perPixel: f64 = scale / field.step;
  const x0: f64 = (<f32>field.left + middleX) * field.step;
  const y0: f64 = (<f32>field.top + middleY) * field.step;
  store<f64>(out, a * perPixel);
  store<f64>(out, b * perPixel, 8);
  store<f64>(out, c - a * perPixel * x0 - b * perPixel * y0, 16);
  store<f64>(out, d * perPixel, 24);
  store<f64>(out, e * perPixel, 32);
  store<f64>(out, f - d * perPixel * x0 - e * perPixel * y0, 40);
}

/** Adds the affine motion at `motion` (six 64-bit floats), times `sign`, in every cell. */
export function addMotion(field: Field, motion: usize, sign: f64): void {
  const step: f64 = field.step;
  const a = sign * load<f64>(motion);
  const b = sign * load<f64>(motion, 8);
  const c = sign * load<f64>(motion, 16);
  const d = sign * load<f64>(motion, 24);
  const e = sign * load<f64>(motion, 32);
  const f = sign * load<f64>(motion, 40);
  const u = field.u;
  const v = field.v;
  for (let row = 0, i = 0; row < field.height; row++) {
    const y = (<f64>(field.top + row) + 0.5) * step;
    for (let column = 0; column < field.width; column++, i++) {
      const x = (<f64>(field.left + column) + 0.5) * step;
      put(u, i, at(u, i) + <f32>(a * x + b * y + c));
      put(v, i, at(v, i) + <f32>(d * x + e * y + f));
    }
  }
}

/** Lowers the trust of cells that move otherwise than by `motion`; half of it stays at a difference of `half` pixels. */
export function doubtUnexpected(field: Field, motion: usize, half: f64): void {
  addMotion(field, motion, -1);
  const n = field.width * field.height;
  const scale = <f32>(1 / (half * half));
  for (let i = 0; i < n; i++) {
    const du = at(field.u, i);
    const dv = at(field.v, i);
    const off = (du * du + dv * dv) * scale;
    put(field.trust, i, at(field.trust, i) / (1 + off * off));
  }
  addMotion(field, motion, 1);
}

/** Newton steps that settle a motion from a neighbour's, and from none. */
const FROM_NEAR = 3;
const FROM_NOTHING = 12;
/** Where a motion folds the picture more than this, its slope leads nowhere. */
const LEAST_AREA: f32 = 0.2;

/** Fills `out` with the motion the other way: solves p + field(p) = q for each of its places q by Newton steps. */
export function invertField(field: Field, out: Field): void {
  const step = field.step;
  const inverse = field.inverse;
  for (let y = 0, i = 0; y < out.height; y++) {
    for (let x = 0; x < out.width; x++, i++) {
      const qx = (<f32>(out.left + x) + 0.5) * out.step;
      const qy = (<f32>(out.top + y) + 0.5) * out.step;
      // its neighbour's motion is nearly its own
      const near = x > 0 ? i - 1 : i - out.width;
      let px = near < 0 ? qx : qx + at(out.u, near);
      let py = near < 0 ? qy : qy + at(out.v, near);
      for (let round = near < 0 ? FROM_NOTHING : FROM_NEAR; round > 0; round--) {
        sampleField(field, px, py);
        const u = sampledU;
        const v = sampledV;
        sampleField(field, px + step, py);
        const a = (1 as f32) + (sampledU - u) * inverse;
        const c = (sampledV - v) * inverse;
        sampleField(field, px, py + step);
        const b = (sampledU - u) * inverse;
        const d = (1 as f32) + (sampledV - v) * inverse;
        const missX = px + u - qx;
        const missY = py + v - qy;
        const area = a * d - b * c;
        if (area > LEAST_AREA) {
          px -= (d * missX - b * missY) / area;
          py -= (a * missY - c * missX) / area;
        } else {
          px -= missX;
          py -= missY;
        }
      }
      put(out.u, i, px - qx);
      put(out.v, i, py - qy);
    }
  }
}

/** Fills `out`, on the cells of `first`, with the motion that does `first`, then `second`, whose origin lies at (x, y) of `first`'s picture. */
export function chainFields(first: Field, second: Field, x: f32, y: f32, out: Field): void {
  for (let row = 0, i = 0; row < first.height; row++) {
    const py = (<f32>(first.top + row) + 0.5) * first.step - y;
    for (let column = 0; column < first.width; column++, i++) {
      const u = at(first.u, i);
      const v = at(first.v, i);
      sampleField(second, (<f32>(first.left + column) + 0.5) * first.step - x + u, py + v);
      put(out.u, i, u + sampledU);
      put(out.v, i, v + sampledV);
    }
  }
}
