import { chain, invert, scaling, translation, type Matrix } from '../../geometry/matrix';
import { signedDistance } from '../../image/distance';
import type { EdgeStyle } from '../../geometry/polygon-raster';
import { beginCall, kernels, placeFor, putBytes, takeBytes } from '../../kernels/kernels';

/** Coverage of one frame as it is kept, 0..255, row-major, at a size of its own. */
export interface StoredCoverage {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** The coverage with its edge moved outwards and softened, in its own pixels. Without either it is handed back as it is. */
export function styleCoverage(stored: StoredCoverage, { growPx, featherPx }: EdgeStyle): StoredCoverage {
  if (Math.abs(growPx) < 0.05 && featherPx <= 1) return stored;
  const { width, height, data } = stored;
  const inside = new Uint8Array(data.length);
  for (let i = 0; i < inside.length; i++) inside[i] = data[i]! >= 128 ? 1 : 0;
  const signed = new Float32Array(data.length);
  signedDistance(inside, width, height, signed);
  const out = new Uint8Array(data.length);
  const ramp = Math.max(1, featherPx);
  for (let i = 0; i < out.length; i++) {
    // next to the edge the coverage itself says where within the pixel it runs
    const d = Math.abs(signed[i]!) <= 0.5 ? data[i]! / 255 - 0.5 : signed[i]!;
    out[i] = Math.max(0, Math.min(255, 255 * (0.5 + (d + growPx) / ramp) + 0.5));
  }
  return { width, height, data: out };
}

/**
 * Draws stored coverage of a medium of `size` pixels into `out` (`width` × `height`), bilinear; beyond the medium it
 * covers nothing. `placed`, an affine map, takes medium pixels from the centre to pixels of `out`.
 */
export function placeCoverage(
  stored: StoredCoverage,
  size: { readonly width: number; readonly height: number },
  placed: Matrix,
  width: number,
  height: number,
  out: Uint8Array,
): void {
  const [a, b, c, d, e, f] = chain(
    invert(placed),
    scaling(stored.width / size.width, stored.height / size.height),
    translation(stored.width / 2, stored.height / 2),
  );
  beginCall();
  const from = putBytes(stored.data);
  const drawn = placeFor(out);
  kernels.placeCoverage(from, stored.width, stored.height, a, b, c, d, e, f, width, height, drawn);
  takeBytes(drawn, out);
}
