import { Field, sampledU, sampledV, sampleField } from './field';
import { at, put } from './numbers';
import { Plane } from './plane';

/** Side of a patch, in pixels of its level, and from patch to patch. */
const PATCH = 8;
const STRIDE = 4;
const SIDE: f32 = <f32>PATCH;
/** Bytes of one row of a patch, and of all of it. */
const ROW: usize = 32;
const BYTES: usize = 8 * ROW;
const ROUNDS = 7;
/** A patch of which less than this share belongs to the layer says nothing. */
const LEAST_SHARE: f32 = 0.18;
/** Mean squared difference, in 8-bit steps, at which a match is worth half of a perfect one. */
const HALF_TRUST: f32 = 90;
/** Weight of a difference in brightness beyond what the light may change. */
const LIGHT: f32 = 0.25;
/** Damps the steps of a patch without texture. */
const STIFFNESS: f32 = 240;
/** What a displacement costs against its start, in squared 8-bit steps for a squared pixel: without texture all fit alike. */
const PULL: f32 = 2;
/** Sum of the patches' trust in a pixel below which it is not known where it went. */
const LEAST_TRUST: f32 = 0.2;
/** Starts closer than this, in pixels, are the same. */
const SAME_START: f32 = 0.1;

// The patch in hand: its values and slopes free of their means, its weights, and how far the target differs.
const values = memory.data(256, 16);
const slopesX = memory.data(256, 16);
const slopesY = memory.data(256, 16);
const weights = memory.data(256, 16);
const differences = memory.data(256, 16);
let patchX = 0;
let patchY = 0;
let total: f32 = 0;
let brightness: f32 = 0;
let xx: f32 = 0;
let xy: f32 = 0;
let yy: f32 = 0;
/** Where its search begins. */
let startU: f32 = 0;
let startV: f32 = 0;
/** The displacement asked last, its error, and the difference in brightness there. */
let askedU: f32 = NaN;
let askedV: f32 = NaN;
let asked: f32 = 0;
let shift: f32 = 0;
/** The best start so far and its cost. */
let bestU: f32 = 0;
let bestV: f32 = 0;
let bestCost: f32 = 0;

function sumOf(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + (f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3));
}

function place(plane: Plane, x: i32, y: i32): usize {
  return plane.data + ((<usize>(y * plane.width + x)) << 2);
}

/** Moves to the patch whose first pixel is (x, y); false when too little of it belongs to the layer. */
function take(from: Plane, mask: Plane, x: i32, y: i32): bool {
  const stride = (<usize>from.width) << 2;
  let sum = f32x4.splat(0);
  for (let r = 0, p = place(mask, x, y), o = weights; r < PATCH; r++, p += stride, o += ROW) {
    const left = v128.load(p);
    const right = v128.load(p, 16);
    v128.store(o, left);
    v128.store(o, right, 16);
    sum = f32x4.add(sum, f32x4.add(left, right));
  }
  const all = sumOf(sum);
  if (all < LEAST_SHARE * SIDE * SIDE) return false;
  patchX = x;
  patchY = y;
  total = all;
  askedU = NaN;
  let mean = f32x4.splat(0);
  let meanX = f32x4.splat(0);
  let meanY = f32x4.splat(0);
  const half = f32x4.splat(0.5);
  const isWithin = x > 0 && x + PATCH < from.width;
  for (let r = 0, p = place(from, x, y), o: usize = 0; r < PATCH; r++, p += stride, o += ROW) {
    const up = y + r > 0 ? p - stride : p;
    const down = y + r + 1 < from.height ? p + stride : p;
    for (let k: usize = 0; k < ROW; k += 16) {
      const w = v128.load(weights + o + k);
      const value = v128.load(p + k);
      const gy = f32x4.mul(half, f32x4.sub(v128.load(down + k), v128.load(up + k)));
      const gx = isWithin
        ? f32x4.mul(half, f32x4.sub(v128.load(p + k, 4), v128.load(p + k - 4)))
        : slopesAtBorder(from, p + k, x + <i32>(k >> 2));
      v128.store(values + o + k, value);
      v128.store(slopesX + o + k, gx);
      v128.store(slopesY + o + k, gy);
      mean = f32x4.add(mean, f32x4.mul(w, value));
      meanX = f32x4.add(meanX, f32x4.mul(w, gx));
      meanY = f32x4.add(meanY, f32x4.mul(w, gy));
    }
  }
  brightness = sumOf(mean) / all;
  const m = f32x4.splat(brightness);
  const mx = f32x4.splat(sumOf(meanX) / all);
  const my = f32x4.splat(sumOf(meanY) / all);
  let sxx = f32x4.splat(0);
  let sxy = f32x4.splat(0);
  let syy = f32x4.splat(0);
  for (let o: usize = 0; o < BYTES; o += 16) {
    v128.store(values + o, f32x4.sub(v128.load(values + o), m));
    const gx = f32x4.sub(v128.load(slopesX + o), mx);
    const gy = f32x4.sub(v128.load(slopesY + o), my);
    v128.store(slopesX + o, gx);
    v128.store(slopesY + o, gy);
    const w = v128.load(weights + o);
    const wx = f32x4.mul(w, gx);
    sxx = f32x4.add(sxx, f32x4.mul(wx, gx));
    sxy = f32x4.add(sxy, f32x4.mul(wx, gy));
    syy = f32x4.add(syy, f32x4.mul(f32x4.mul(w, gy), gy));
  }
  xx = STIFFNESS + sumOf(sxx);
  xy = sumOf(sxy);
  yy = STIFFNESS + sumOf(syy);
  return true;
}

