import { flowAt, type Region } from '../../flow/flow-field';
import type { FlowField } from '../../flow/field';
import { boundsOf, cropPlane } from '../../image/plane';
import { createPlane, type Plane } from '../../image/pixels';
import { signedEdgeDistance, squaredDistances } from '../../image/distance';

/** How far around the subject the background is followed. */
const RING_PX = 44;
/** Room around the moved subject in which everything is computed. */
const MARGIN_PX = 24;

/** Coverage that counts as some. */
const ANY = 0.3;

export interface LayerWeights {
  readonly subject: Plane;
  readonly background: Plane;
  /** Around the subject, and the signed distance to its edge there. */
  readonly region: Region;
  readonly signed: Float32Array;
}

/** 1 where a pixel is less than `px` pixels from what `alpha` covers. */
export function nearTo({ width, height, data }: Plane, px: number): Uint8Array {
  const near = new Uint8Array(data.length);
  for (let i = 0; i < near.length; i++) near[i] = data[i]! > ANY ? 1 : 0;
  const squared = new Float32Array(near.length);
  squaredDistances(near, 1, width, height, squared);
  for (let i = 0; i < near.length; i++) near[i] = squared[i]! < px * px ? 1 : 0;
  return near;
}

/** How far each pixel speaks for the subject and for the background around it; null without a subject. */
export function layerWeights(alpha: Plane): LayerWeights | null {
  const region = boundsOf(alpha, 0.5, RING_PX);
  if (region === null) return null;
  const crop = cropPlane(alpha, region);
  const signed = signedEdgeDistance(crop);
  const subject = createPlane(alpha.width, alpha.height);
  const background = createPlane(alpha.width, alpha.height);
  for (let y = region.top, o = 0; y < region.bottom; y++) {
    for (let x = region.left, i = y * alpha.width + region.left; x < region.right; x++, i++, o++) {
      const lean = 2 * alpha.data[i]! - 1;
      if (lean > 0) subject.data[i] = lean;
      else if (signed[o]! > -RING_PX) background.data[i] = -lean;
    }
  }
  return { subject, background, region, signed };
}

/** Where the subject can be on the next frame, with room for its edge and surroundings. */
export function reachOf(layer: Plane, flow: FlowField): Region {
  const { width, height, data } = layer;
  let [left, right, top, bottom] = [width, 0, height, 0];
  const at = new Float64Array(2);
  for (let y = 0; y < height; y += 2) {
    for (let x = 0, i = y * width; x < width; x += 2, i += 2) {
      if (data[i]! < 0.3) continue;
      flowAt(flow, x + 0.5, y + 0.5, at);
      left = Math.min(left, x + at[0]!);
      right = Math.max(right, x + at[0]!);
      top = Math.min(top, y + at[1]!);
      bottom = Math.max(bottom, y + at[1]!);
    }
  }
  const within = (v: number, most: number): number => Math.max(0, Math.min(most, Math.round(v)));
  const region = {
    left: within(left - MARGIN_PX, width - 1),
    top: within(top - MARGIN_PX, height - 1),
    right: within(right + MARGIN_PX, width),
    bottom: within(bottom + MARGIN_PX, height),
  };
  return { ...region, right: Math.max(region.left + 1, region.right), bottom: Math.max(region.top + 1, region.bottom) };
}

/** Side of the tiles in which far-off pixels are left out. */
const TILE = 8;

/** 1 at the pixels of `region` in the tiles that one of the `layers` can reach by its motion, and those around them. */
export function pixelsInReach(region: Region, ...layers: readonly (readonly [Plane, FlowField])[]): Uint8Array {
  const width = region.right - region.left;
  const height = region.bottom - region.top;
  const across = Math.ceil(width / TILE);
  const down = Math.ceil(height / TILE);
  const tiles = new Uint8Array(across * down);
  const at = new Float64Array(2);
  for (const [alpha, flow] of layers) {
    for (let y = 0; y < alpha.height; y += 3) {
      for (let x = 0, i = y * alpha.width; x < alpha.width; x += 3, i += 3) {
        if (alpha.data[i]! < 0.3) continue;
        flowAt(flow, x + 0.5, y + 0.5, at);
        const column = Math.floor((x + at[0]! - region.left) / TILE);
        const row = Math.floor((y + at[1]! - region.top) / TILE);
        if (column >= 0 && row >= 0 && column < across && row < down) tiles[row * across + column] = 1;
      }
    }
  }
  const near = widened(tiles, across, down);
  const out = new Uint8Array(width * height);
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0, row = Math.floor(y / TILE) * across; x < width; x++, o++) out[o] = near[row + ((x / TILE) | 0)]!;
  return out;
}

/** All of a picture. */
export const whole = ({ width, height }: { readonly width: number; readonly height: number }): Region => ({
  left: 0,
  top: 0,
  right: width,
  bottom: height,
});

/** The least region that holds both. */
export const joined = (a: Region, b: Region): Region => ({
  left: Math.min(a.left, b.left),
  top: Math.min(a.top, b.top),
  right: Math.max(a.right, b.right),
  bottom: Math.max(a.bottom, b.bottom),
});

/** Pixels covered. */
export function areaOf({ data }: Plane): number {
  let sum = 0;
  for (let i = 0; i < data.length; i++) sum += data[i]!;
  return sum;
}

/** `mask` (1 or 0) grown by two cells to all sides. */
function widened(mask: Uint8Array, width: number, height: number): Uint8Array {
  const rows = new Uint8Array(mask.length);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (mask[i] === 0) continue;
      rows.fill(1, i - Math.min(2, x), i + Math.min(2, width - 1 - x) + 1);
    }
  }
  const out = new Uint8Array(mask.length);
  for (let y = 0; y < height; y++) {
    const last = Math.min(height - 1, y + 2);
    for (let v = Math.max(0, y - 2); v <= last; v++)
      for (let i = y * width, j = v * width, end = i + width; i < end; i++, j++) out[i]! |= rows[j]!;
  }
  return out;
}
