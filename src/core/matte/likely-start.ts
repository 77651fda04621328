import { emptyField, fieldOf, flowAt, type FlowField } from '../flow/flow-field';
import { shrunkTo, type Image } from '../image/image';
import type { Plane } from '../image/plane';
import { featuresOf } from './features';

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
  const shifts = new Float64Array(2 * pixels.length);
  const at = new Float64Array(2);
  if (expected !== null) {
    pixels.forEach((i, k) => {
      flowAt(expected, ((i % width) + 0.5) * across, (Math.floor(i / width) + 0.5) * down, at);
      shifts[2 * k] = at[0]! / across;
      shifts[2 * k + 1] = at[1]! / down;
    });
  }
  const usual = missAt(from, to, pixels, shifts);
  // it is as expected, or on its way out of the picture
  if (usual < NOISE || usual === Infinity) return expected;
  let least = CLEARLY * usual;
  let best: readonly [number, number] | null = null;
  for (let v = -REACH; v <= REACH; v++) {
    for (let u = -REACH; u <= REACH; u++) {
      for (let k = 0; k < shifts.length; k += 2) {
        shifts[k] = u;
        shifts[k + 1] = v;
      }
      const miss = missAt(from, to, pixels, shifts);
      if (miss >= least) continue;
      least = miss;
      best = [u, v];
    }
  }
  if (best === null) return expected;
  const motion = Float64Array.of(0, 0, best[0] * across, 0, 0, best[1] * down);
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
 * Mean squared colour difference of `pixels`, each shifted by its two numbers in `shifts`; what would lie outside the picture
 * does not count. Infinite where too little is left.
 */
function missAt(from: CoarsePicture, to: CoarsePicture, pixels: readonly number[], shifts: Float64Array): number {
  const { width, height } = from;
  let sum = 0;
  let count = 0;
  for (let k = 0; k < pixels.length; k++) {
    const i = pixels[k]!;
    const x = Math.round((i % width) + shifts[2 * k]!);
    const y = Math.round(Math.floor(i / width) + shifts[2 * k + 1]!);
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
