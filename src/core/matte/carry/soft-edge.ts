import { createPlane, type Plane } from '../../image/pixels';
import { sampleBilinear } from '../../image/plane';
import { edgeShift } from './given-edge';

/** Further from the cut than this, in pixels, nothing is partly covered. */
const SOFT_PX = 6;

/**
 * Coverage along a cut edge, which `signed` gives the distance to: the softness of the matte `moved` there, shifted onto the cut where
 * the two lie close together; elsewhere a ramp one pixel wide.
 */
export function softEdge(signed: Float32Array, moved: Plane): Plane {
  const { width, height } = moved;
  const alpha = createPlane(width, height);
  for (let i = 0; i < signed.length; i++) alpha.data[i] = Math.max(0, Math.min(1, 0.5 + signed[i]!));
  const { keep, dx, dy } = edgeShift(alpha, moved);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      const share = keep.data[i]!;
      if (share === 0 || Math.abs(signed[i]!) >= SOFT_PX) continue;
      const soft = sampleBilinear(moved, x + 0.5 + dx.data[i]!, y + 0.5 + dy.data[i]!);
      alpha.data[i]! += share * (soft - alpha.data[i]!);
    }
  }
  return alpha;
}
