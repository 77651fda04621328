import { boxBlur } from './box-blur';
import { at, int, put, putInt } from './numbers';
import { Plane } from './plane';

/** Ways in which a pixel looks for colours that are known: a step across and down each. */
const WAYS = 8;
const WAY_X = memory.data<i32>([1, 0, 1, 1, -1, 0, -1, -1]);
const WAY_Y = memory.data<i32>([0, 1, 1, -1, 0, -1, -1, 1]);
/** Coverage beyond which a pixel shows the inside's own colour, or the outside's. */
const INSIDE: f32 = 0.98;
const OUTSIDE: f32 = 0.02;
/** Squared difference of a mixture from the pixel's colour (8-bit steps) that halves how much its answer counts. */
const MISS: f32 = 150;
/** Squared difference of two sides' colours that is worth half a full trust. */
const APART: f32 = 900;
/** Added to that difference, so that colours which are alike are the outside's. */
const ALIKE: f32 = 400;
/** Squared difference that a colour costs for every pixel it lies away. */
const FAR: f32 = 1.5;
/** So far away, in pixels, a colour of the outside says half as much where it alone explains a pixel. */
const NEAR: f32 = 12;
/** What a colour from anywhere outside says at most. */
const SPREAD_SAYS: f32 = 0.5;
/** What an unsure answer counts at least. */
const LEAST_WEIGHT: f32 = 0.02;
/** Variance of colour that may be noise, squared 8-bit steps. */
const NOISE: f64 = 12;
/** Planes that a fit sums up. */
const SUMS = 14;

/** Colours around one pixel: red, green, blue and how far each lies away, eight a row; those inside, then those outside. */
const AROUND = memory.data(2 * 4 * 8 * 4, 16);
const ROW = 8 * 4;
const OUTER = 4 * ROW;

/**
 * Gives each pixel of `alpha` (floats) where `unknown` (bytes) is not 0 the share of the pair of known colours around that explains it best, or 0 where
 * a colour of the outside does. `spread` holds `spreadCount` colours of the outside, a multiple of four: a row of reds, of
 * greens, of blues, of columns and of rows. `weight` becomes how sure each pixel is, 0..1. `nearest` has room for 16 numbers a pixel.
 */
export function mixColours(
  features: usize,
  unknown: usize,
  alpha: usize,
  width: i32,
  height: i32,
  spread: usize,
  spreadCount: i32,
  nearest: usize,
  weight: usize,
): void {
  const plane = (<usize>(width * height)) << 2;
  for (let k = 0; k < WAYS; k++) nearestAlong(int(WAY_X, k), int(WAY_Y, k), unknown, alpha, width, height, nearest + 2 * k * plane, plane);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (load<u8>(unknown + i) === 0) {
        put(weight, i, 1);
        continue;
      }
      const insides = gather(features, nearest, plane, i, x, y, width, AROUND);
      const outsides = gather(features, nearest + plane, plane, i, x, y, width, AROUND + OUTER);
      mixOne(at(features, 3 * i), at(features, 3 * i + 1), at(features, 3 * i + 2), insides, outsides, x, y, spread, spreadCount);
      put(alpha, i, share);
      put(weight, i, max<f32>(LEAST_WEIGHT, sure));
    }
  }
}

/** For every pixel the nearest known one on a way that is wholly covered, and in the plane behind it the nearest that is not at all; -1 without one. */
function nearestAlong(dx: i32, dy: i32, unknown: usize, alpha: usize, width: i32, height: i32, out: usize, plane: usize): void {
  const outer = out + plane;
  const step = dy * width + dx;
  for (let row = 0; row < height; row++) {
    // what lies ahead has been seen before
    const y = dy > 0 ? height - 1 - row : row;
    const ahead = y + dy >= 0 && y + dy < height;
    for (let column = 0; column < width; column++) {
      const x = dx > 0 ? width - 1 - column : column;
      const i = y * width + x;
      const sees = ahead && x + dx >= 0 && x + dx < width;
      const known = load<u8>(unknown + i) === 0;
      putInt(out, i, known && at(alpha, i) > INSIDE ? i : sees ? int(out, i + step) : -1);
      putInt(outer, i, known && at(alpha, i) < OUTSIDE ? i : sees ? int(outer, i + step) : -1);
    }
  }
}

/** Lays what pixel `i` sees on its ways into `out`; the rest of the row repeats the last. @returns how many there are */
function gather(features: usize, nearest: usize, plane: usize, i: i32, x: i32, y: i32, width: i32, out: usize): i32 {
  let count = 0;
  for (let k = 0; k < WAYS; k++) {
    const found = int(nearest + 2 * k * plane, i);
    if (found < 0) continue;
    const dy = found / width - y;
    const dx = (found % width) - x;
    layOne(out, count++, features, found, sqrt<f32>(<f32>(dx * dx + dy * dy)));
  }
  for (let k = count; count > 0 && k < WAYS; k++) {
    for (let row = 0; row < 4; row++) put(out + row * ROW, k, at(out + row * ROW, count - 1));
  }
  return count;
}

