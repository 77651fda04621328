import type { Pointer } from '../../kernels/kernel-exports';
import { beginCall, kernels, putBytes, putDoubles, putFloats, putInts, reserve, takeDoubles, takeFloats } from '../../kernels/kernels';

/** Three numbers a pixel, interleaved; see `featuresOf`. */
export type Features = Float32Array;

/** Added to variances unless said, in squared units of the features (8-bit steps): noise that every camera has. */
const LEAST_VARIANCE = 6;

/** Numbers a component: mean (3), inverse of the covariance's Cholesky factor (row by row, 6), log of weight / √det. */
const STRIDE = 10;

/** How a mixture is fitted: at most `count` components to about `most` pixels in `rounds` of expectation–maximisation. */
export interface Fitting {
  readonly count: number;
  readonly most: number;
  readonly rounds: number;
  /** Added to each variance. */
  readonly leastVariance?: number;
}

/**
 * A mixture of Gaussians over three-number colours, full covariances (Rother et al. 2004 use the same), fitted by
 * k-means splitting and a few expectation–maximisation rounds. Deterministic.
 */
export class ColourModel {
  readonly components: Float64Array;

  private constructor(components: Float64Array) {
    this.components = components;
  }

  /**
   * Fits a mixture to the pixels `at` of `features`, thinned evenly.
   * @returns null with fewer than four pixels: no colour to speak of.
   */
  static fit(features: Features, at: ArrayLike<number>, fitting: Fitting): ColourModel | null {
    beginCall();
    const room = reserveFit(fitting);
    return ColourModel.fitWithin(putFloats(features), putInts(Int32Array.from(at)), at.length, fitting, room);
  }

  /** The same within a call, where the features lie at `features` and `length` places at `places`. */
  static fitWithin(features: Pointer, places: Pointer, length: number, fitting: Fitting, { scratch, out }: FitRoom): ColourModel | null {
    const { count, most, rounds, leastVariance = LEAST_VARIANCE } = fitting;
    const found = kernels.fitColours(features, places, length, count, most, rounds, leastVariance, scratch, out);
    if (found === 0) return null;
    const components = new Float64Array(STRIDE * found);
    takeDoubles(out, components);
    return new ColourModel(components);
  }

  /** How many Gaussians it is made of. */
  get count(): number {
    return this.components.length / STRIDE;
  }

  /** Log density at a colour, up to a constant shared by all models. */
  logDensity(a: number, b: number, c: number): number {
    beginCall();
    return kernels.logDensity(putDoubles(this.components), this.count, a, b, c);
  }
}

/** Room for fitting within a call. */
export interface FitRoom {
  readonly scratch: Pointer;
  readonly out: Pointer;
}

export const reserveFit = ({ count, most }: Fitting): FitRoom => ({
  scratch: reserve((4 + count) * 2 * most + 10 * count, 8),
  out: reserve(STRIDE * count, 8),
});

/**
 * How much the colour of each pixel of `features` for which `asked` is not 0 speaks for `inside` against `outside`, as a log
 * ratio of −most..most; 0 for the others.
 */
export function colourRatios(inside: ColourModel, outside: ColourModel, features: Features, asked: Uint8Array, most: number): Float32Array {
  const ratios = new Float32Array(asked.length);
  beginCall();
  const out = putFloats(ratios);
  kernels.colourRatios(
    putFloats(features),
    putBytes(asked),
    asked.length,
    putDoubles(inside.components),
    inside.count,
    putDoubles(outside.components),
    outside.count,
    most,
    out,
  );
  takeFloats(out, ratios);
  return ratios;
}
