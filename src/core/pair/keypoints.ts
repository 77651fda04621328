import { boxBlur, gradients, resizePlane } from '../image/plane';
import { beginCall, kernels, putFloats, reserve, takeFloats } from '../kernels/kernels';
import { createPlane, type Plane } from '../image/pixels';
import { placed, placementOf, turnWithin, type Placement, type PointPair } from './placement';

/** A corner with what is around it, free of its size and turn (the idea of Lowe 2004). */
export interface Keypoint {
  /** From the centre of the picture, in its pixels. */
  readonly x: number;
  readonly y: number;
  readonly size: number;
  readonly turn: number;
  /** How its slopes lie, 4×4 cells of 8 directions, of length 1. */
  readonly signs: Float32Array;
}

const CELLS = 4;
const DIRECTIONS = 8;
const SIGNS = CELLS * CELLS * DIRECTIONS;
/** Pixels of a level from the middle of a keypoint to the border of what is looked at. */
const REACH = 8;
/** From one level to the next pictures get smaller by this. */
const SHRINK = Math.SQRT1_2;
const MOST_AT_LEVEL = [70, 50, 40, 30, 20];
/** Corners of one level keep this far apart, in its pixels. */
const APART = 4;
/** Least response of a corner, squared 8-bit steps a pixel. */
const LEAST_RESPONSE = 12;

/** The corners of a luma plane (0..255), strongest first at each of five sizes. */
export function keypointsOf(luma: Plane): Keypoint[] {
  const found: Keypoint[] = [];
  for (const [level, most] of MOST_AT_LEVEL.entries()) {
    const shrink = SHRINK ** level;
    const [width, height] = [Math.round(luma.width * shrink), Math.round(luma.height * shrink)];
    if (Math.min(width, height) < 4 * REACH) break;
    const plane = level === 0 ? softened(luma) : resized(luma, width, height);
    const gx = createPlane(width, height);
    const gy = createPlane(width, height);
    gradients(plane, gx, gy);
    const scale = luma.width / width;
    for (const { x, y } of corners(gx, gy, most))
      for (const turn of turnsAt(gx, gy, x, y)) {
        const signs = signsAt(gx, gy, x, y, turn);
        found.push({ x: (x + 0.5 - width / 2) * scale, y: (y + 0.5 - height / 2) * scale, size: scale, turn, signs });
      }
  }
  return found;
}

function softened(luma: Plane): Plane {
  const out = createPlane(luma.width, luma.height);
  boxBlur(luma, 1, out);
  return out;
}

function resized(luma: Plane, width: number, height: number): Plane {
  const soft = softened(luma);
  const out = createPlane(width, height);
  resizePlane(soft, out);
  return out;
}

/** Where both slopes are strong, at most `most` (Shi & Tomasi 1994). */
function corners(gx: Plane, gy: Plane, most: number): { x: number; y: number }[] {
  const { width, height } = gx;
  const [xx, xy, yy] = [createPlane(width, height), createPlane(width, height), createPlane(width, height)];
  for (let i = 0; i < xx.data.length; i++) {
    xx.data[i] = gx.data[i]! * gx.data[i]!;
    xy.data[i] = gx.data[i]! * gy.data[i]!;
    yy.data[i] = gy.data[i]! * gy.data[i]!;
  }
  for (const p of [xx, xy, yy]) boxBlur(p, 2, p);
  const response = createPlane(width, height);
  for (let i = 0; i < response.data.length; i++) {
    const [a, b, c] = [xx.data[i]!, xy.data[i]!, yy.data[i]!];
    response.data[i] = 0.5 * (a + c - Math.sqrt((a - c) * (a - c) + 4 * b * b));
  }
  const list: { x: number; y: number; value: number }[] = [];
  for (let y = REACH; y < height - REACH; y++)
    for (let x = REACH; x < width - REACH; x++) {
      const i = y * width + x;
      const value = response.data[i]!;
      if (value < LEAST_RESPONSE) continue;
      let isBest = true;
      for (let dy = -1; dy <= 1 && isBest; dy++)
        for (let dx = -1; dx <= 1; dx++) if (response.data[i + dy * width + dx]! > value) isBest = false;
      if (isBest) list.push({ x, y, value });
    }
  list.sort((a, b) => b.value - a.value);
  const taken = new Uint8Array(width * height);
  const out: { x: number; y: number }[] = [];
  for (const { x, y } of list) {
    if (taken[y * width + x] === 1) continue;
    out.push({ x, y });
    if (out.length === most) break;
    for (let dy = -APART; dy <= APART; dy++)
      taken.fill(1, Math.max(0, (y + dy) * width + x - APART), Math.max(0, (y + dy) * width + x + APART + 1));
  }
  return out;
}

