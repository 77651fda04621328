import { beginCall, kernels, reserve } from '../kernels/kernels';
import { createPlane, requireSize, type Image, type Plane } from './pixels';
import { putPlane, takePlane } from './plane-memory';

/** Rec. 709 luma of `image` in 0..255, in display light. */
export function lumaOf({ width, height, data }: Image, out: Plane = createPlane(width, height)): Plane {
  requireSize(out, width, height, 'lumaOf: out');
  const to = out.data;
  for (let i = 0, p = 0; i < to.length; i++, p += 4) to[i] = 0.2126 * data[p]! + 0.7152 * data[p + 1]! + 0.0722 * data[p + 2]!;
  return out;
}

/**
 * Halves `src` into `out` by averaging 2×2 blocks; an odd last column or row counts twice.
 * Output centres are the corners their four inputs share, so positions halve exactly. `out` must be other memory.
 */
export function halvePlane(src: Plane, out: Plane): void {
  requireSize(out, (src.width + 1) >> 1, (src.height + 1) >> 1, 'halvePlane: out');
  const from = src.data;
  const to = out.data;
  for (let y = 0, o = 0; y < out.height; y++) {
    const top = 2 * y * src.width;
    const bottom = 2 * y + 1 < src.height ? top + src.width : top;
    for (let x = 0; x < out.width; x++, o++) {
      const left = 2 * x;
      const right = left + 1 < src.width ? left + 1 : left;
      to[o] = 0.25 * (from[top + left]! + from[top + right]! + from[bottom + left]! + from[bottom + right]!);
    }
  }
}

export function halved(src: Plane): Plane {
  const out = createPlane((src.width + 1) >> 1, (src.height + 1) >> 1);
  halvePlane(src, out);
  return out;
}

/** `src` and its halvings, largest first, while both sides stay at least `leastSide`, at most `levels` of them. */
export function pyramidOf(src: Plane, levels: number, leastSide = 16): Plane[] {
  const pyramid = [src];
  while (pyramid.length < levels) {
    const last = pyramid.at(-1)!;
    if (Math.min(last.width, last.height) < 2 * leastSide) break;
    pyramid.push(halved(last));
  }
  return pyramid;
}

/** Bilinear value at (x, y), pixel centres at +0.5; the edge pixels repeat outwards. */
export function sampleBilinear({ width, height, data }: Plane, x: number, y: number): number {
  const px = Math.max(0, Math.min(width - 1, x - 0.5));
  const py = Math.max(0, Math.min(height - 1, y - 0.5));
  const left = px | 0;
  const top = py | 0;
  const right = left + 1 < width ? left + 1 : left;
  const upperRow = top * width;
  const lowerRow = top + 1 < height ? upperRow + width : upperRow;
  const fx = px - left;
  const fy = py - top;
  const upper = data[upperRow + left]! * (1 - fx) + data[upperRow + right]! * fx;
  const lower = data[lowerRow + left]! * (1 - fx) + data[lowerRow + right]! * fx;
  return upper * (1 - fy) + lower * fy;
}

/** Scales `src` to `out` bilinearly; for large reductions halve first. `out` must be other memory. */
export function resizePlane(src: Plane, out: Plane): void {
  const sx = src.width / out.width;
  const sy = src.height / out.height;
  for (let y = 0, o = 0; y < out.height; y++)
    for (let x = 0; x < out.width; x++, o++) out.data[o] = sampleBilinear(src, (x + 0.5) * sx, (y + 0.5) * sy);
}

/** Central differences, half of the difference between both neighbours; edge pixels repeat. */
export function gradients(src: Plane, outX: Plane, outY: Plane): void {
  requireSize(outX, src.width, src.height, 'gradients: outX');
  requireSize(outY, src.width, src.height, 'gradients: outY');
  const { width, height, data } = src;
  for (let y = 0, i = 0; y < height; y++) {
    const up = y > 0 ? -width : 0;
    const down = y + 1 < height ? width : 0;
    for (let x = 0; x < width; x++, i++) {
      const left = x > 0 ? -1 : 0;
      const right = x + 1 < width ? 1 : 0;
      outX.data[i] = 0.5 * (data[i + right]! - data[i + left]!);
      outY.data[i] = 0.5 * (data[i + down]! - data[i + up]!);
    }
  }
}

/** Mean over the (2·radius + 1)² box around each pixel, by running sums; near the border over the part inside. `out` may be `src`. */
export function boxBlur(src: Plane, radius: number, out: Plane): void {
  blurTimes(1, src, radius, out);
}

/** Two box blurs, which come close to a Gaussian of the same variance. `out` may be `src`. */
export function softBlur(src: Plane, radius: number, out: Plane): void {
  blurTimes(2, src, radius, out);
}

function blurTimes(times: number, src: Plane, radius: number, out: Plane): void {
  requireSize(out, src.width, src.height, 'boxBlur: out');
  beginCall();
  const plane = putPlane(src);
  const scratch = reserve(src.data.length + src.width);
  for (let k = 0; k < times; k++) kernels.boxBlur(plane, radius, scratch);
  takePlane(plane, out);
}

/** The part of `plane` that holds all values of at least `least`, widened by `margin` as far as it goes; null when there are none. */
export function boundsOf(
  { width, height, data }: Plane,
  least: number,
  margin: number,
): { readonly left: number; readonly top: number; readonly right: number; readonly bottom: number } | null {
  let left = width;
  let right = -1;
  let top = height;
  let bottom = -1;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (data[i]! < least) continue;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
  }
  if (right < 0) return null;
  return {
    left: Math.max(0, left - margin),
    top: Math.max(0, top - margin),
    right: Math.min(width, right + 1 + margin),
    bottom: Math.min(height, bottom + 1 + margin),
  };
}

/** The part of `src` from (left, top) to before (right, bottom), copied. */
export function cropPlane(src: Plane, { left, top, right, bottom }: { left: number; top: number; right: number; bottom: number }): Plane {
  const out = createPlane(right - left, bottom - top);
  for (let y = top; y < bottom; y++) out.data.set(src.data.subarray(y * src.width + left, y * src.width + right), (y - top) * out.width);
  return out;
}

/** Writes `part` into `out` with its first pixel at (left, top); it must fit. */
export function pastePlane(part: Plane, out: Plane, left: number, top: number): void {
  for (let y = 0; y < part.height; y++)
    out.data.set(part.data.subarray(y * part.width, (y + 1) * part.width), (y + top) * out.width + left);
}
