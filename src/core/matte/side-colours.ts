import { ColourModel, type Features } from './colour-model';

/** Colours that each side is described by, the pixels they are learnt from, and the rounds of fitting them. */
const COLOURS = 8;
const SAMPLES = 2000;
const FITTING = 5;
/** Added to the variance of each colour: pictures differ in tints finer than their noise. */
const LEAST_VARIANCE = 1;

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
    const ins = ColourModel.fit(features, inside, COLOURS, SAMPLES, FITTING, LEAST_VARIANCE);
    const outs = ColourModel.fit(features, outside, COLOURS, SAMPLES, FITTING, LEAST_VARIANCE);
    return ins === null || outs === null ? null : new SideColours(ins, outs);
  }

  /** How much the colour of pixel `i` of `features` speaks for the inside, as a log ratio of −most..most. */
  ratio(features: Features, i: number, most: number): number {
    const a = features[3 * i]!;
    const b = features[3 * i + 1]!;
    const c = features[3 * i + 2]!;
    return Math.max(-most, Math.min(most, this.inside.logDensity(a, b, c) - this.outside.logDensity(a, b, c)));
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
    let sum = 0;
    let count = 0;
    for (let k = 0; k < places.length; k += stride) {
      sum += 1 / (1 + Math.exp(-sign * this.ratio(features, places[k]!, SURE)));
      count++;
    }
    return sum / count;
  }
}