/** Slopes across of the four pixels at `p`, the first of which is in column `x`; beyond the border the edge pixels repeat. */
function slopesAtBorder(from: Plane, p: usize, x: i32): v128 {
  let out = f32x4.splat(0);
  out = f32x4.replace_lane(out, 0, slopeAtBorder(from, p, x));
  out = f32x4.replace_lane(out, 1, slopeAtBorder(from, p + 4, x + 1));
  out = f32x4.replace_lane(out, 2, slopeAtBorder(from, p + 8, x + 2));
  return f32x4.replace_lane(out, 3, slopeAtBorder(from, p + 12, x + 3));
}

function slopeAtBorder(from: Plane, p: usize, x: i32): f32 {
  const left = x > 0 ? p - 4 : p;
  const right = x + 1 < from.width ? p + 4 : p;
  return 0.5 * (load<f32>(right) - load<f32>(left));
}

/** Weighted mean of squared differences at displacement (u, v); leaves the differences, free of their mean, behind. */
function errorAt(target: Plane, u: f32, v: f32): f32 {
  if (u == askedU && v == askedV) return asked;
  askedU = u;
  askedV = v;
  const lastX = <f32>target.width - 1.001;
  const lastY = <f32>target.height - 1.001;
  const px = <f32>patchX + u;
  const py = <f32>patchY + v;
  let sum: f32;
  if (px >= 0 && py >= 0 && px + SIDE - 1 < lastX && py + SIDE - 1 < lastY) sum = differWithin(target, px, py);
  else sum = differAtBorder(target, px, py, lastX, lastY);
  const mean = sum / total;
  const m = f32x4.splat(mean);
  let squares = f32x4.splat(0);
  for (let o: usize = 0; o < BYTES; o += 16) {
    const e = f32x4.sub(v128.load(differences + o), m);
    v128.store(differences + o, e);
    squares = f32x4.add(squares, f32x4.mul(f32x4.mul(v128.load(weights + o), e), e));
  }
  shift = mean - brightness;
  asked = sumOf(squares) / total;
  return asked;
}

/** Differences to the target from (px, py) on, which lies wholly within it; gives their weighted sum. */
function differWithin(target: Plane, px: f32, py: f32): f32 {
  const left = <i32>px;
  const top = <i32>py;
  const fx = px - <f32>left;
  const fy = py - <f32>top;
  const a = f32x4.splat((1 - fx) * (1 - fy));
  const b = f32x4.splat(fx * (1 - fy));
  const c = f32x4.splat((1 - fx) * fy);
  const d = f32x4.splat(fx * fy);
  const stride = (<usize>target.width) << 2;
  let sum = f32x4.splat(0);
  for (let r = 0, p = place(target, left, top), o: usize = 0; r < PATCH; r++, p += stride, o += ROW) {
    const q = p + stride;
    for (let k: usize = 0; k < ROW; k += 16) {
      const upper = f32x4.add(f32x4.mul(a, v128.load(p + k)), f32x4.mul(b, v128.load(p + k, 4)));
      const lower = f32x4.add(f32x4.mul(c, v128.load(q + k)), f32x4.mul(d, v128.load(q + k, 4)));
      const e = f32x4.sub(f32x4.add(upper, lower), v128.load(values + o + k));
      v128.store(differences + o + k, e);
      sum = f32x4.add(sum, f32x4.mul(v128.load(weights + o + k), e));
    }
  }
  return sumOf(sum);
}

