import { shrunkTo } from '../../image/image';
import type { Image } from '../../image/pixels';
import { beginCall, kernels, putBytes, putFloats, putInts, reserve, reserveZeros, takeBytes } from '../../kernels/kernels';
import type { StoredCoverage } from '../coverage/stored-coverage';

/**
 * The coverage at the size of `picture`, the frame it was made on, when that is larger: along the edge it takes up the
 * detail that the smaller size has lost. How coverage follows colour is learnt at the coverage's own size in small
 * windows (He et al. 2013) and applied to what the full picture holds beyond its smaller copy, so that nothing changes
 * where the picture has no detail to give. A picture of the same size or smaller leaves the coverage as it is.
 */
export function refineCoverage(stored: StoredCoverage, picture: Image, small: Image = smallerOf(stored, picture)): StoredCoverage {
  const { width, height } = picture;
  if (width <= stored.width || height <= stored.height) return stored;
  const n = stored.width * stored.height;
  const columns = ladder(width, stored.width);
  const rows = ladder(height, stored.height);
  const data = new Uint8Array(width * height);
  beginCall();
  const [coverage, colours, slopes, known] = [putBytes(stored.data), putBytes(small.data), reserveZeros(4 * n), reserveZeros(n, 1)];
  kernels.slopesAlongEdge(coverage, colours, stored.width, stored.height, slopes, known);
  const out = reserve(data.length, 1);
  kernels.enlargeCoverage(
    coverage,
    colours,
    slopes,
    known,
    stored.width,
    stored.height,
    putBytes(picture.data),
    width,
    height,
    putInts(columns.at),
    putFloats(columns.share),
    putInts(rows.at),
    putFloats(rows.share),
    out,
  );
  takeBytes(out, data);
  return { width, height, data };
}

/** For each pixel of the larger side, the pixel of the smaller one before it and how far it is to the next. */
function ladder(to: number, from: number): { readonly at: Int32Array; readonly share: Float32Array } {
  const at = new Int32Array(to);
  const share = new Float32Array(to);
  for (let k = 0; k < to; k++) {
    const place = Math.max(0, Math.min(from - 1, ((k + 0.5) * from) / to - 0.5));
    at[k] = place;
    share[k] = place - at[k]!;
  }
  return { at, share };
}

function smallerOf({ width, height }: StoredCoverage, picture: Image): Image {
  if (width > picture.width || height > picture.height) return picture;
  return shrunkTo(picture, width, height);
}
