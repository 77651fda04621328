import { beginCall, kernels, placeFor, putBytes, reserve, takeBytes } from '../kernels/kernels';
import type { Image } from './pixels';

/** Bytes of a YUV 4:2:0 picture: its Y, U and V planes one after the other, those of U and V with half the columns and rows, rounded up. */
export const yuvBytes = (width: number, height: number): number => width * height + 2 * Math.ceil(width / 2) * Math.ceil(height / 2);

/**
 * A YUV 4:2:0 picture in limited range, by the matrix of BT.709 with chroma on the left of each pair of columns (ITU-R BT.709-6), as opaque RGBA in
 * `out`. Each colour is the exact one, rounded; chroma between its places is bilinear.
 * @throws RangeError when `planes` has too few bytes
 */
export function rgbOfYuv(planes: Uint8Array, out: Image): void {
  const { width, height, data } = out;
  if (planes.length < yuvBytes(width, height)) throw new RangeError('rgbOfYuv: planes has too few bytes');
  beginCall();
  const from = putBytes(planes.subarray(0, yuvBytes(width, height)));
  const to = placeFor(data);
  kernels.yuvToRgb(from, width, height, reserve(width + 10), to);
  takeBytes(to, data);
}

/**
 * The other way round, alpha left out: chroma is the mean of three columns, the middle one counted twice, and two rows.
 * @returns how many pixels have an alpha of less than `whole`
 * @throws RangeError when `planes` has too few bytes
 */
export function yuvOfRgb({ width, height, data }: Image, planes: Uint8Array, whole = 0): number {
  if (planes.length < yuvBytes(width, height)) throw new RangeError('yuvOfRgb: planes has too few bytes');
  beginCall();
  const from = putBytes(data);
  const out = planes.subarray(0, yuvBytes(width, height));
  const to = placeFor(out);
  const open = kernels.rgbToYuv(from, width, height, whole, to);
  takeBytes(to, out);
  return open;
}
