import { squaredDistances } from '../src/core/image/distance';

/**
 * How well `found` agrees with `truth` (coverages 0..255, half is the edge), as the DAVIS benchmark measures it
 * (Perazzi et al. 2016): J is intersection over union, F the harmonic mean of how much of each contour has the other
 * within `tolerancePx`.
 */
export function regionAndContour(
  found: Uint8Array,
  truth: Uint8Array,
  width: number,
  height: number,
  tolerancePx = 3,
): { readonly j: number; readonly f: number } {
  const a = found.map((v) => (v >= 128 ? 1 : 0));
  const b = truth.map((v) => (v >= 128 ? 1 : 0));
  let both = 0;
  let either = 0;
  for (let i = 0; i < a.length; i++) {
    both += a[i]! & b[i]!;
    either += a[i]! | b[i]!;
  }
  const contourA = contourOf(a, width, height);
  const contourB = contourOf(b, width, height);
  const precision = shareNear(contourA, contourB, width, height, tolerancePx);
  const recall = shareNear(contourB, contourA, width, height, tolerancePx);
  const f = precision + recall === 0 ? 0 : (2 * precision * recall) / (precision + recall);
  return { j: either === 0 ? 1 : both / either, f };
}

function contourOf(inside: Uint8Array, width: number, height: number): Uint8Array {
  const contour = new Uint8Array(inside.length);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      if (
        inside[i] === 1 &&
        ((x + 1 < width && inside[i + 1] === 0) ||
          (x > 0 && inside[i - 1] === 0) ||
          (y + 1 < height && inside[i + width] === 0) ||
          (y > 0 && inside[i - width] === 0))
      )
        contour[i] = 1;
  return contour;
}

/** Share of `contour` that has `other` within `tolerancePx`; 1 when there is nothing to find. */
function shareNear(contour: Uint8Array, other: Uint8Array, width: number, height: number, tolerancePx: number): number {
  const distances = new Float32Array(contour.length);
  squaredDistances(other, 1, width, height, distances);
  let total = 0;
  let near = 0;
  for (let i = 0; i < contour.length; i++) {
    if (contour[i] === 0) continue;
    total++;
    if (distances[i]! <= tolerancePx * tolerancePx) near++;
  }
  return total === 0 ? 1 : near / total;
}

/** Mean absolute difference of coverage, 0..1, over the pixels within `bandPx` of the truth's edge; 0 where there is none. */
export const edgeError = (found: Uint8Array, truth: Uint8Array, width: number, height: number, bandPx = 10): number =>
  meanAlongEdge(truth, width, height, bandPx, (i) => Math.abs(found[i]! - truth[i]!) / 255);

/** A matte that was found and the true one, coverages 0..255. */
export interface Judged {
  readonly found: Uint8Array;
  readonly truth: Uint8Array;
}

/** How much the error of coverage changes from the frame `before`: mean absolute change, 0..1, over the same pixels. */
export const edgeFlicker = (before: Judged, { found, truth }: Judged, width: number, height: number, bandPx = 10): number =>
  meanAlongEdge(truth, width, height, bandPx, (i) => Math.abs(found[i]! - truth[i]! - before.found[i]! + before.truth[i]!) / 255);

/** Mean of what `valueAt` gives for the pixels within `bandPx` of the truth's edge; 0 where there is none. */
function meanAlongEdge(truth: Uint8Array, width: number, height: number, bandPx: number, valueAt: (i: number) => number): number {
  const inside = truth.map((v) => (v >= 128 ? 1 : 0));
  const distances = new Float32Array(inside.length);
  squaredDistances(contourOf(inside, width, height), 1, width, height, distances);
  let sum = 0;
  let count = 0;
  for (let i = 0; i < inside.length; i++) {
    if (distances[i]! > bandPx * bandPx) continue;
    sum += valueAt(i);
    count++;
  }
  return count === 0 ? 0 : sum / count;
}
