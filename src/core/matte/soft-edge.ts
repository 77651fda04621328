import type { Plane } from '../image/plane';

/** Where the cut and the moved matte agree this well, the moved matte's own soft edge is kept. */
const AGREE_PX = 1.6;

/**
 * Coverage along the edge: where the cut edge lies close to where the matte was moved, the moved matte shifted onto
 * it; elsewhere a ramp one pixel wide. Both are given by the signed distance to them.
 */
export function softEdge(signed: Float32Array, predicted: Plane, predictedSigned: Float32Array, out: Plane): void {
  for (let i = 0; i < signed.length; i++) {
    const gap = Math.abs(signed[i]! - predictedSigned[i]!);
    const hard = Math.max(0, Math.min(1, 0.5 + signed[i]!));
    const near = Math.abs(signed[i]!) < 6;
    const keep = near ? Math.max(0, Math.min(1, (AGREE_PX + 1 - gap) / 1.5)) : 0;
    out.data[i] = keep * predicted.data[i]! + (1 - keep) * hard;
  }
}
