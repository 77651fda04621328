import { flowAlongRow, invertField, type FlowField, type Region } from '../flow/flow-field';
import { createPlane, softBlur, type Plane } from '../image/plane';

/** What a motion says of pixels: how badly it explains them, and what lay over the places they came from. */
export interface Explanation {
  /** Squared colour difference, a little blurred; 0 where it was not asked. */
  readonly miss: Plane;
  /** The two coverages where the pixel came from; 0 where it was not asked. From beyond the frame the nearest pixel's. */
  readonly cover: Plane;
  readonly other: Plane;
  /** 1 where the earlier picture showed what is here, or that was not asked; 0 where it comes in over the border or the motion tears open. */
  readonly shown: Uint8Array;
  /** The motion from the region back to the earlier picture. */
  readonly back: FlowField;
}

/** A place this far beyond the frame's outermost pixel centres was not in it. */
const BEYOND_PX = 1;

/** Neighbouring places that move this many times as far apart leave a gap between them. */
const TORN = 3;

/**
 * Looks where the pixels of `region` marked in `wanted` (1, one a pixel of the region) came from under `motion`, from
 * the picture whose features are `from` to the one whose features are `to`. `cover` and `other`, which may be the same,
 * are coverages on the earlier picture.
 */
export function explain(
  from: Float32Array,
  to: Float32Array,
  motion: FlowField,
  cover: Plane,
  other: Plane,
  region: Region,
  wanted: Uint8Array,
): Explanation {
  const { width, height } = cover;
  const across = region.right - region.left;
  const down = region.bottom - region.top;
  const back = invertField(motion, region);
  const out = {
    miss: createPlane(across, down),
    cover: createPlane(across, down),
    other: createPlane(across, down),
    shown: new Uint8Array(across * down).fill(1),
    back,
  };
  const u = new Float32Array(across);
  const v = new Float32Array(across);
  const torn = tornCells(motion, back);
  const lastX = width - 1.001;
  const lastY = height - 1.001;
  for (let y = 0, o = 0; y < down; y++) {
    flowAlongRow(back, region.left, region.top + y, u, v);
    const cells = (Math.floor((region.top + y) / back.step) - back.top) * back.width - back.left;
    for (let x = 0, i = (y + region.top) * width + region.left; x < across; x++, i++, o++) {
      if (wanted[o] === 0) continue;
      const sx = x + region.left + u[x]!;
      const sy = y + region.top + v[x]!;
      if (sx < -BEYOND_PX || sy < -BEYOND_PX || sx > width - 1 + BEYOND_PX || sy > height - 1 + BEYOND_PX) out.shown[o] = 0;
      else if (torn[cells + Math.floor((region.left + x) / back.step)] === 1) out.shown[o] = 0;
      const px = sx < 0 ? 0 : sx > lastX ? lastX : sx;
      const py = sy < 0 ? 0 : sy > lastY ? lastY : sy;
      const at = (py | 0) * width + (px | 0);
      const fx = px - (px | 0);
      const fy = py - (py | 0);
      const d = fx * fy;
      const c = fy - d;
      const b = fx - d;
      const a = 1 - fx - c;
      const below = at + width;
      out.cover.data[o] = a * cover.data[at]! + b * cover.data[at + 1]! + c * cover.data[below]! + d * cover.data[below + 1]!;
      out.other.data[o] = a * other.data[at]! + b * other.data[at + 1]! + c * other.data[below]! + d * other.data[below + 1]!;
      const p = 3 * at;
      const q = 3 * below;
      const e0 = a * from[p]! + b * from[p + 3]! + c * from[q]! + d * from[q + 3]! - to[3 * i]!;
      const e1 = a * from[p + 1]! + b * from[p + 4]! + c * from[q + 1]! + d * from[q + 4]! - to[3 * i + 1]!;
      const e2 = a * from[p + 2]! + b * from[p + 5]! + c * from[q + 2]! + d * from[q + 5]! - to[3 * i + 2]!;
      out.miss.data[o] = e0 * e0 + e1 * e1 + e2 * e2;
    }
  }
  softBlur(out.miss, 1, out.miss);
  return out;
}

/**
 * 1 at the cells of `back` that lie between places which `motion` pulls apart to at least `TORN` times their distance:
 * what is there was not shown.
 */
function tornCells(motion: FlowField, back: FlowField): Uint8Array {
  const { left, top, width, height, step, u, v } = motion;
  const torn = new Uint8Array(back.width * back.height);
  const markBetween = (i: number, j: number, x: number, y: number, dx: number, dy: number): void => {
    const du = u[j]! - u[i]! + dx;
    const dv = v[j]! - v[i]! + dy;
    const squared = du * du + dv * dv;
    if (squared < TORN * TORN * step * step) return;
    const parts = Math.ceil((2 * Math.sqrt(squared)) / back.step);
    for (let k = 1; k < parts; k++) {
      const column = Math.floor((x + u[i]! + (k * du) / parts) / back.step) - back.left;
      const row = Math.floor((y + v[i]! + (k * dv) / parts) / back.step) - back.top;
      if (column >= 0 && row >= 0 && column < back.width && row < back.height) torn[row * back.width + column] = 1;
    }
  };
  for (let row = 0, i = 0; row < height; row++) {
    const y = (top + row + 0.5) * step;
    for (let column = 0; column < width; column++, i++) {
      const x = (left + column + 0.5) * step;
      if (column + 1 < width) markBetween(i, i + 1, x, y, step, 0);
      if (row + 1 < height) markBetween(i, i + width, x, y, 0, step);
    }
  }
  return torn;
}
