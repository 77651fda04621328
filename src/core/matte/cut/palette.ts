import type { Features } from './colour-model';

/** Width of a bin, in 8-bit steps: well below what tells two sides apart. */
const BIN = 4;
const [LUMA_BINS, TINT_BINS] = [64, 96];
/** Tints lie around zero. */
const TINT_FROM = (TINT_BINS * BIN) / 2;

/** The distinct colours of a picture, alike ones taken together, so that what depends on colour alone is computed once for each. */
export class Palette {
  /** Index of each pixel's colour. */
  readonly of: Int32Array;
  /** Mean of each colour's pixels. */
  readonly colours: Float32Array;

  constructor(features: Features) {
    const bins = new Int32Array(LUMA_BINS * TINT_BINS * TINT_BINS).fill(-1);
    this.of = new Int32Array(features.length / 3);
    const sums: number[] = [];
    for (let i = 0, p = 0; i < this.of.length; i++, p += 3) {
      const bin =
        (Math.min(LUMA_BINS - 1, (features[p]! / BIN) | 0) * TINT_BINS + binOf(features[p + 1]!)) * TINT_BINS + binOf(features[p + 2]!);
      let index = bins[bin]!;
      if (index < 0) {
        index = bins[bin] = sums.length / 4;
        sums.push(0, 0, 0, 0);
      }
      this.of[i] = index;
      const s = 4 * index;
      sums[s]! += features[p]!;
      sums[s + 1]! += features[p + 1]!;
      sums[s + 2]! += features[p + 2]!;
      sums[s + 3]!++;
    }
    this.colours = new Float32Array((3 * sums.length) / 4);
    for (let s = 0, o = 0; s < sums.length; s += 4, o += 3) for (let c = 0; c < 3; c++) this.colours[o + c] = sums[s + c]! / sums[s + 3]!;
  }
}

const binOf = (tint: number): number => Math.max(0, Math.min(TINT_BINS - 1, ((tint + TINT_FROM) / BIN) | 0));
