import { createImage, shrinkImage, type Image } from '../image/image';
import { featuresOf } from './features';
import type { StoredCoverage } from './stored-coverage';

/** Half width of the window in which coverage is explained by colour, in pixels of the coverage. */
const RADIUS = 2;
/** Variance of colour that may be noise, squared 8-bit steps. */
const NOISE = 40;
const NOWHERE = 0.02;

/**
 * The coverage at the size of `picture`, the frame it was made on, when that is larger: along the edge it takes up the
 * detail that the smaller size has lost. How coverage follows colour is learnt at the coverage's own size in small
 * windows (He et al. 2013) and applied to what the full picture holds beyond its smaller copy, so that nothing changes
 * where the picture has no detail to give. A picture of the same size or smaller leaves the coverage as it is.
 */
export function refineCoverage(stored: StoredCoverage, picture: Image): StoredCoverage {
  const { width, height } = picture;
  if (width <= stored.width || height <= stored.height) return stored;
  const small = createImage(stored.width, stored.height);
  shrinkImage(picture, small);
  const colours = featuresOf(small);
  const slopes = slopesAlongEdge(stored, colours);
  const out = new Uint8Array(width * height);
  const { data } = stored;
  const { slope, known } = slopes;
  const columns = ladder(width, stored.width);
  const rows = ladder(height, stored.height);
  for (let y = 0, o = 0; y < height; y++) {
    const top = rows.at[y]! * stored.width;
    const below = rows.at[y]! + 1 < stored.height ? stored.width : 0;
    const fy = rows.share[y]!;
    for (let x = 0; x < width; x++, o++) {
      const i = top + columns.at[x]!;
      if (known[i] === 0) {
        out[o] = data[i]!;
        continue;
      }
      const right = columns.at[x]! + 1 < stored.width ? 1 : 0;
      const fx = columns.share[x]!;
      const w11 = fx * fy;
      const w01 = fx - w11;
      const w10 = fy - w11;
      const w00 = 1 - fx - w10;
      const j10 = i + below;
      let value = w00 * data[i]! + w01 * data[i + right]! + w10 * data[j10]! + w11 * data[j10 + right]!;
      const r = picture.data[4 * o]!;
      const g = picture.data[4 * o + 1]!;
      const b = picture.data[4 * o + 2]!;
      for (let c = 0, q = 3 * i, e = 3 * right, d = 3 * j10; c < 3; c++, q++, d++) {
        const own = c === 0 ? 0.299 * r + 0.587 * g + 0.114 * b : c === 1 ? 0.7 * (r - g) : 0.7 * (0.5 * (r + g) - b);
        const shown = w00 * colours[q]! + w01 * colours[q + e]! + w10 * colours[d]! + w11 * colours[d + e]!;
        value += (w00 * slope[q]! + w01 * slope[q + e]! + w10 * slope[d]! + w11 * slope[d + e]!) * (own - shown);
      }
      out[o] = Math.max(0, Math.min(255, value + 0.5));
    }
  }
  return { width, height, data: out };
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

/** How coverage (0..255) rises with each of the three features, around every pixel whose window holds an edge. */
function slopesAlongEdge(
  { width, height, data }: StoredCoverage,
  colours: Float32Array,
): { readonly slope: Float32Array; readonly known: Uint8Array } {
  const slope = new Float32Array(3 * data.length);
  const known = new Uint8Array(data.length);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      // away from any edge all neighbours are equally covered
      const value = data[i]!;
      const left = Math.max(0, x - RADIUS);
      const right = Math.min(width - 1, x + RADIUS);
      const top = Math.max(0, y - RADIUS);
      const bottom = Math.min(height - 1, y + RADIUS);
      if (
        (value === 0 || value === 255) &&
        data[y * width + left] === value &&
        data[y * width + right] === value &&
        data[top * width + x] === value &&
        data[bottom * width + x] === value &&
        data[top * width + left] === value &&
        data[bottom * width + right] === value
      )
        continue;
      let [n, sa, sb, sc, sp] = [0, 0, 0, 0, 0];
      let [aa, ab, ac, bb, bc, cc] = [0, 0, 0, 0, 0, 0];
      let [ap, bp, cp] = [0, 0, 0];
      for (let v = top; v <= bottom; v++) {
        for (let u = left, j = v * width + left; u <= right; u++, j++) {
          const a = colours[3 * j]!;
          const b = colours[3 * j + 1]!;
          const c = colours[3 * j + 2]!;
          const p = data[j]!;
          n++;
          sa += a;
          sb += b;
          sc += c;
          sp += p;
          aa += a * a;
          ab += a * b;
          ac += a * c;
          bb += b * b;
          bc += b * c;
          cc += c * c;
          ap += a * p;
          bp += b * p;
          cp += c * p;
        }
      }
      const [ma, mb, mc, mp] = [sa / n, sb / n, sc / n, sp / n];
      const xx = aa / n - ma * ma + NOISE;
      const xy = ab / n - ma * mb;
      const xz = ac / n - ma * mc;
      const yy = bb / n - mb * mb + NOISE;
      const yz = bc / n - mb * mc;
      const zz = cc / n - mc * mc + NOISE;
      const [px, py, pz] = [ap / n - ma * mp, bp / n - mb * mp, cp / n - mc * mp];
      const [cx, cy, cz] = [yy * zz - yz * yz, xz * yz - xy * zz, xy * yz - xz * yy];
      const determinant = xx * cx + xy * cy + xz * cz;
      if (determinant < NOWHERE) continue;
      slope[3 * i] = (cx * px + cy * py + cz * pz) / determinant;
      slope[3 * i + 1] = (cy * px + (xx * zz - xz * xz) * py + (xy * xz - xx * yz) * pz) / determinant;
      slope[3 * i + 2] = (cz * px + (xy * xz - xx * yz) * py + (xx * yy - xy * xy) * pz) / determinant;
      known[i] = 1;
    }
  }
  return { slope, known };
}
