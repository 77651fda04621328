import { invertSymmetric } from '../geometry/symmetric';
import { shrunkTo, type Image } from '../image/image';
import type { StoredCoverage } from './stored-coverage';

/** Half width of the window in which coverage is explained by colour, in pixels of the coverage. */
const RADIUS = 2;
/** Variance of colour that may be noise, squared 8-bit steps. */
const NOISE = 40;

/**
 * The coverage at the size of `picture`, the frame it was made on, when that is larger: along the edge it takes up the
 * detail that the smaller size has lost. How coverage follows colour is learnt at the coverage's own size in small
 * windows (He et al. 2013) and applied to what the full picture holds beyond its smaller copy, so that nothing changes
 * where the picture has no detail to give. A picture of the same size or smaller leaves the coverage as it is.
 */
export function refineCoverage(stored: StoredCoverage, picture: Image, small: Image = smallerOf(stored, picture)): StoredCoverage {
  const { width, height } = picture;
  if (width <= stored.width || height <= stored.height) return stored;
  const { slope, known } = slopesAlongEdge(stored, small);
  const out = new Uint8Array(width * height);
  const { data } = stored;
  const colours = small.data;
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
      for (let c = 0; c < 3; c++) {
        const q = 4 * i + c;
        const d = 4 * j10 + c;
        const shown = w00 * colours[q]! + w01 * colours[q + 4 * right]! + w10 * colours[d]! + w11 * colours[d + 4 * right]!;
        const rise = w00 * slope[q]! + w01 * slope[q + 4 * right]! + w10 * slope[d]! + w11 * slope[d + 4 * right]!;
        value += rise * (picture.data[4 * o + c]! - shown);
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

function smallerOf({ width, height }: StoredCoverage, picture: Image): Image {
  if (width > picture.width || height > picture.height) return picture;
  return shrunkTo(picture, width, height);
}

/** How coverage (0..255) rises with red, green and blue (four a pixel), around every pixel whose window holds an edge. */
function slopesAlongEdge(coverage: StoredCoverage, { data: colours }: Image): { readonly slope: Float32Array; readonly known: Uint8Array } {
  const { width, height, data } = coverage;
  const slope = new Float32Array(4 * data.length);
  const known = new Uint8Array(data.length);
  const inverse = new Float64Array(6);
  for (let y = 0, i = 0; y < height; y++) {
    const top = Math.max(0, y - RADIUS);
    const bottom = Math.min(height - 1, y + RADIUS);
    for (let x = 0; x < width; x++, i++) {
      const left = Math.max(0, x - RADIUS);
      const right = Math.min(width - 1, x + RADIUS);
      if (isEven(coverage, i, left, right, top, bottom)) continue;
      let n = 0;
      let [sa, sb, sc, sp] = [0, 0, 0, 0];
      let [aa, ab, ac, bb, bc, cc] = [0, 0, 0, 0, 0, 0];
      let [ap, bp, cp] = [0, 0, 0];
      for (let v = top; v <= bottom; v++) {
        for (let j = v * width + left, end = v * width + right; j <= end; j++) {
          const a = colours[4 * j]!;
          const b = colours[4 * j + 1]!;
          const c = colours[4 * j + 2]!;
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
      const ma = sa / n;
      const mb = sb / n;
      const mc = sc / n;
      invertSymmetric(
        aa / n - ma * ma + NOISE,
        ab / n - ma * mb,
        ac / n - ma * mc,
        bb / n - mb * mb + NOISE,
        bc / n - mb * mc,
        cc / n - mc * mc + NOISE,
        inverse,
      );
      const pa = (ap - ma * sp) / n;
      const pb = (bp - mb * sp) / n;
      const pc = (cp - mc * sp) / n;
      slope[4 * i] = inverse[0]! * pa + inverse[1]! * pb + inverse[2]! * pc;
      slope[4 * i + 1] = inverse[1]! * pa + inverse[3]! * pb + inverse[4]! * pc;
      slope[4 * i + 2] = inverse[2]! * pa + inverse[4]! * pb + inverse[5]! * pc;
      known[i] = 1;
    }
  }
  return { slope, known };
}

/** True where a pixel and the whole border of its window are covered fully, or not at all. */
function isEven({ width, data }: StoredCoverage, i: number, left: number, right: number, top: number, bottom: number): boolean {
  const value = data[i]!;
  if (value !== 0 && value !== 255) return false;
  for (let x = left; x <= right; x++) if (data[top * width + x] !== value || data[bottom * width + x] !== value) return false;
  for (let y = top; y <= bottom; y++) if (data[y * width + left] !== value || data[y * width + right] !== value) return false;
  return true;
}
