import type { Plane } from './plane';

/**
 * Squared distance of every pixel to the nearest one with `inside[i] === value`, by lower envelopes of parabolas along
 * rows and columns (Felzenszwalb & Huttenlocher 2012). Exact. Without such a pixel everything is as far as `FAR`.
 */
export function squaredDistances(inside: ArrayLike<number>, value: number, width: number, height: number, out: Float32Array): void {
  const longest = Math.max(width, height);
  const line = new Float64Array(longest);
  const result = new Float64Array(longest);
  const places = new Int32Array(longest);
  const borders = new Float64Array(longest + 1);
  for (let x = 0; x < width; x++) {
    // along columns the nearest is found by two sweeps
    let since = 1e6;
    for (let y = 0, i = x; y < height; y++, i += width) {
      since = inside[i] === value ? 0 : since + 1;
      out[i] = since;
    }
    since = 1e6;
    for (let y = height - 1, i = (height - 1) * width + x; y >= 0; y--, i -= width) {
      since = inside[i] === value ? 0 : since + 1;
      if (since < out[i]!) out[i] = since;
      out[i] = Math.min(FAR, out[i]! * out[i]!);
    }
  }
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) line[x] = out[row + x]!;
    let k = 0;
    places[0] = 0;
    borders[0] = -Infinity;
    borders[1] = Infinity;
    for (let q = 1; q < width; q++) {
      let s: number;
      do {
        const p = places[k]!;
        s = (line[q]! + q * q - (line[p]! + p * p)) / (2 * (q - p));
      } while (s <= borders[k]! && k-- > 0);
      k++;
      places[k] = q;
      borders[k] = s;
      borders[k + 1] = Infinity;
    }
    k = 0;
    for (let q = 0; q < width; q++) {
      while (borders[k + 1]! < q) k++;
      const p = places[k]!;
      result[q] = (q - p) * (q - p) + line[p]!;
    }
    for (let x = 0; x < width; x++) out[row + x] = Math.min(FAR, result[x]!);
  }
}

export const FAR = 1e12;

const DIAGONAL = Math.SQRT2;

/**
 * Signed distance to the edge of `inside` (values 0 and 1), positive inside, in pixels; half a pixel at the edge pixels.
 * Distances grow along rows, columns and diagonals (Borgefors 1986), at most 8 % too long, in two sweeps.
 */
export function signedDistance(inside: Uint8Array, width: number, height: number, out: Float32Array): void {
  markEdges(inside, width, height, out);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    if (y > 0) growFrom(out, row, -width, width);
    for (let x = 1, d = out[row]!; x < width; x++) out[row + x] = d = Math.min(d + 1, out[row + x]!);
  }
  for (let y = height - 1; y >= 0; y--) {
    const row = y * width;
    if (y + 1 < height) growFrom(out, row, width, width);
    for (let x = width - 2, d = out[row + width - 1]!; x >= 0; x--) out[row + x] = d = Math.min(d + 1, out[row + x]!);
  }
  for (let i = 0; i < out.length; i++) if (inside[i] === 0) out[i] = -out[i]!;
}

/** Half a pixel where a neighbour lies on the other side, far away elsewhere. */
function markEdges(inside: Uint8Array, width: number, height: number, out: Float32Array): void {
  out.fill(1e6);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let i = row + 1, end = row + width; i < end; i++) if (inside[i] !== inside[i - 1]) out[i] = out[i - 1] = 0.5;
    if (y === 0) continue;
    for (let i = row, end = row + width; i < end; i++) if (inside[i] !== inside[i - width]) out[i] = out[i - width] = 0.5;
  }
}

/** Lets the row that starts at `row` take distances from the one `other` pixels on. */
function growFrom(out: Float32Array, row: number, other: number, width: number): void {
  const end = row + width - 1;
  let before = Infinity;
  let straight = out[row + other]!;
  for (let i = row; i <= end; i++) {
    const after = i < end ? out[i + other + 1]! : Infinity;
    const d = Math.min(straight + 1, Math.min(before, after) + DIAGONAL);
    if (d < out[i]!) out[i] = d;
    before = straight;
    straight = after;
  }
}

/** Signed distance to the half-covered edge, positive inside. */
export function signedEdgeDistance(alpha: Plane): Float32Array {
  const inside = new Uint8Array(alpha.data.length);
  for (let i = 0; i < inside.length; i++) inside[i] = alpha.data[i]! >= 0.5 ? 1 : 0;
  const out = new Float32Array(inside.length);
  signedDistance(inside, alpha.width, alpha.height, out);
  return out;
}
