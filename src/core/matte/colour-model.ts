/** Three numbers a pixel, interleaved; see `featuresOf`. */
export type Features = Float32Array;

const DIMENSIONS = 3;
/** Added to variances unless said, in squared units of the features (8-bit steps): noise that every camera has. */
const LEAST_VARIANCE = 6;
/** What rounding may leave of a variance. */
const TINY = 1e-6;

/** Numbers a component: mean (3), inverse of the covariance's Cholesky factor (row by row, 6), log of weight / √det. */
const STRIDE = 10;

/**
 * A mixture of Gaussians over three-number colours, full covariances (Rother et al. 2004 use the same), fitted by
 * k-means splitting and a few expectation–maximisation rounds. Deterministic.
 */
export class ColourModel {
  private readonly components: Float64Array;

  private constructor(components: Float64Array) {
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
    const n = Math.ceil(at.length / step);
    if (n < 4) return null;
    const data = new Float64Array(DIMENSIONS * n);
    for (let i = 0, o = 0; i < at.length; i += step, o += DIMENSIONS) {
      const p = DIMENSIONS * at[i]!;
      data[o] = features[p]!;
      data[o + 1] = features[p + 1]!;
      data[o + 2] = features[p + 2]!;
    }
    const { labels, k } = splitByVariance(data, n, Math.max(1, Math.min(count, Math.floor(n / 12))));
    const shares = new Float64Array(n * k);
    for (let i = 0; i < n; i++) shares[i * k + labels[i]!] = 1;
    let components = estimate(data, n, k, shares, leastVariance);
    for (let round = 0; round < rounds && k > 1; round++) {
      for (let i = 0; i < n; i++) {
        let top = -Infinity;
        for (let c = 0; c < k; c++) {
          const value = logOf(components, c * STRIDE, data[3 * i]!, data[3 * i + 1]!, data[3 * i + 2]!);
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
    const { components } = this;
    let top = -1e30;
    for (let at = 0; at < components.length; at += STRIDE) {
      const value = logOf(components, at, a, b, c);
      // the largest term; the others add at most log k
      if (value > top) top = value;
    }
    return top;
  }
}

function logOf(components: Float64Array, at: number, a: number, b: number, c: number): number {
  const x = a - components[at]!;
  const y = b - components[at + 1]!;
  const z = c - components[at + 2]!;
  const u = components[at + 3]! * x;
  const v = components[at + 4]! * x + components[at + 5]! * y;
  const w = components[at + 6]! * x + components[at + 7]! * y + components[at + 8]! * z;
  return components[at + 9]! - 0.5 * (u * u + v * v + w * w);
}

/** Splits the widest cluster along its longest axis until there are `count`, or nothing is left to split; each pixel's cluster, and how many there are. */
function splitByVariance(data: Float64Array, n: number, count: number): { readonly labels: Uint8Array; readonly k: number } {
  const labels = new Uint8Array(n);
  let clusters = 1;
  for (; clusters < count; clusters++) {
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
  return { labels, k: clusters };
}

function estimate(data: Float64Array, n: number, k: number, shares: Float64Array, leastVariance: number): Float64Array {
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
  const out = new Float64Array(k * STRIDE);
  for (let c = 0; c < k; c++) {
    const s = c * 10;
    const weight = Math.max(1e-9, sums[s]!);
    const mx = sums[s + 1]! / weight;
    const my = sums[s + 2]! / weight;
    const mz = sums[s + 3]! / weight;
    const xx = sums[s + 4]! / weight - mx * mx + leastVariance;
    const xy = sums[s + 5]! / weight - mx * my;
    const xz = sums[s + 6]! / weight - mx * mz;
    const yy = sums[s + 7]! / weight - my * my + leastVariance;
    const yz = sums[s + 8]! / weight - my * mz;
    const zz = sums[s + 9]! / weight - mz * mz + leastVariance;
    // covariance = L·Lᵀ; what is kept is L⁻¹
    const l00 = Math.sqrt(Math.max(TINY, xx));
    const l10 = xy / l00;
    const l20 = xz / l00;
    const l11 = Math.sqrt(Math.max(TINY, yy - l10 * l10));
    const l21 = (yz - l20 * l10) / l11;
    const l22 = Math.sqrt(Math.max(TINY, zz - l20 * l20 - l21 * l21));
    const o = c * STRIDE;
    out[o] = mx;
    out[o + 1] = my;
    out[o + 2] = mz;
    out[o + 3] = 1 / l00;
    out[o + 4] = -l10 / (l00 * l11);
    out[o + 5] = 1 / l11;
    out[o + 6] = (l10 * l21 - l20 * l11) / (l00 * l11 * l22);
    out[o + 7] = -l21 / (l11 * l22);
    out[o + 8] = 1 / l22;
    out[o + 9] = Math.log(weight / n) - Math.log(l00 * l11 * l22);
  }
  return out;
}
