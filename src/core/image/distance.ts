import { beginCall, kernels, putBytes, reserve, takeFloats } from '../kernels/kernels';
import type { Plane } from './pixels';

/** Without a pixel to be near to, everything is as far as this. */
export const FAR = 1e12;

/**
 * Squared distance of every pixel to the nearest one with `inside[i] === value`, by lower envelopes of parabolas along
 * rows and columns (Felzenszwalb & Huttenlocher 2012). Exact. Without such a pixel everything is as far as `FAR`.
 */
export function squaredDistances(inside: Uint8Array, value: number, width: number, height: number, out: Float32Array): void {
  beginCall();
  const distances = reserve(width * height);
  kernels.squaredDistances(putBytes(inside), value, width, height, distances, reserve(6 * width + 8));
  takeFloats(distances, out);
}

/**
 * Signed distance to the edge of `inside` (values 0 and 1), positive inside, in pixels; half a pixel at the edge pixels.
 * Distances grow along rows, columns and diagonals (Borgefors 1986), at most 8 % too long, in two sweeps.
 */
export function signedDistance(inside: Uint8Array, width: number, height: number, out: Float32Array): void {
  beginCall();
  const distances = reserve(width * height);
  kernels.signedDistance(putBytes(inside), width, height, distances);
  takeFloats(distances, out);
}

/** Signed distance to the half-covered edge, positive inside. */
export function signedEdgeDistance(alpha: Plane): Float32Array {
  const inside = new Uint8Array(alpha.data.length);
  for (let i = 0; i < inside.length; i++) inside[i] = alpha.data[i]! >= 0.5 ? 1 : 0;
  const out = new Float32Array(inside.length);
  signedDistance(inside, alpha.width, alpha.height, out);
  return out;
}