function layOne(out: usize, k: i32, features: usize, from: i32, away: f32): void {
  for (let c = 0; c < 3; c++) put(out + c * ROW, k, at(features, 3 * from + c));
  put(out + 3 * ROW, k, away);
}

// what `mixOne` has found
let share: f32 = 0;
let sure: f32 = 0;

function mixOne(r: f32, g: f32, b: f32, insides: i32, outsides: i32, x: i32, y: i32, spread: usize, spreadCount: i32): void {
  const none = f32x4.splat(0);
  const all = f32x4.splat(1);
  const far = f32x4.splat(FAR);
  let least = f32x4.splat(Infinity);
  let parts = none;
  let misses = none;
  let aparts = none;
  let aways = none;
  for (let o = 0; insides > 0 && o < outsides; o++) {
    const or = at(AROUND + OUTER, o);
    const og = at(AROUND + OUTER + ROW, o);
    const ob = at(AROUND + OUTER + 2 * ROW, o);
    const outer = f32x4.splat(at(AROUND + OUTER + 3 * ROW, o));
    const dr = f32x4.splat(r - or);
    const dg = f32x4.splat(g - og);
    const db = f32x4.splat(b - ob);
    for (let k: usize = 0; k < (insides > 4 ? 32 : 16); k += 16) {
      const wr = f32x4.sub(v128.load(AROUND + k), f32x4.splat(or));
      const wg = f32x4.sub(v128.load(AROUND + ROW + k), f32x4.splat(og));
      const wb = f32x4.sub(v128.load(AROUND + 2 * ROW + k), f32x4.splat(ob));
      const apart = dot(wr, wg, wb, wr, wg, wb);
      const along = f32x4.div(dot(wr, wg, wb, dr, dg, db), f32x4.add(apart, f32x4.splat(ALIKE)));
      const part = f32x4.max(none, f32x4.min(all, along));
      const er = f32x4.sub(dr, f32x4.mul(part, wr));
      const eg = f32x4.sub(dg, f32x4.mul(part, wg));
      const eb = f32x4.sub(db, f32x4.mul(part, wb));
      const miss = dot(er, eg, eb, er, eg, eb);
      const inner = f32x4.mul(part, v128.load(AROUND + 3 * ROW + k));
      const away = f32x4.add(inner, f32x4.mul(f32x4.sub(all, part), outer));
      const cost = f32x4.add(miss, f32x4.mul(far, away));
      const better = f32x4.lt(cost, least);
      least = v128.bitselect(cost, least, better);
      parts = v128.bitselect(part, parts, better);
      misses = v128.bitselect(miss, misses, better);
      aparts = v128.bitselect(apart, aparts, better);
      aways = v128.bitselect(outer, aways, better);
    }
  }
  keepBest(least, parts, misses, aparts, aways);
  lookAround(r, g, b, <f32>x, <f32>y, spread, spreadCount);
}

/** Vectors that are gone through number by number. */
const lanes = memory.data(5 * 16, 16);
// least cost of what was found so far
let leastCost: f32 = 0;

/** Takes the best of four pairs. */
function keepBest(least: v128, parts: v128, misses: v128, aparts: v128, aways: v128): void {
  leastCost = Infinity;
  share = 0;
  sure = LEAST_WEIGHT;
  v128.store(lanes, least);
  v128.store(lanes, parts, 16);
  v128.store(lanes, misses, 32);
  v128.store(lanes, aparts, 48);
  v128.store(lanes, aways, 64);
  for (let k = 0; k < 4; k++) pick(at(lanes, k), at(lanes, k + 4), at(lanes, k + 8), at(lanes, k + 12), at(lanes, k + 16));
}

function pick(cost: f32, part: f32, miss: f32, apart: f32, away: f32): void {
  if (!(cost < leastCost)) return;
  leastCost = cost;
  share = part;
  const alone = (((1 as f32) - part) * NEAR) / (NEAR + away);
  sure = (MISS / (MISS + miss)) * max<f32>(apart / (apart + APART), alone);
}

/** Whether one of the colours spread over the outside explains the pixel better than any pair did. */
function lookAround(r: f32, g: f32, b: f32, x: f32, y: f32, spread: usize, count: i32): void {
  const row = (<usize>count) << 2;
  const vr = f32x4.splat(r);
  const vg = f32x4.splat(g);
  const vb = f32x4.splat(b);
  const vx = f32x4.splat(x);
  const vy = f32x4.splat(y);
  const far = f32x4.splat(FAR);
  let least = f32x4.splat(leastCost);
  let misses = f32x4.splat(-1);
  for (let k: usize = 0; k < row; k += 16) {
    const er = f32x4.sub(vr, v128.load(spread + k));
    const eg = f32x4.sub(vg, v128.load(spread + row + k));
    const eb = f32x4.sub(vb, v128.load(spread + 2 * row + k));
    const miss = dot(er, eg, eb, er, eg, eb);
    if (!v128.any_true(f32x4.lt(miss, least))) continue;
    const dx = f32x4.sub(vx, v128.load(spread + 3 * row + k));
    const dy = f32x4.sub(vy, v128.load(spread + 4 * row + k));
    const away = f32x4.sqrt(f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)));
    const cost = f32x4.add(miss, f32x4.mul(far, away));
    const better = f32x4.lt(cost, least);
    least = v128.bitselect(cost, least, better);
    misses = v128.bitselect(miss, misses, better);
  }
  v128.store(lanes, least);
  v128.store(lanes, misses, 16);
  for (let k = 0; k < 4; k++) believe(at(lanes, k), at(lanes, k + 4));
}

