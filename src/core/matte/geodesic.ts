import { NEIGHBOUR_X, NEIGHBOUR_Y } from './min-cut';

/** Most rounds of sweeping; paths that wind more often than this come out a little long. */
const ROUNDS = 2;

/**
 * Length of the shortest path from each pixel to the nearest one where `seeds` is `value`, when a step between
 * neighbours costs its length plus `steepness` times how far their features differ (Criminisi et al. 2008 call it the
 * geodesic distance; like theirs, by sweeps over the picture forth and back). Infinity everywhere without such pixels.
 */
export function geodesicDistances(
  features: Float32Array,
  seeds: Uint8Array,
  value: number,
  width: number,
  height: number,
  steepness: number,
): Float32Array<ArrayBuffer> {
  const out = new Float32Array(seeds.length).fill(Infinity);
  for (let i = 0; i < out.length; i++) if (seeds[i] === value) out[i] = 0;
  for (let round = 0; round < ROUNDS; round++) {
    sweep(features, out, width, height, steepness, 1);
    sweep(features, out, width, height, steepness, -1);
  }
  return out;
}

/** Passes distances on from the neighbours that come before in the order of rows, or, with `way` −1, against it. */
function sweep(features: Float32Array, distances: Float32Array, width: number, height: number, steepness: number, way: 1 | -1): void {
  const last = width * height - 1;
  for (let n = 0; n <= last; n++) {
    const i = way === 1 ? n : last - n;
    const x = i % width;
    const y = (i - x) / width;
    const p = 3 * i;
    let best = distances[i]!;
    for (let k = 0; k < 4; k++) {
      const nx = x + way * NEIGHBOUR_X[k]!;
      const ny = y + way * NEIGHBOUR_Y[k]!;
      if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
      const j = ny * width + nx;
      const from = distances[j]!;
      if (from >= best) continue;
      const q = 3 * j;
      const a = features[p]! - features[q]!;
      const b = features[p + 1]! - features[q + 1]!;
      const c = features[p + 2]! - features[q + 2]!;
      const length = NEIGHBOUR_X[k] !== 0 && NEIGHBOUR_Y[k] !== 0 ? Math.SQRT2 : 1;
      const through = from + length + steepness * Math.sqrt(a * a + b * b + c * c);
      if (through < best) best = through;
    }
    distances[i] = best;
  }
}
