import type { Plane } from '../image/pixels';
import { alignTo, likenessOf, type Aligned } from './align';
import { coarsePlace, groundOf, shapeOf, variantsOf } from './coarse-place';
import { agreeOn, keypointsOf } from './keypoints';
import { IN_PLACE, type Placement } from './placement';

/** The same plane mirrored left to right. */
export function mirroredPlane({ width, height, data }: Plane): Plane {
  const out = new Float32Array(data.length);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) out[y * width + x] = data[y * width + width - 1 - x]!;
  return { width, height, data: out };
}

/** How two luma planes at the signs' size lie over each other, from the pictures alone; as they are where nothing better is found. */
export function alignPictures(a: Plane, b: Plane): Aligned {
  const points = keypointsOf(a);
  const agreed = [agreeOn(points, keypointsOf(b), false), agreeOn(points, keypointsOf(mirroredPlane(b)), true)]
    .filter((f) => f !== null)
    .sort((p, q) => q.count - p.count)[0];
  const starts: Placement[] = [IN_PLACE];
  if (agreed !== undefined) starts.push(agreed.placement);
  else starts.push(coarsePlace(groundOf(shapeOf(a)), variantsOf(shapeOf(b))).placement);
  const found = starts.map((start) => alignTo(a, b, start)).sort((p, q) => q.likeness * q.overlap - p.likeness * p.overlap);
  return found[0] ?? { placement: IN_PLACE, ...likenessOf(a, b, IN_PLACE) };
}
