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
}

/** A place this far beyond the frame's outermost pixel centres was not in it. */
const BEYOND_PX = 1;

/** Share of a place's area that must have been there before. */
const TORN = 0.5;

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
  const out = {
    miss: createPlane(across, down),
    cover: createPlane(across, down),
    other: createPlane(across, down),
    shown: new Uint8Array(across * down).fill(1),
  };
  const back = invertField(motion, region);
  const u = new Float32Array(across);
  const v = new Float32Array(across);
  const torn = tornCells(back);
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

/** 1 at the cells of a motion back in time in which less than half of the area was there before: what lies there was not shown. */
function tornCells({ width, height, step, u, v }: FlowField): Uint8Array {
  const torn = new Uint8Array(width * height);
  for (let y = 1; y + 1 < height; y++) {
    for (let x = 1, i = y * width + 1; x + 1 < width; x++, i++) {
      const ux = (u[i + 1]! - u[i - 1]!) / (2 * step);
      const uy = (u[i + width]! - u[i - width]!) / (2 * step);
      const vx = (v[i + 1]! - v[i - 1]!) / (2 * step);
      const vy = (v[i + width]! - v[i - width]!) / (2 * step);
      if ((1 + ux) * (1 + vy) - uy * vx < TORN) torn[i] = 1;
    }
  }
  return torn;
}