function believe(cost: f32, miss: f32): void {
  if (miss < 0 || !(cost < leastCost)) return;
  leastCost = cost;
  share = 0;
  sure = (SPREAD_SAYS * MISS) / (MISS + miss);
}

function dot(ar: v128, ag: v128, ab: v128, br: v128, bg: v128, bb: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(ar, br), f32x4.mul(ag, bg)), f32x4.mul(ab, bb));
}

/**
 * Replaces `alpha` by what its weighted linear fit to the three `features` says in the windows of half width `radius` around each
 * pixel (He et al. 2013). `scratch` has room for 15 numbers a pixel, a row and a plane more.
 */
export function followColour(features: usize, weight: usize, alpha: usize, width: i32, height: i32, radius: i32, scratch: usize): void {
  const n = width * height;
  const bytes = (<usize>n) << 2;
  const sums = scratch + 16;
  const plane = changetype<Plane>(scratch);
  plane.width = width;
  plane.height = height;
  const forBlur = sums + SUMS * bytes;
  for (let i = 0; i < n; i++) {
    const w = at(weight, i);
    const x = at(features, 3 * i);
    const y = at(features, 3 * i + 1);
    const z = at(features, 3 * i + 2);
    const a = at(alpha, i);
    put(sums, i, w);
    put(sums + bytes, i, w * x);
    put(sums + 2 * bytes, i, w * y);
    put(sums + 3 * bytes, i, w * z);
    put(sums + 4 * bytes, i, w * a);
    put(sums + 5 * bytes, i, w * x * x);
    put(sums + 6 * bytes, i, w * x * y);
    put(sums + 7 * bytes, i, w * x * z);
    put(sums + 8 * bytes, i, w * y * y);
    put(sums + 9 * bytes, i, w * y * z);
    put(sums + 10 * bytes, i, w * z * z);
    put(sums + 11 * bytes, i, w * x * a);
    put(sums + 12 * bytes, i, w * y * a);
    put(sums + 13 * bytes, i, w * z * a);
  }
  for (let k = 0; k < SUMS; k++) {
    plane.data = sums + k * bytes;
    boxBlur(plane, radius, forBlur);
  }
  for (let i = 0; i < n; i++) fitOne(sums, bytes, i);
  for (let k = 1; k <= 4; k++) {
    plane.data = sums + k * bytes;
    boxBlur(plane, radius, forBlur);
  }
  for (let i = 0; i < n; i++) {
    const along =
      at(sums + bytes, i) * at(features, 3 * i) +
      at(sums + 2 * bytes, i) * at(features, 3 * i + 1) +
      at(sums + 3 * bytes, i) * at(features, 3 * i + 2);
    put(alpha, i, along + at(sums + 4 * bytes, i));
  }
}

/** Replaces the second to fifth sum of pixel `i` by its window's fit: the three slopes and what is left. */
function fitOne(sums: usize, bytes: usize, i: i32): void {
  const k = (1 as f64) / <f64>at(sums, i);
  const ex = k * at(sums + bytes, i);
  const ey = k * at(sums + 2 * bytes, i);
  const ez = k * at(sums + 3 * bytes, i);
  const ea = k * at(sums + 4 * bytes, i);
  const xx = k * at(sums + 5 * bytes, i) - ex * ex + NOISE;
  const xy = k * at(sums + 6 * bytes, i) - ex * ey;
  const xz = k * at(sums + 7 * bytes, i) - ex * ez;
  const yy = k * at(sums + 8 * bytes, i) - ey * ey + NOISE;
  const yz = k * at(sums + 9 * bytes, i) - ey * ez;
  const zz = k * at(sums + 10 * bytes, i) - ez * ez + NOISE;
  const ax = k * at(sums + 11 * bytes, i) - ex * ea;
  const ay = k * at(sums + 12 * bytes, i) - ey * ea;
  const az = k * at(sums + 13 * bytes, i) - ez * ea;
  // the covariance is inverted by its cofactors
  const cx = yy * zz - yz * yz;
  const cy = xz * yz - xy * zz;
  const cz = xy * yz - xz * yy;
  const inverse = (1 as f64) / (xx * cx + xy * cy + xz * cz);
  const px = inverse * (cx * ax + cy * ay + cz * az);
  const py = inverse * (cy * ax + (xx * zz - xz * xz) * ay + (xy * xz - xx * yz) * az);
  const pz = inverse * (cz * ax + (xy * xz - xx * yz) * ay + (xx * yy - xy * xy) * az);
  put(sums + bytes, i, <f32>px);
  put(sums + 2 * bytes, i, <f32>py);
  put(sums + 3 * bytes, i, <f32>pz);
  put(sums + 4 * bytes, i, <f32>(ea - px * ex - py * ey - pz * ez));
}
