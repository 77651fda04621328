import type { Differences } from './features';

/** What a step costs from each pixel to its neighbours in directions 4 to 7 (see min-cut), four a pixel; infinite over the border. */
export interface Steps {
  readonly width: number;
  readonly height: number;
  readonly costs: Float32Array;
}

/** Steps that cost their length plus `steepness` times how far the two pixels differ. */
export function stepsOf({ width, height, squared }: Differences, steepness: number): Steps {
  const costs = new Float32Array(squared.length);
  for (let p = 0; p < costs.length; p++) costs[p] = ((p & 1) === 0 ? 1 : Math.SQRT2) + steepness * Math.sqrt(squared[p]!);
  return { width, height, costs };
}

/** Sweeps there and back; paths that wind more often than this come out a little long. */
const ROUNDS = 2;

/**
 * Length of the shortest path from each pixel to the nearest one where `seeds` is `value`: the geodesic distance, found
 * by sweeps over the picture there and back (Criminisi et al. 2008). Infinite everywhere without such pixels.
 */
export function geodesicDistances({ width, height, costs }: Steps, seeds: Uint8Array, value: number): Float32Array<ArrayBuffer> {
  const out = new Float32Array(width * height);
  for (let i = 0; i < out.length; i++) out[i] = seeds[i] === value ? 0 : Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        let best = out[i]!;
        if (x > 0) best = Math.min(best, out[i - 1]! + costs[4 * i - 4]!);
        if (y > 0) {
          const up = i - width;
          best = Math.min(best, out[up]! + costs[4 * up + 2]!);
          if (x > 0) best = Math.min(best, out[up - 1]! + costs[4 * up - 1]!);
          if (x + 1 < width) best = Math.min(best, out[up + 1]! + costs[4 * up + 5]!);
        }
        out[i] = best;
      }
    }
    for (let y = height - 1, i = out.length - 1; y >= 0; y--) {
      for (let x = width - 1; x >= 0; x--, i--) {
        let best = out[i]!;
        if (x + 1 < width) best = Math.min(best, out[i + 1]! + costs[4 * i]!);
        if (y + 1 < height) {
          const down = i + width;
          best = Math.min(best, out[down]! + costs[4 * i + 2]!);
          if (x > 0) best = Math.min(best, out[down - 1]! + costs[4 * i + 1]!);
          if (x + 1 < width) best = Math.min(best, out[down + 1]! + costs[4 * i + 3]!);
        }
        out[i] = best;
      }
    }
  }
  return out;
}