/** The same where the target's edge pixels must repeat. */
function differAtBorder(target: Plane, px: f32, py: f32, lastX: f32, lastY: f32): f32 {
  let sum: f32 = 0;
  for (let r = 0, o = 0; r < PATCH; r++) {
    const sy = max<f32>(0, min<f32>(lastY, py + <f32>r));
    const fy = sy - <f32>(<i32>sy);
    const top = place(target, 0, <i32>sy);
    const below = top + ((<usize>target.width) << 2);
    for (let k = 0; k < PATCH; k++, o++) {
      const sx = max<f32>(0, min<f32>(lastX, px + <f32>k));
      const i = <i32>sx;
      const fx = sx - <f32>i;
      const upper = at(top, i) + fx * (at(top, i + 1) - at(top, i));
      const lower = at(below, i) + fx * (at(below, i + 1) - at(below, i));
      const e = upper + fy * (lower - upper) - at(values, o);
      put(differences, o, e);
      sum += at(weights, o) * e;
    }
  }
  return sum;
}

/** What (u, v) costs: its error, and how far it is from the start. */
function costAt(target: Plane, u: f32, v: f32): f32 {
  const du = u - startU;
  const dv = v - startV;
  return errorAt(target, u, v) + PULL * (du * du + dv * dv);
}

/** Makes (u, v) the best start when it is better. */
function consider(target: Plane, u: f32, v: f32): void {
  if (abs<f32>(u - bestU) + abs<f32>(v - bestV) < SAME_START) return;
  const cost = costAt(target, u, v);
  if (cost >= bestCost) return;
  bestU = u;
  bestV = v;
  bestCost = cost;
}

/** Descends from the best start, which becomes the displacement found. Gives its error. */
function refine(target: Plane): f32 {
  const determinant = xx * yy - xy * xy;
  const pull = PULL * total;
  let u = bestU;
  let v = bestV;
  let cost = costAt(target, u, v);
  for (let round = 0; round < ROUNDS; round++) {
    let alongX = f32x4.splat(0);
    let alongY = f32x4.splat(0);
    for (let o: usize = 0; o < BYTES; o += 16) {
      const e = f32x4.mul(v128.load(weights + o), v128.load(differences + o));
      alongX = f32x4.add(alongX, f32x4.mul(v128.load(slopesX + o), e));
      alongY = f32x4.add(alongY, f32x4.mul(v128.load(slopesY + o), e));
    }
    const bx = sumOf(alongX) + pull * (u - startU);
    const by = sumOf(alongY) + pull * (v - startV);
    const du = (yy * bx - xy * by) / determinant;
    const dv = (xx * by - xy * bx) / determinant;
    const next = costAt(target, u - du, v - dv);
    if (next >= cost) break;
    u -= du;
    v -= dv;
    cost = next;
    if (du * du + dv * dv < 0.0004) break;
  }
  // what slid further than a patch has found something else
  if (abs<f32>(u - bestU) > SIDE || abs<f32>(v - bestV) > SIDE) return max<f32>(errorAt(target, bestU, bestV), 4 * HALF_TRUST);
  bestU = u;
  bestV = v;
  return errorAt(target, u, v);
}

