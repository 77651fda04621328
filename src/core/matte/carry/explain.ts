import { invertField, type Region } from '../../flow/flow-field';
import { putField, type FlowField } from '../../flow/field';
import { createPlane, type Plane } from '../../image/pixels';
import { beginCall, kernels, NOTHING, putBytes, putFloats, reserve, reserveZeros, takeBytes, takeFloats } from '../../kernels/kernels';
import { putEmptyPlane, putPlane, takePlane } from '../../image/plane-memory';

/** What a motion says of pixels: how badly it explains them, and what lay over the places they came from. */
export interface Explanation {
  /** Squared colour difference, a little blurred; 0 where it was not asked. */
  readonly miss: Plane;
  /** The two coverages where the pixel came from; 0 where it was not asked. From beyond the frame the nearest pixel's. */
  readonly cover: Plane;
  readonly other: Plane;
  /** 1 where the earlier picture showed what is here, or that was not asked; 0 where it comes in over the border or the motion tears open. */
  readonly shown: Uint8Array;
  /** The motion from the region back to the earlier picture. */
  readonly back: FlowField;
}

/**
 * Looks where the pixels of `region` marked in `wanted` (1, one a pixel of the region) came from under `motion`, from
 * the picture whose features are `from` to the one whose features are `to`. `cover` and `other`, which may be the same,
 * are coverages on the earlier picture. What it showed there is written to `colours`, three numbers a pixel, if it is given.
 */
export function explain(
  from: Float32Array,
  to: Float32Array,
  motion: FlowField,
  cover: Plane,
  other: Plane,
  region: Region,
  wanted: Uint8Array,
  colours: Float32Array | null = null,
): Explanation {
  const across = region.right - region.left;
  const down = region.bottom - region.top;
  const back = invertField(motion, region);
  const out = {
    miss: createPlane(across, down),
    cover: createPlane(across, down),
    other: createPlane(across, down),
    shown: new Uint8Array(across * down).fill(1),
    back,
  };
  beginCall();
  const backward = putField(back);
  const torn = reserveZeros(back.u.length, 1);
  kernels.markTorn(putField(motion), backward, torn);
  const covered = putPlane(cover);
  const miss = putEmptyPlane(out.miss);
  const [covers, others, shown] = [putFloats(out.cover.data), putFloats(out.other.data), putBytes(out.shown)];
  const found = colours === null ? NOTHING : reserve(colours.length + 1);
  kernels.explain(
    putFloats(from),
    putFloats(to),
    backward,
    torn,
    covered,
    other === cover ? covered : putPlane(other),
    region.left,
    region.top,
    putBytes(wanted),
    miss,
    covers,
    others,
    shown,
    found,
  );
  if (colours !== null) takeFloats(found, colours);
  // two box blurs of the least size
  const scratch = reserve(out.miss.data.length + across);
  kernels.boxBlur(miss, 1, scratch);
  kernels.boxBlur(miss, 1, scratch);
  takePlane(miss, out.miss);
  takeFloats(covers, out.cover.data);
  takeFloats(others, out.other.data);
  takeBytes(shown, out.shown);
  return out;
}
