import { compose, invert, scaling, translation, type Matrix } from '../../geometry/matrix';
import { signedDistance } from '../../image/distance';
import type { EdgeStyle } from '../../geometry/polygon-raster';

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
  { width: mediumWidth, height: mediumHeight, growPx, featherPx }: EdgeStyle & { readonly width: number; readonly height: number },
  placed: Matrix,
  width: number,
  height: number,
  out: Uint8Array,
): void {
  const scale = stored.width / mediumWidth;
  const styled = styleCoverage(stored, { growPx: growPx * scale, featherPx: featherPx * scale });
  const toStored = compose(
    invert(placed),
    compose(scaling(scale, stored.height / mediumHeight), translation(stored.width / 2, stored.height / 2)),
  );
  const [a, b, c, d, e, f] = toStored;
  const { data } = styled;
  const lastX = stored.width - 1;
  const lastY = stored.height - 1;
  for (let y = 0, o = 0; y < height; y++) {
    let px = a * 0.5 + b * (y + 0.5) + c - 0.5;
    let py = d * 0.5 + e * (y + 0.5) + f - 0.5;
    for (let x = 0; x < width; x++, o++, px += a, py += d) {
      if (px < -0.5 || py < -0.5 || px > lastX + 0.5 || py > lastY + 0.5) {
        out[o] = 0;
        continue;
      }
      const sx = px < 0 ? 0 : px > lastX ? lastX : px;
      const sy = py < 0 ? 0 : py > lastY ? lastY : py;
      const left = sx | 0;
      const top = sy | 0;
      const i = top * stored.width + left;
      const right = left < lastX ? 1 : 0;
      const below = top < lastY ? stored.width : 0;
      const fx = sx - left;
      const fy = sy - top;
      const upper = data[i]! + fx * (data[i + right]! - data[i]!);
      const lower = data[i + below]! + fx * (data[i + below + right]! - data[i + below]!);
      out[o] = upper + fy * (lower - upper) + 0.5;
    }
  }
}
