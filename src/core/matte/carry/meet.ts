import { createPlane, type Plane } from '../../image/pixels';
import { signedEdgeDistance } from '../../image/distance';

/** How far two edges may lie apart and still be mixed as they are. */
const CLOSE_PX = 1.5;

/** The matte between `a` and `b`, `share` 0..1 of the way: the edge moves from one to the other instead of fading. */
export function blendMattes(a: Plane, b: Plane, share: number): Plane {
  const out = createPlane(a.width, a.height);
  const [da, db] = [signedEdgeDistance(a), signedEdgeDistance(b)];
  for (let i = 0; i < out.data.length; i++) {
    const mixed = (1 - share) * a.data[i]! + share * b.data[i]!;
    const moved = Math.max(0, Math.min(1, 0.5 + (1 - share) * da[i]! + share * db[i]!));
    out.data[i] = Math.abs(da[i]! - db[i]!) <= CLOSE_PX ? mixed : moved;
  }
  return out;
}
