import { beginCall, kernels, putFloats, takeFloats } from '../../kernels/kernels';
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

/**
 * Length of the shortest path from each pixel to the nearest one where `seeds` is `value`: the geodesic distance, found
 * by sweeps over the picture there and back (Criminisi et al. 2008). Infinite everywhere without such pixels.
 */
export function geodesicDistances({ width, height, costs }: Steps, seeds: Uint8Array, value: number): Float32Array<ArrayBuffer> {
  const out = new Float32Array(width * height);
  for (let i = 0; i < out.length; i++) out[i] = seeds[i] === value ? 0 : Infinity;
  beginCall();
  const lengths = putFloats(out);
  kernels.geodesicDistances(putFloats(costs), width, height, lengths);
  takeFloats(lengths, out);
  return out;
}
