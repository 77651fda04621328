import type { Plane } from '../../image/pixels';
import { beginCall, kernels, NOTHING, putFloats, takeFloats } from '../../kernels/kernels';

/** What lies behind the pixels of an edge. */
export interface Behind {
  /** Its features, three numbers a pixel. */
  readonly colours: Float32Array;
  /** How well that is known: 1 where it was in view on the last frame, less the longer ago that is, 0 if never. */
  readonly seen: Plane;
}

/**
 * Coverage along a cut edge from the picture itself, laid on what `out` holds: within a band, each pixel's share between
 * the mean colours found on either side close by, as far as those differ by more than they vary. `signed` is the distance to that edge.
 * Where it is known what lies `behind` a pixel, that counts instead of the outside's mean.
 */
export function coverAlongEdge(
  features: Float32Array,
  signed: Float32Array,
  width: number,
  height: number,
  out: Plane,
  behind: Behind | null = null,
): void {
  beginCall();
  const cover = putFloats(out.data);
  const [colours, seen] = behind === null ? [NOTHING, NOTHING] : [putFloats(behind.colours), putFloats(behind.seen.data)];
  kernels.coverAlongEdge(putFloats(features), putFloats(signed), colours, seen, width, height, cover);
  takeFloats(cover, out.data);
}

/** Coverage that goes from 0 to 1 over two pixels across a cut edge. */
export function rampAlongEdge(signed: Float32Array, out: Plane): void {
  for (let i = 0; i < signed.length; i++) out.data[i] = Math.max(0, Math.min(1, 0.5 + signed[i]! / 2));
}
