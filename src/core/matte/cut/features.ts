import type { Image } from '../../image/pixels';
import { NEIGHBOUR_X, NEIGHBOUR_Y } from './min-cut';

/**
 * Three numbers a pixel, interleaved: brightness, red against green, and both against blue. Distances in this space
 * are closer to what the eye sees than in red, green and blue, at the cost of a few additions. All are `gain` times 8-bit steps.
 */
export function featuresOf({ width, height, data }: Image, gain = 1): Float32Array<ArrayBuffer> {
  const out = new Float32Array(3 * width * height);
  const colour = 0.7 * gain;
  for (let i = 0, p = 0; i < out.length; i += 3, p += 4) {
    const r = data[p]!;
    const g = data[p + 1]!;
    const b = data[p + 2]!;
    out[i] = gain * (0.299 * r + 0.587 * g + 0.114 * b);
    out[i + 1] = colour * (r - g);
    out[i + 2] = colour * (0.5 * (r + g) - b);
  }
  return out;
}

/** Standard deviation of brightness that is usual in a picture, in 8-bit steps, and the most that a flat or dark one is raised. */
const USUAL_CONTRAST = 50;
const MOST_GAIN = 3;

/** How many times the contrast of the picture with these features must be raised to be usual, so that what is counted in 8-bit steps holds for it too; 1 to 3. */
export function gainToUsual(features: Float32Array): number {
  let sum = 0;
  let squares = 0;
  for (let i = 0; i < features.length; i += 3) {
    sum += features[i]!;
    squares += features[i]! * features[i]!;
  }
  const pixels = features.length / 3;
  const contrast = Math.sqrt(Math.max(0, squares / pixels - (sum / pixels) ** 2));
  return Math.max(1, Math.min(MOST_GAIN, USUAL_CONTRAST / (1 + contrast)));
}

/** Squared distance of two pixels' features. */
export function featureDistance(features: Float32Array, a: number, b: number): number {
  const x = features[3 * a]! - features[3 * b]!;
  const y = features[3 * a + 1]! - features[3 * b + 1]!;
  const z = features[3 * a + 2]! - features[3 * b + 2]!;
  return x * x + y * y + z * z;
}

/** How far neighbours differ: squared, from each pixel to those in directions 4 to 7 (see min-cut), four a pixel; infinite over the border. */
export interface Differences {
  readonly width: number;
  readonly height: number;
  readonly squared: Float32Array;
}

export function neighbourDifferences(features: Float32Array, width: number, height: number): Differences {
  const squared = new Float32Array(4 * width * height);
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      for (let n = 4; n < 8; n++) {
        const nx = x + NEIGHBOUR_X[n]!;
        const ny = y + NEIGHBOUR_Y[n]!;
        squared[4 * i + n - 4] = nx < 0 || nx >= width || ny >= height ? Infinity : featureDistance(features, i, ny * width + nx);
      }
    }
  }
  return { width, height, squared };
}

/** The features of the pixels from (left, top) to before (right, bottom), copied. */
export function cropFeatures(
  features: Float32Array,
  width: number,
  { left, top, right, bottom }: { left: number; top: number; right: number; bottom: number },
): Float32Array<ArrayBuffer> {
  const out = new Float32Array(3 * (right - left) * (bottom - top));
  for (let y = top; y < bottom; y++)
    out.set(features.subarray(3 * (y * width + left), 3 * (y * width + right)), 3 * (y - top) * (right - left));
  return out;
}

/** Squared difference between pixel `i` of `to` and position (x, y) of `from`, bilinear. */
export function featureMiss(from: Float32Array, width: number, height: number, x: number, y: number, to: Float32Array, i: number): number {
  const px = Math.max(0, Math.min(width - 1.001, x - 0.5));
  const py = Math.max(0, Math.min(height - 1.001, y - 0.5));
  const fx = px - (px | 0);
  const fy = py - (py | 0);
  const o = 3 * ((py | 0) * width + (px | 0));
  const below = 3 * width;
  let sum = 0;
  for (let c = 0; c < 3; c++) {
    const upper = from[o + c]! + fx * (from[o + 3 + c]! - from[o + c]!);
    const lower = from[o + below + c]! + fx * (from[o + below + 3 + c]! - from[o + below + c]!);
    const e = upper + fy * (lower - upper) - to[3 * i + c]!;
    sum += e * e;
  }
  return sum;
}
