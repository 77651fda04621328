import { emptyField, fieldOf, flowAt } from '../../flow/flow-field';
import type { FlowField } from '../../flow/field';
import { shrunkTo } from '../../image/image';
import type { Image, Plane } from '../../image/pixels';
import { beginCall, kernels, putFloats, putInts } from '../../kernels/kernels';
import { featuresOf } from '../cut/features';

/** A picture shrunk for looking where something went by its colours. */
export interface CoarsePicture {
  readonly width: number;
  readonly height: number;
  /** Of the picture itself. */
  readonly fullWidth: number;
  readonly fullHeight: number;
  readonly features: Float32Array<ArrayBuffer>;
}

/** Longest side of a shrunk picture, and how far it is searched to all sides, in its pixels. */
const SIDE = 56;
const REACH = 14;
/** Most pixels that are compared at one shift. */
const MOST_PIXELS = 320;
/** Squared colour difference beyond which it does not matter how much more it is: something is in front. */
const MOST_MISS = 4000;
/** Another shift must leave less than this share of the expected one's difference, and that must be more than noise. */
const CLEARLY = 0.5;
const NOISE = 150;

export function coarseOf(picture: Image): CoarsePicture {
  const scale = Math.min(1, SIDE / Math.max(picture.width, picture.height));
  const width = Math.max(1, Math.round(picture.width * scale));
  const height = Math.max(1, Math.round(picture.height * scale));
  return { width, height, fullWidth: picture.width, fullHeight: picture.height, features: featuresOf(shrunkTo(picture, width, height)) };
}

/**
 * Where to begin the search for a layer of `from` in `to`: at `expected` (standing still without it), or, where its colours fit a
 * shift of the whole layer clearly better, there. So what jumps by more than its texture can tell is found as well.
 * `weights` is the layer's coverage on `from`, 0..1, at full size.
 */
export function likelyStart(from: CoarsePicture, weights: Plane, to: CoarsePicture, expected: FlowField | null): FlowField | null {
  const pixels = pixelsOf(from, weights);
  if (pixels.length === 0) return expected;
  const { width, height } = from;
  const across = from.fullWidth / width;
  const down = from.fullHeight / height;
  const usual = missAsExpected(from, to, pixels, expected);
  // it is as expected, or on its way out of the picture
  if (usual < NOISE || usual === Infinity) return expected;
  beginCall();
  const place = kernels.bestShift(
    putFloats(from.features),
    putFloats(to.features),
    width,
    height,
    putInts(Int32Array.from(pixels)),
    pixels.length,
    REACH,
    MOST_MISS,
    CLEARLY * usual,
  );
  if (place < 0) return expected;
  const u = (place % (2 * REACH + 1)) - REACH;
  const v = Math.floor(place / (2 * REACH + 1)) - REACH;
  const motion = Float64Array.of(0, 0, u * across, 0, 0, v * down);
  return fieldOf(motion, emptyField({ left: 0, top: 0, right: 1, bottom: 1 }, Math.max(from.fullWidth, from.fullHeight)));
}

/** The shrunk picture's pixels in the middle of which the layer lies, some left out where there are many. */
function pixelsOf({ width, height }: CoarsePicture, weights: Plane): number[] {
  const all: number[] = [];
  for (let i = 0; i < width * height; i++) {
    const x = Math.floor((((i % width) + 0.5) * weights.width) / width);
    const y = Math.floor(((Math.floor(i / width) + 0.5) * weights.height) / height);
    if (weights.data[y * weights.width + x]! > 0.5) all.push(i);
  }
  const stride = Math.ceil(all.length / MOST_PIXELS);
  return all.filter((_, k) => k % stride === 0);
}

/**
 * Mean squared colour difference of `pixels`, each moved by `expected`; what would lie outside the picture does not count.
 * Infinite where too little is left.
 */
function missAsExpected(from: CoarsePicture, to: CoarsePicture, pixels: readonly number[], expected: FlowField | null): number {
  const { width, height } = from;
  const across = from.fullWidth / width;
  const down = from.fullHeight / height;
  const at = new Float64Array(2);
  let sum = 0;
  let count = 0;
  for (const i of pixels) {
    const column = i % width;
    const row = (i - column) / width;
    if (expected !== null) flowAt(expected, (column + 0.5) * across, (row + 0.5) * down, at);
    const x = Math.round(column + at[0]! / across);
    const y = Math.round(row + at[1]! / down);
    if (x < 0 || y < 0 || x >= width || y >= height) continue;
    const p = 3 * i;
    const q = 3 * (y * width + x);
    const a = from.features[p]! - to.features[q]!;
    const b = from.features[p + 1]! - to.features[q + 1]!;
    const c = from.features[p + 2]! - to.features[q + 2]!;
    sum += Math.min(MOST_MISS, a * a + b * b + c * c);
    count++;
  }
  return count < 0.5 * pixels.length ? Infinity : sum / count;
}
