import type { Plane } from '../image/plane';

/** Half width of the band along the edge that may be partly covered. */
const SOFT_PX = 3;
/** The sides' colours are looked up once for blocks of this many pixels each way, up to this far around them. */
const BLOCK = 2;
const RADIUS = 4;
/** Where the numbers of either side begin. */
const INSIDE = 0;
const OUTSIDE = 7;
/** Pixels this close to the edge may be mixtures and show neither side's own colours. */
const MIXED_PX = 1.8;
/** Squared difference of the sides' colours that is worth half a full trust, and what their own variance adds to it. */
const NOISE = 900;
const VARIED = 14;

/**
 * Coverage along a cut edge from the picture itself, laid on what `out` holds: within a band, each pixel's share between
 * the mean colours found on either side close by, as far as those differ by more than they vary. `signed` is the distance to that edge.
 * `most` is how far they may count against what `out` holds, 0..1.
 */
export function coverAlongEdge(features: Float32Array, signed: Float32Array, width: number, height: number, out: Plane, most = 1): void {
  const side = new Float64Array(14);
  for (let top = 0; top < height; top += BLOCK) {
    for (let left = 0; left < width; left += BLOCK) {
      let isKnown = false;
      for (let k = 0; k < BLOCK * BLOCK; k++) {
        const x = left + (k % BLOCK);
        const y = top + ((k / BLOCK) | 0);
        const i = y * width + x;
        if (x >= width || y >= height || signed[i]! > SOFT_PX || signed[i]! < -SOFT_PX) continue;
        if (!isKnown && !sidesAround(features, signed, width, height, left, top, side)) break;
        isKnown = true;
        out.data[i] = coverBetween(side, features, i, out.data[i]!, most);
      }
    }
  }
}

/** The share of pixel `i` between the two sides' means, as far as these can be trusted, else what it `was`. */
function coverBetween(side: Float64Array, features: Float32Array, i: number, was: number, most: number): number {
  const d0 = side[INSIDE + 1]! - side[OUTSIDE + 1]!;
  const d1 = side[INSIDE + 2]! - side[OUTSIDE + 2]!;
  const d2 = side[INSIDE + 3]! - side[OUTSIDE + 3]!;
  const length = d0 * d0 + d1 * d1 + d2 * d2;
  const along =
    (features[3 * i]! - side[OUTSIDE + 1]!) * d0 +
    (features[3 * i + 1]! - side[OUTSIDE + 2]!) * d1 +
    (features[3 * i + 2]! - side[OUTSIDE + 3]!) * d2;
  // the variance of each side along the line between the colours
  const varied =
    (d0 * d0 * (side[INSIDE + 4]! + side[OUTSIDE + 4]!) +
      d1 * d1 * (side[INSIDE + 5]! + side[OUTSIDE + 5]!) +
      d2 * d2 * (side[INSIDE + 6]! + side[OUTSIDE + 6]!)) /
    (length + 1e-6);
  const trust = (most * length) / (length + NOISE + VARIED * varied);
  return trust * Math.max(0, Math.min(1, along / (length + 1e-6))) + (1 - trust) * was;
}

/**
 * Number, mean and variance of the colours on both sides of the edge around the block that begins at (x, y), seven numbers
 * a side, inside first; false where there are too few.
 */
function sidesAround(
  features: Float32Array,
  signed: Float32Array,
  width: number,
  height: number,
  x: number,
  y: number,
  side: Float64Array,
): boolean {
  side.fill(0);
  const bottom = Math.min(height - 1, y + BLOCK - 1 + RADIUS);
  const right = Math.min(width - 1, x + BLOCK - 1 + RADIUS);
  for (let v = Math.max(0, y - RADIUS); v <= bottom; v++) {
    for (let u = Math.max(0, x - RADIUS), j = v * width + u; u <= right; u++, j++) {
      const d = signed[j]!;
      if (d <= MIXED_PX && d >= -MIXED_PX) continue;
      const s = d > 0 ? INSIDE : OUTSIDE;
      const a = features[3 * j]!;
      const b = features[3 * j + 1]!;
      const c = features[3 * j + 2]!;
      side[s]!++;
      side[s + 1]! += a;
      side[s + 2]! += b;
      side[s + 3]! += c;
      side[s + 4]! += a * a;
      side[s + 5]! += b * b;
      side[s + 6]! += c * c;
    }
  }
  if (side[INSIDE]! < 3 || side[OUTSIDE]! < 3) return false;
  for (let s = INSIDE; s <= OUTSIDE; s += OUTSIDE) {
    const n = side[s]!;
    for (let k = 1; k < 4; k++) {
      const mean = (side[s + k]! /= n);
      side[s + 3 + k] = Math.max(0, side[s + 3 + k]! / n - mean * mean);
    }
  }
  return true;
}

/** Coverage that goes from 0 to 1 over two pixels across a cut edge. */
export function rampAlongEdge(signed: Float32Array, out: Plane): void {
  for (let i = 0; i < signed.length; i++) out.data[i] = Math.max(0, Math.min(1, 0.5 + signed[i]! / 2));
}
