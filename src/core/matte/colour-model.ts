import { invertSymmetric } from '../geometry/symmetric';

/** Three numbers a pixel, interleaved; see `featuresOf`. */
export type Features = Float32Array;

const DIMENSIONS = 3;
/** Added to variances unless said, in squared units of the features (8-bit steps): noise that every camera has. */
const LEAST_VARIANCE = 6;

interface Component {
  /** Mean (3), inverse covariance (xx, xy, xz, yy, yz, zz), log of weight / √det. */
  readonly numbers: Float64Array;
}

/**
 * A mixture of Gaussians over three-number colours, full covariances (Rother et al. 2004 use the same), fitted by
 * k-means splitting and a few expectation–maximisation rounds. Deterministic.
 */
export class ColourModel {
  private readonly components: readonly Component[];

  private constructor(components: readonly Component[]) {
    this.components = components;
  }

  /**
   * Fits at most `count` components to the pixels `at` of `features`, thinned evenly to about `most`. `leastVariance` is
   * added to each variance.
   * @returns null with fewer than four pixels: no colour to speak of.
   */
  static fit(
    features: Features,
    at: ArrayLike<number>,
    count = 5,
    most = 2500,
    rounds = 4,
    leastVariance = LEAST_VARIANCE,
  ): ColourModel | null {
    const step = Math.max(1, Math.floor(at.length / most));
    const samples: number[] = [];
    for (let i = 0; i < at.length; i += step) {
      const p = 3 * at[i]!;
      samples.push(features[p]!, features[p + 1]!, features[p + 2]!);
    }
    const n = samples.length / DIMENSIONS;
    if (n < 4) return null;
    const data = Float64Array.from(samples);
    const labels = splitByVariance(data, n, Math.max(1, Math.min(count, Math.floor(n / 12))));
    const k = 1 + labels.reduce((a, b) => Math.max(a, b), 0);
    const shares = new Float64Array(n * k);
    for (let i = 0; i < n; i++) shares[i * k + labels[i]!] = 1;
    let components = estimate(data, n, k, shares, leastVariance);
    for (let round = 0; round < rounds && k > 1; round++) {
      for (let i = 0; i < n; i++) {
        let top = -Infinity;
        for (let c = 0; c < k; c++) {
          const value = logOf(components[c]!, data[3 * i]!, data[3 * i + 1]!, data[3 * i + 2]!);
          shares[i * k + c] = value;
          if (value > top) top = value;
        }
        let sum = 0;
        for (let c = 0; c < k; c++) sum += shares[i * k + c] = Math.exp(shares[i * k + c]! - top);
        for (let c = 0; c < k; c++) shares[i * k + c]! /= sum;
      }
      components = estimate(data, n, k, shares, leastVariance);
    }
    return new ColourModel(components);
  }

  /** Log density at a colour, up to a constant shared by all models. */
  logDensity(a: number, b: number, c: number): number {
    let top = -1e30;
    for (const component of this.components) {
      const value = logOf(component, a, b, c);
      // the largest term; the others add at most log k
      if (value > top) top = value;
    }
    return top;
  }
}

function logOf({ numbers }: Component, a: number, b: number, c: number): number {
  const x = a - numbers[0]!;
  const y = b - numbers[1]!;
  const z = c - numbers[2]!;
  const square =
    numbers[3]! * x * x + numbers[6]! * y * y + numbers[8]! * z * z + 2 * (numbers[4]! * x * y + numbers[5]! * x * z + numbers[7]! * y * z);
  return numbers[9]! - 0.5 * square;
}

/** Splits the widest cluster along its longest axis until there are `count`. */
function splitByVariance(data: Float64Array, n: number, count: number): Uint8Array {
  const labels = new Uint8Array(n);
  for (let clusters = 1; clusters < count; clusters++) {
    const mean = new Float64Array(clusters * 3);
    const spread = new Float64Array(clusters * 3);
    const sizes = new Float64Array(clusters);
    for (let i = 0; i < n; i++) {
      const c = labels[i]!;
      sizes[c]!++;
      for (let d = 0; d < 3; d++) mean[3 * c + d]! += data[3 * i + d]!;
    }
    for (let c = 0; c < clusters; c++) for (let d = 0; d < 3; d++) mean[3 * c + d]! /= Math.max(1, sizes[c]!);
    for (let i = 0; i < n; i++) {
      const c = labels[i]!;
      for (let d = 0; d < 3; d++) spread[3 * c + d]! += (data[3 * i + d]! - mean[3 * c + d]!) ** 2;
    }
    let widest = 0;
    for (let j = 1; j < spread.length; j++) if (spread[j]! > spread[widest]!) widest = j;
    const cluster = Math.floor(widest / 3);
    const axis = widest % 3;
    if (sizes[cluster]! < 2 || spread[widest]! === 0) break;
    for (let i = 0; i < n; i++) if (labels[i] === cluster && data[3 * i + axis]! > mean[widest]!) labels[i] = clusters;
  }
  return labels;
}

function estimate(data: Float64Array, n: number, k: number, shares: Float64Array, leastVariance: number): Component[] {
  const sums = new Float64Array(k * 10);
  for (let i = 0; i < n; i++) {
    const x = data[3 * i]!;
    const y = data[3 * i + 1]!;
    const z = data[3 * i + 2]!;
    for (let c = 0; c < k; c++) {
      const w = shares[i * k + c]!;
      if (w < 1e-6) continue;
      const s = c * 10;
      sums[s]! += w;
      sums[s + 1]! += w * x;
      sums[s + 2]! += w * y;
      sums[s + 3]! += w * z;
      sums[s + 4]! += w * x * x;
      sums[s + 5]! += w * x * y;
      sums[s + 6]! += w * x * z;
      sums[s + 7]! += w * y * y;
      sums[s + 8]! += w * y * z;
      sums[s + 9]! += w * z * z;
    }
  }
  return Array.from({ length: k }, (_, c) => {
    const s = c * 10;
    const weight = Math.max(1e-9, sums[s]!);
    const [mx, my, mz] = [sums[s + 1]! / weight, sums[s + 2]! / weight, sums[s + 3]! / weight];
    const xx = sums[s + 4]! / weight - mx * mx + leastVariance;
    const xy = sums[s + 5]! / weight - mx * my;
    const xz = sums[s + 6]! / weight - mx * mz;
    const yy = sums[s + 7]! / weight - my * my + leastVariance;
    const yz = sums[s + 8]! / weight - my * mz;
    const zz = sums[s + 9]! / weight - mz * mz + leastVariance;
    const numbers = Float64Array.of(mx, my, mz, 0, 0, 0, 0, 0, 0, 0);
    const determinant = invertSymmetric(xx, xy, xz, yy, yz, zz, numbers, 3);
    numbers[9] = Math.log(weight / n) - 0.5 * Math.log(determinant);
    return { numbers };
  });
}
