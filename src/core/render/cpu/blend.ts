import type { Matrix } from '../../geometry/matrix';
import type { Image } from '../../image/pixels';
import { beginCall, kernels, putBytes, takeBytes } from '../../kernels/kernels';

/**
 * Lays `picture` over `out` as far as `coverage`, a byte a pixel of `out`, and `opacity`, 0..255, say. Seen through `inverse`, an affine map from
 * places in `out` to places in `picture`, in pixels: bilinear, and beyond its edge its last pixels repeat or it goes on `mirrored`. Without
 * one both have the same size and nothing is sampled. Colours in `out` are premultiplied by its alpha.
 */
export function blend(picture: Image, inverse: Matrix | null, mirrored: boolean, coverage: Uint8Array, opacity: number, out: Image): void {
  beginCall();
  const [from, cover, to] = [putBytes(picture.data), putBytes(coverage), putBytes(out.data)];
  if (inverse === null) kernels.blendAligned(from, cover, opacity, coverage.length, to);
  else {
    const [a, c, e, b, d, f] = inverse;
    kernels.blendSampled(from, picture.width, picture.height, a, b, c, d, e, f, mirrored, cover, opacity, out.width, out.height, to);
  }
  takeBytes(to, out.data);
}
