import type { Plane } from '../image/plane';
import { beginCall, kernels, putFloats, takeFloats } from '../kernels/kernels';

/**
 * Coverage along a cut edge from the picture itself, laid on what `out` holds: within a band, each pixel's share between
 * the mean colours found on either side close by, as far as those differ by more than they vary. `signed` is the distance to that edge.
 * `most` is how far they may count against what `out` holds, 0..1.
 */
export function coverAlongEdge(features: Float32Array, signed: Float32Array, width: number, height: number, out: Plane, most = 1): void {
  beginCall();
  const cover = putFloats(out.data);
  kernels.coverAlongEdge(putFloats(features), putFloats(signed), width, height, most, cover);
  takeFloats(cover, out.data);
}

/** Coverage that goes from 0 to 1 over two pixels across a cut edge. */
export function rampAlongEdge(signed: Float32Array, out: Plane): void {
  for (let i = 0; i < signed.length; i++) out.data[i] = Math.max(0, Math.min(1, 0.5 + signed[i]! / 2));
}
