import type { EdgeFill } from '../../film/composition';
import { apply, cornersOf, depthAt, invert, type Matrix } from '../../geometry/matrix';
import { BYTE_OF_ROOT, LINEAR_OF_BYTE } from '../../image/light';
import type { Image } from '../../image/pixels';
import { beginCall, kernels, layDoubles, putBytes, reserve, reserveZeros, takeBytes } from '../../kernels/kernels';

const EDGES: Readonly<Record<EdgeFill, number>> = { none: 0, mirrored: 1, repeated: 2, stretched: 3 };

interface Bounds {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** The pixels of the output on which a picture may show. */
function boundsOf(map: Matrix, picture: Image, edges: EdgeFill, width: number, height: number): Bounds {
  const whole = { left: 0, top: 0, right: width, bottom: height };
  if (edges !== 'none') return whole;
  const half = { x: picture.width / 2, y: picture.height / 2 };
  // half a pixel more: the border fades over it
  const corners = cornersOf(picture.width + 2, picture.height + 2).map(({ x, y }) => ({ x: x + half.x, y: y + half.y }));
  if (corners.some((c) => depthAt(map, c) < 1e-6)) return whole;
  const at = corners.map((c) => apply(map, c));
  const clip = (v: number, most: number): number => Math.max(0, Math.min(most, v));
  return {
    left: clip(Math.floor(Math.min(...at.map((p) => p.x))), width),
    top: clip(Math.floor(Math.min(...at.map((p) => p.y))), height),
    right: clip(Math.ceil(Math.max(...at.map((p) => p.x))), width),
    bottom: clip(Math.ceil(Math.max(...at.map((p) => p.y))), height),
  };
}

/**
 * Draws `picture` (straight alpha), as far as `coverage` of its own size leaves it, through each of `maps` from its pixels to those of `out`, and
 * shows their mean: the moments of an open shutter, added up in linear light with 16 bits. `out` becomes premultiplied and holds nothing else.
 */
export function drawThrough(picture: Image, coverage: Uint8Array, edges: EdgeFill, maps: readonly Matrix[], out: Image): void {
  const n = picture.width * picture.height;
  const pixels = out.width * out.height;
  beginCall();
  const [bytes, cover, linear] = [putBytes(picture.data), putBytes(coverage), putBytes(new Uint8Array(LINEAR_OF_BYTE.buffer))];
  const light = reserve(n, 16);
  kernels.toLight(bytes, cover, n, linear, light);
  const sum = reserveZeros(4 * pixels);
  const map = reserve(9, 8);
  for (const m of maps) {
    layDoubles(Float64Array.from(invert(m)), map);
    const { left, top, right, bottom } = boundsOf(m, picture, edges, out.width, out.height);
    kernels.addLight(light, picture.width, picture.height, EDGES[edges], map, sum, out.width, left, top, right, bottom);
  }
  const [display, drawn] = [putBytes(BYTE_OF_ROOT), reserve(pixels)];
  kernels.fromLight(sum, pixels, maps.length, display, drawn);
  takeBytes(drawn, out.data);
}