/** Adds the displacement found to the cells of the patch that belong to the layer, most where the target agrees. */
function spread(target: Plane, error: f32, lightChange: f32, out: Field): void {
  errorAt(target, bestU, bestV);
  const beyond = max<f32>(0, abs<f32>(shift) - lightChange);
  const share = HALF_TRUST / (HALF_TRUST + error + LIGHT * beyond * beyond);
  const most = f32x4.splat(share * share * HALF_TRUST);
  const half = f32x4.splat(HALF_TRUST);
  const u = f32x4.splat(bestU);
  const v = f32x4.splat(bestV);
  for (let r = 0, o: usize = 0; r < PATCH; r++) {
    const cell = (<usize>((patchY + r - out.top) * out.width + patchX - out.left)) << 2;
    for (let k: usize = 0; k < ROW; k += 16, o += 16) {
      const w = v128.load(weights + o);
      // also keeps off the cells beyond the field, where the layer never is
      if (!v128.any_true(f32x4.gt(w, f32x4.splat(0)))) continue;
      const e = v128.load(differences + o);
      const t = f32x4.div(f32x4.mul(most, w), f32x4.add(half, f32x4.mul(e, e)));
      const i = cell + k;
      v128.store(out.u + i, f32x4.add(v128.load(out.u + i), f32x4.mul(t, u)));
      v128.store(out.v + i, f32x4.add(v128.load(out.v + i), f32x4.mul(t, v)));
      v128.store(out.trust + i, f32x4.add(v128.load(out.trust + i), t));
    }
  }
}

/** How many patches it takes to cover `length` pixels; those at the end overlap more. */
function patchesWithin(length: i32): i32 {
  return length < PATCH ? 0 : (length - PATCH + STRIDE - 1) / STRIDE + 1;
}

/**
 * Finds where the patches of `from` that belong to `mask` went in `target`, all of one size, from the better of what `guess`
 * and `other` (0 for none) and the neighbours say; `out`, empty before, gets the motion in full-size pixels and its trust.
 * Displacements of more than `reach` pixels of the level do not count. `found` holds three numbers a patch.
 */
export function matchLevel(
  from: Plane,
  mask: Plane,
  target: Plane,
  guess: usize,
  other: usize,
  lightChange: f32,
  reach: f32,
  out: Field,
  found: usize,
): void {
  const width = from.width;
  const height = from.height;
  const step = out.step;
  const firstColumn = max<i32>(0, out.left - PATCH) / STRIDE;
  const firstRow = max<i32>(0, out.top - PATCH) / STRIDE;
  const across = patchesWithin(min<i32>(width, out.left + out.width));
  const down = patchesWithin(min<i32>(height, out.top + out.height));
  const cells = across * down;
  const us = found;
  const vs = us + ((<usize>cells) << 2);
  const known = vs + ((<usize>cells) << 2);
  memory.fill(known, 0, (<usize>cells) << 2);
  for (let j = firstRow; j < down; j++) {
    for (let i = firstColumn; i < across; i++) {
      const x = min<i32>(i * STRIDE, width - PATCH);
      const y = min<i32>(j * STRIDE, height - PATCH);
      if (!take(from, mask, x, y)) continue;
      const cell = j * across + i;
      const middleX = (<f32>x + 0.5 * SIDE) * step;
      const middleY = (<f32>y + 0.5 * SIDE) * step;
      bestU = bestV = 0;
      if (guess != 0) {
        sampleField(changetype<Field>(guess), middleX, middleY);
        bestU = sampledU / step;
        bestV = sampledV / step;
      }
      startU = bestU;
      startV = bestV;
      bestCost = costAt(target, bestU, bestV);
      if (other != 0) {
        sampleField(changetype<Field>(other), middleX, middleY);
        consider(target, sampledU / step, sampledV / step);
      }
      if (i > 0 && at(known, cell - 1) == 1) consider(target, at(us, cell - 1), at(vs, cell - 1));
      if (j > 0 && at(known, cell - across) == 1) consider(target, at(us, cell - across), at(vs, cell - across));
      const error = refine(target);
      put(us, cell, bestU);
      put(vs, cell, bestV);
      put(known, cell, 1);
      if (bestU * bestU + bestV * bestV > reach * reach) continue;
      spread(target, error, lightChange, out);
    }
  }
  const n = out.width * out.height;
  for (let i = 0; i < n; i++) {
    const w = at(out.trust, i);
    if (w <= 0) continue;
    put(out.u, i, (at(out.u, i) / w) * step);
    put(out.v, i, (at(out.v, i) / w) * step);
    // four patches cover a pixel; each adds at most 1. Many that hardly match must not add up to a motion
    put(out.trust, i, w < LEAST_TRUST ? 0 : min<f32>(1, w / 3));
  }
}
