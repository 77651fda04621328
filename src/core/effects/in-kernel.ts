import type { Pointer } from '../kernels/kernel-exports';
import { beginCall, kernels, placeFor, putBytes, putWords, reserve, takeBytes } from '../kernels/kernels';
import type { Image } from '../image/pixels';

/** Has kernels draw `src` into `out`: `draw` is told where both lie, and how many pixels they have. */
export function drawInKernel(src: Image, out: Image, draw: (from: Pointer, to: Pointer, pixels: number) => void): void {
  beginCall();
  const from = putBytes(src.data);
  const to = placeFor(out.data);
  draw(from, to, src.width * src.height);
  takeBytes(to, out.data);
}

/** Signed distances, positive inside, to the edge of what is half covered: a float a pixel. */
export function edgeDistances(from: Pointer, { width, height }: Image): Pointer {
  const inside = reserve(width * height, 1);
  kernels.insideOf(from, width * height, inside);
  const signed = reserve(width * height);
  kernels.signedDistance(inside, width, height, signed);
  return signed;
}

/** Softens a plane of floats over about `radius` pixels, by two box blurs. */
export function soften(plane: Pointer, { width, height }: Image, radius: number): void {
  const whole = Math.round(radius / 2);
  if (whole === 0) return;
  const described = putWords([width, height, plane]);
  const scratch = reserve(width * height + width);
  for (let pass = 0; pass < 2; pass++) kernels.boxBlur(described, whole, scratch);
}
