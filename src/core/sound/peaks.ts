/**
 * Peaks: the least and the greatest value of every so many samples, both channels together, at several scales, so that a wave is drawn
 * at any zoom by reading no more than is seen. Stored as pairs of signed bytes, the finest scale first, one after the other.
 */
export const PEAK_SCALES = [64, 512, 4096, 32_768] as const;

export interface PeakLevel {
  /** Samples a pair stands for. */
  readonly scale: number;
  /** Byte at which its pairs begin, and how many there are. */
  readonly offset: number;
  readonly pairs: number;
}

/** Where the scales of a sound of so many samples lie. */
export function peakLevels(samples: number): readonly PeakLevel[] {
  let offset = 0;
  return PEAK_SCALES.map((scale) => {
    const pairs = Math.ceil(samples / scale);
    const level = { scale, offset, pairs };
    offset += 2 * pairs;
    return level;
  });
}

/** The coarsest scale that still has a pair for each of `samplesEach`. */
export const levelFor = (levels: readonly PeakLevel[], samplesEach: number): PeakLevel =>
  levels.findLast((l) => l.scale <= samplesEach) ?? levels[0]!;

const FINEST = PEAK_SCALES[0];

/** Gathers peaks of a sound as it comes, whatever the lengths of its parts. */
export class PeakBuilder {
  private finest = new Int8Array(1 << 16);
  private count = 0;
  private filled = 0;
  private low = 0;
  private high = 0;
  private total = 0;

  /** 16-bit pairs of left and right. */
  push(pairs: Int16Array): void {
    let { low, high, filled } = this;
    for (let i = 0; i + 1 < pairs.length; i += 2) {
      const l = pairs[i]!;
      const r = pairs[i + 1]!;
      const least = l < r ? l : r;
      const most = l < r ? r : l;
      if (filled === 0 || least < low) low = least;
      if (filled === 0 || most > high) high = most;
      if (++filled === FINEST) {
        this.store(low, high);
        filled = 0;
      }
    }
    Object.assign(this, { low, high, filled });
    this.total += pairs.length >> 1;
  }

  /** Samples so far. */
  get samples(): number {
    return this.total;
  }

  private store(low: number, high: number): void {
    if (2 * this.count + 2 > this.finest.length) {
      const larger = new Int8Array(2 * this.finest.length);
      larger.set(this.finest);
      this.finest = larger;
    }
    // rounded outwards: nothing that sounds is drawn as nothing
    this.finest[2 * this.count] = Math.floor(low / 256);
    this.finest[2 * this.count + 1] = Math.min(127, Math.ceil(high / 256));
    this.count++;
  }

  /** All scales; nothing may be pushed after it. */
  finish(): Int8Array<ArrayBuffer> {
    if (this.filled > 0) this.store(this.low, this.high);
    this.filled = 0;
    const levels = peakLevels(this.total);
    const last = levels.at(-1)!;
    const all = new Int8Array(last.offset + 2 * last.pairs);
    all.set(this.finest.subarray(0, 2 * this.count));
    for (let i = 1; i < levels.length; i++) coarsen(all, levels[i - 1]!, levels[i]!);
    return all;
  }
}

function coarsen(all: Int8Array, from: PeakLevel, to: PeakLevel): void {
  const each = to.scale / from.scale;
  for (let p = 0; p < to.pairs; p++) {
    let low = 127;
    let high = -128;
    for (let i = p * each; i < Math.min(from.pairs, (p + 1) * each); i++) {
      low = Math.min(low, all[from.offset + 2 * i]!);
      high = Math.max(high, all[from.offset + 2 * i + 1]!);
    }
    all[to.offset + 2 * p] = low;
    all[to.offset + 2 * p + 1] = high;
  }
}
