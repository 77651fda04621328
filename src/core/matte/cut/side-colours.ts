import { ColourModel, colourRatios, type Features } from './colour-model';

/** Colours that each side is described by, the pixels they are learnt from, and the rounds of fitting them; tints are finer than noise. */
const FITTING = { count: 8, most: 2000, rounds: 5, leastVariance: 1 };

/** A log ratio beyond which a colour is as good as sure. */
const SURE = 7;
/** Most pixels a side by which trust is measured. */
const JUDGED = 1500;

/** What the colours of a subject and of what is around it are like, over a whole picture. */
export class SideColours {
  private readonly inside: ColourModel;
  private readonly outside: ColourModel;

  private constructor(inside: ColourModel, outside: ColourModel) {
    this.inside = inside;
    this.outside = outside;
  }

  /** Learns from the pixels of `features` at the places given; null where one side has none to speak of. */
  static learn(features: Features, inside: ArrayLike<number>, outside: ArrayLike<number>): SideColours | null {
    const ins = ColourModel.fit(features, inside, FITTING);
    const outs = ColourModel.fit(features, outside, FITTING);
    return ins === null || outs === null ? null : new SideColours(ins, outs);
  }

  /** How much the colour of each pixel of `features` for which `asked` is not 0 speaks for the inside, as a log ratio of −most..most; 0 for the others. */
  ratios(features: Features, asked: Uint8Array, most: number): Float32Array {
    return colourRatios(this.inside, this.outside, features, asked, most);
  }

  /**
   * How surely the colours tell pixels that are known to be inside from those known to be outside, 0 (by chance) to 1;
   * 1 where one side has none to tell.
   */
  trust(features: Features, inside: readonly number[], outside: readonly number[]): number {
    if (inside.length === 0 || outside.length === 0) return 1;
    const right = 0.5 * (this.meanChance(features, inside, 1) + this.meanChance(features, outside, -1));
    return Math.max(0, 2 * right - 1);
  }

  /** Mean chance that the pixels at `places` are inside, or with `sign` -1 outside, by their colours. */
  private meanChance(features: Features, places: readonly number[], sign: 1 | -1): number {
    const stride = Math.ceil(places.length / JUDGED);
    const judged = new Float32Array(3 * Math.ceil(places.length / stride));
    for (let k = 0, o = 0; k < places.length; k += stride, o += 3) {
      const p = 3 * places[k]!;
      judged.set(features.subarray(p, p + 3), o);
    }
    const ratios = this.ratios(judged, new Uint8Array(judged.length / 3).fill(1), SURE);
    return ratios.reduce((sum, ratio) => sum + 1 / (1 + Math.exp(-sign * ratio)), 0) / ratios.length;
  }
}