const TURNS = 36;

/** The directions in which most slopes around a corner lie: one, or two that are nearly as strong. */
function turnsAt(gx: Plane, gy: Plane, x: number, y: number): number[] {
  const bins = new Float64Array(TURNS);
  for (let dy = -REACH + 2; dy < REACH - 1; dy++)
    for (let dx = -REACH + 2; dx < REACH - 1; dx++) {
      const i = (y + dy) * gx.width + x + dx;
      const [a, b] = [gx.data[i]!, gy.data[i]!];
      const weight = Math.hypot(a, b) * Math.exp(-(dx * dx + dy * dy) / 24);
      const bin = ((Math.atan2(b, a) / (2 * Math.PI) + 1) * TURNS) % TURNS;
      const low = Math.floor(bin);
      bins[low % TURNS]! += weight * (1 - (bin - low));
      bins[(low + 1) % TURNS]! += weight * (bin - low);
    }
  const smooth = bins.map((_, i) => bins[(i + TURNS - 1) % TURNS]! + 2 * bins[i]! + bins[(i + 1) % TURNS]!);
  const peaks = [...smooth.keys()].filter((i) => smooth[i]! > smooth[(i + TURNS - 1) % TURNS]! && smooth[i]! >= smooth[(i + 1) % TURNS]!);
  peaks.sort((a, b) => smooth[b]! - smooth[a]!);
  return peaks
    .slice(0, 2)
    .filter((i) => smooth[i]! > 0.85 * smooth[peaks[0]!]!)
    .map((i) => {
      const [before, at, after] = [smooth[(i + TURNS - 1) % TURNS]!, smooth[i]!, smooth[(i + 1) % TURNS]!];
      const bend = before - 2 * at + after;
      return ((i + (bend === 0 ? 0 : (0.5 * (before - after)) / bend)) * 2 * Math.PI) / TURNS;
    });
}

/** What lies around a corner, seen from its own direction. */
function signsAt(gx: Plane, gy: Plane, x: number, y: number, turn: number): Float32Array {
  const out = new Float32Array(SIGNS);
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const side = (2 * REACH) / CELLS;
  for (let v = -REACH + 0.5; v < REACH; v++)
    for (let u = -REACH + 0.5; u < REACH; u++) {
      const px = Math.round(x + c * u - s * v);
      const py = Math.round(y + s * u + c * v);
      if (px < 0 || py < 0 || px >= gx.width || py >= gx.height) continue;
      const i = py * gx.width + px;
      const [a, b] = [gx.data[i]!, gy.data[i]!];
      const weight = Math.hypot(a, b) * Math.exp(-(u * u + v * v) / 80);
      if (weight === 0) continue;
      const direction = ((((Math.atan2(b, a) - turn) / (2 * Math.PI) + 2) % 1) * DIRECTIONS) % DIRECTIONS;
      const low = Math.floor(direction);
      const share = direction - low;
      // each slope counts in the four cells around it
      const cu = (u + REACH) / side - 0.5;
      const cv = (v + REACH) / side - 0.5;
      const [left, top] = [Math.floor(cu), Math.floor(cv)];
      for (let k = 0; k < 4; k++) {
        const column = left + (k & 1);
        const row = top + (k >> 1);
        if (column < 0 || row < 0 || column >= CELLS || row >= CELLS) continue;
        const part = weight * (k & 1 ? cu - left : 1 - cu + left) * (k >> 1 ? cv - top : 1 - cv + top);
        const o = (row * CELLS + column) * DIRECTIONS;
        out[o + low]! += part * (1 - share);
        out[o + ((low + 1) % DIRECTIONS)]! += part * share;
      }
    }
  // no single slope says it all
  for (let round = 0; round < 2; round++) {
    let length = 0;
    for (const value of out) length += value * value;
    const scale = length > 0 ? 1 / Math.sqrt(length) : 0;
    for (let i = 0; i < SIGNS; i++) out[i] = round === 0 ? Math.min(0.2, out[i]! * scale) : out[i]! * scale;
  }
  return out;
}

