import { createImage, type Image } from '../image/pixels';
import { beginCall, kernels, placeFor, putBytes, takeBytes } from '../kernels/kernels';

/** The picture between two of one size, `share` 0..1 of the second. */
export function fade(first: Image, second: Image, share: number): Image {
  const out = createImage(first.width, first.height);
  beginCall();
  const [from, other] = [putBytes(first.data), putBytes(second.data)];
  const drawn = placeFor(out.data);
  kernels.fade(from, other, Math.round(256 * share), out.data.length, drawn);
  takeBytes(drawn, out.data);
  return out;
}
