import { createPlane, type Plane } from '../image/pixels';
import { beginCall, kernels } from '../kernels/kernels';
import { putEmptyPlane, putPlane, takePlane } from '../image/plane-memory';
import { putField, type FlowField } from './field';
import type { Region } from './flow-field';

/** What `plane` has where the pixels of `region`, on a later picture, came from under `back`; bilinear, its edge pixels repeated. */
export function carriedPlane(plane: Plane, back: FlowField, region: Region): Plane {
  const out = createPlane(region.right - region.left, region.bottom - region.top);
  beginCall();
  const carried = putEmptyPlane(out);
  kernels.carryPlane(putField(back), putPlane(plane), region.left, region.top, carried);
  takePlane(carried, out);
  return out;
}