/** What another keypoint has to be less alike by, for a match to count. */
const DISTINCT = 0.86;
/** Pixels within which a keypoint must come to lie on its match. */
const WITHIN = 3;
const LEAST_AGREEING = 8;

/** A placement that keypoints of two pictures agree on, and how many do. */
export interface Agreement {
  readonly placement: Placement;
  readonly count: number;
}

/**
 * How picture b lies over picture a, by the keypoints that look alike in both; null where too few agree. `b` holds the keypoints of b
 * as it is, or mirrored if `flip`, with x counted in the mirrored picture. Each match proposes a placement of its own; the one with
 * the most support is fitted to all that support it.
 */
export function agreeOn(a: readonly Keypoint[], b: readonly Keypoint[], flip: boolean): Agreement | null {
  const matches: { a: Keypoint; b: Keypoint }[] = [];
  const dots = dotsOf(a, b);
  for (const [j, one] of b.entries()) {
    let [best, second] = [Infinity, Infinity];
    let like: Keypoint | null = null;
    for (const [i, other] of a.entries()) {
      const away = 2 - 2 * dots[j * a.length + i]!;
      if (away >= second) continue;
      if (away < best) {
        // two turns of one corner are no rivals
        if (like === null || Math.hypot(like.x - other.x, like.y - other.y) > WITHIN) second = best;
        best = away;
        like = other;
      } else if (Math.hypot(like!.x - other.x, like!.y - other.y) > WITHIN) second = away;
    }
    if (like !== null && best < DISTINCT * DISTINCT * second && best < 0.8) matches.push({ a: like, b: one });
  }
  if (matches.length < LEAST_AGREEING) return null;
  let support: { a: Keypoint; b: Keypoint }[] = [];
  for (const { a: p, b: q } of matches) {
    const scale = p.size / q.size;
    const turn = turnWithin(p.turn - q.turn);
    const still: Placement = { scale, turn, dx: 0, dy: 0, flip: false };
    const { x, y } = placed(still, q);
    const found = supporters(matches, { ...still, dx: p.x - x, dy: p.y - y }, 4 * WITHIN * scale);
    if (found.length > support.length) support = found;
  }
  let placement: Placement | null = null;
  for (let round = 0; round < 4; round++) {
    placement = placementOf(support, false);
    if (placement === null) return null;
    const found = supporters(matches, placement, WITHIN * Math.max(1, placement.scale) * (round < 2 ? 2 : 1));
    if (found.length < LEAST_AGREEING) return null;
    support = found;
  }
  return placement === null ? null : { placement: { ...placement, flip }, count: new Set(support.map((m) => m.a)).size };
}

/** How alike all keypoints of two pictures are, a row for each of b. */
function dotsOf(a: readonly Keypoint[], b: readonly Keypoint[]): Float32Array {
  const all = (points: readonly Keypoint[]): Float32Array => {
    const out = new Float32Array(points.length * SIGNS);
    for (const [i, p] of points.entries()) out.set(p.signs, i * SIGNS);
    return out;
  };
  const out = new Float32Array(a.length * b.length);
  beginCall();
  const table = reserve(out.length);
  kernels.dotTable(putFloats(all(a)), a.length, putFloats(all(b)), b.length, SIGNS, table);
  takeFloats(table, out);
  return out;
}

function supporters<T extends PointPair>(matches: readonly T[], placement: Placement, within: number): T[] {
  return matches.filter(({ a, b }) => {
    const { x, y } = placed(placement, b);
    return Math.hypot(x - a.x, y - a.y) < within;
  });
}
