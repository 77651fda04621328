import { createPlane, type Plane } from '../image/plane';
import { beginCall, kernels, putEmptyPlane, putField, putPlane, takePlane } from '../kernels/kernels';
import type { FlowField, Region } from './flow-field';

/** What `plane` has where the pixels of `region`, on a later picture, came from under `back`; bilinear, its edge pixels repeated. */
export function carriedPlane(plane: Plane, back: FlowField, region: Region): Plane {
  const out = createPlane(region.right - region.left, region.bottom - region.top);
  beginCall();
  const carried = putEmptyPlane(out);
  kernels.carryPlane(putField(back), putPlane(plane), region.left, region.top, carried);
  takePlane(carried, out);
  return out;
}
