import { flowAt, type Region } from '../../flow/flow-field';
import type { FlowField } from '../../flow/field';
import { boxBlur, sampleBilinear, softBlur } from '../../image/plane';
import { createPlane, type Plane } from '../../image/pixels';
import type { StoredCoverage } from '../coverage/stored-coverage';

/** How a moved matte is to be read so that its own edge lies where a cut has found it. */
export interface EdgeShift {
  /** How far the moved matte counts against the cut, 0..1; 0 away from the edge. */
  readonly keep: Plane;
  /** What to add to a pixel's position before the moved matte is read there, in pixels. */
  readonly dx: Plane;
  readonly dy: Plane;
}

/** Half width of the windows along the edge in which both are compared. */
const RADIUS = 3;
/** Over this radius the direction across the edge is smoothed. */
const DIRECTION_RADIUS = 2;
/** Up to this mean distance between the two, in pixels, the moved matte is believed; from that on, no more. */
const NEAR_PX = 1;
const FAR_PX = 3;
/** Length of edge a pixel of the window below which there is none to speak of, and slope of coverage that has no direction. */
const LEAST_EDGE = 0.01;
const LEAST_SLOPE = 1e-3;

/**
 * Compares the edge of `found` with that of `moved` (coverages 0..1), which is believed as far as `trust` says (0..1; wholly
 * without it; all of one size). What one covers more than the other in a window, over the length of edge in it, is how far the edges
 * lie apart there, in parts of a pixel, free of the single pixels' noise.
 */
export function edgeShift(found: Plane, moved: Plane, trust: Plane | null = null): EdgeShift {
  const { width, height } = moved;
  const more = createPlane(width, height);
  const apart = createPlane(width, height);
  const edge = createPlane(width, height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const difference = found.data[i]! - moved.data[i]!;
      more.data[i] = difference;
      apart.data[i] = Math.abs(difference);
      const gx = 0.5 * riseAcross(moved, x, i);
      const gy = 0.5 * riseDown(moved, y, i);
      edge.data[i] = Math.sqrt(gx * gx + gy * gy);
    }
  }
  boxBlur(more, RADIUS, more);
  boxBlur(apart, RADIUS, apart);
  boxBlur(edge, RADIUS, edge);
  const smooth = createPlane(width, height);
  softBlur(moved, DIRECTION_RADIUS, smooth);
  const [keep, dx, dy] = [createPlane(width, height), createPlane(width, height), createPlane(width, height)];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const length = edge.data[i]!;
      if (length < LEAST_EDGE) continue;
      const gx = riseAcross(smooth, x, i);
      const gy = riseDown(smooth, y, i);
      const slope = Math.sqrt(gx * gx + gy * gy);
      if (slope < LEAST_SLOPE) continue;
      const way = more.data[i]! / (length * slope);
      dx.data[i] = way * gx;
      dy.data[i] = way * gy;
      const near = Math.max(0, Math.min(1, (FAR_PX - apart.data[i]! / length) / (FAR_PX - NEAR_PX)));
      keep.data[i] = trust === null ? near : trust.data[i]! * near;
    }
  }
  return { keep, dx, dy };
}

const riseAcross = ({ width, data }: Plane, x: number, i: number): number => data[x + 1 < width ? i + 1 : i]! - data[x > 0 ? i - 1 : i]!;

const riseDown = ({ width, height, data }: Plane, y: number, i: number): number =>
  data[y + 1 < height ? i + width : i]! - data[y > 0 ? i - width : i]!;

/** A shift that was found in the part `region` of a picture of `width` × `height`, and the motion from there back to the given matte. */
export interface PlacedShift extends EdgeShift {
  readonly region: Region;
  readonly back: FlowField;
}

/**
 * Lays the edge of `given` (coverage 0..1) over that of `coverage`, which has its size, in place. The shift and the motion
 * are in pixels of a picture of `width` × `height`, which may be smaller: so the given edge's detail outlives being
 * carried on that.
 */
export function layGivenEdge(given: Plane, shift: PlacedShift, width: number, height: number, { data }: StoredCoverage): void {
  const { keep, dx, dy, region, back } = shift;
  const across = given.width / width;
  const down = given.height / height;
  const at = new Float64Array(2);
  const right = Math.min(given.width, Math.floor(across * region.right));
  const bottom = Math.min(given.height, Math.floor(down * region.bottom));
  for (let y = Math.ceil(down * region.top); y < bottom; y++) {
    const py = (y + 0.5) / down;
    const row = Math.min(keep.height - 1, Math.floor(py) - region.top) * keep.width;
    for (let x = Math.ceil(across * region.left), o = y * given.width + x; x < right; x++, o++) {
      const px = (x + 0.5) / across;
      const share = keep.data[row + Math.min(keep.width - 1, Math.floor(px) - region.left)]!;
      if (share === 0) continue;
      const qx = px + sampleBilinear(dx, px - region.left, py - region.top);
      const qy = py + sampleBilinear(dy, px - region.left, py - region.top);
      flowAt(back, qx, qy, at);
      const value = sampleBilinear(given, across * (qx + at[0]!), down * (qy + at[1]!));
      data[o] = 255 * share * value + (1 - share) * data[o]! + 0.5;
    }
  }
}
