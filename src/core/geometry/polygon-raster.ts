import { beginCall, kernels, placeFor, putDoubles, reserve, reserveZeros, takeBytes } from '../kernels/kernels';

/** How a shape's edge is drawn, in pixels of the raster. */
export interface EdgeStyle {
  /** Moves the edge outwards; negative moves it inwards. */
  readonly growPx: number;
  /** Width of the ramp from nothing to full, half on each side of the edge. */
  readonly featherPx: number;
}

/** A shape's own border, without a ramp. */
export const HARD_EDGE: EdgeStyle = { growPx: 0, featherPx: 0 };

/** Rows that the kernels work on together. */
const STRIP = 64;
/** Further away than any shape is drawn, and near enough to compute with. */
const FURTHEST = 1e9;

/** Room for what the cells of a strip of rows add up to, all 0. */
const cells = (width: number): readonly [number, number] => [
  reserveZeros(STRIP * (width + 1), 8),
  reserveZeros(STRIP * Math.floor((width + 64) / 64), 8),
];

const withinReach = (polygon: Float64Array): Float64Array => polygon.map((v) => Math.max(-FURTHEST, Math.min(FURTHEST, v)));

/**
 * Turns closed polygons into 8-bit coverage. A hard edge gets the exact area of each pixel inside the polygon;
 * a grown or feathered one gets a linear ramp of the true distance to it. The polygon ([x0, y0, x1, y1, …], raster pixels, closed by itself)
 * may reach anywhere beyond the raster. Loops that overlap in the same direction count once; a polygon that crosses itself fills both lobes.
 * Writes 0..255 for each pixel into `out`.
 * @throws RangeError unless both sides are positive whole numbers, `out` has their size and all coordinates are finite.
 */
export function fillPolygon(polygon: Float64Array, edge: EdgeStyle, width: number, height: number, out: Uint8Array): void {
  if (!(Number.isInteger(width) && Number.isInteger(height) && width > 0 && height > 0))
    throw new RangeError('fillPolygon: sides must be positive whole numbers');
  if (out.length !== width * height) throw new RangeError('fillPolygon: out has another size');
  if (!polygon.every(Number.isFinite)) throw new RangeError('fillPolygon: a coordinate is not finite');
  if (polygon.length < 6) {
    out.fill(0);
    return;
  }
  const count = polygon.length / 2;
  beginCall();
  const points = putDoubles(withinReach(polygon));
  const drawn = placeFor(out);
  if (edge.growPx === 0 && edge.featherPx <= 1) kernels.fillPolygon(points, count, width, height, ...cells(width), drawn);
  else {
    const distances = reserve(STRIP * width + 4);
    const winding = reserve(STRIP * (width + 1) + 4, 2);
    kernels.fillRamp(points, count, edge.growPx, Math.max(edge.featherPx, 1), width, height, distances, winding, drawn);
  }
  takeBytes(drawn, out);
}

/** Area of a polygon inside a raster, in pixels, without the rounding to 8 bits. */
export function polygonArea(polygon: Float64Array, width: number, height: number): number {
  beginCall();
  const points = putDoubles(withinReach(polygon));
  return kernels.polygonArea(points, polygon.length / 2, width, height, ...cells(width));
}
