import { between, flowPair, type FlowPair } from '../flow/between';
import type { FlowQuality } from '../flow/dense-flow';
import type { Image } from '../image/pixels';

/** How much more neighbours hold together than where one picture follows another: what melts is not the same thing. */
const HELD_TOGETHER = 30;
/** Pairs of pictures whose motion is kept, so that another place between them is made at once. */
const KEPT = 4;

/** The motion between two pictures of different things, both ways; `start` is that of the frame before, where frames follow each other. */
const meltPair = (a: Image, b: Image, quality: FlowQuality, start: FlowPair | null): FlowPair =>
  flowPair(a, b, quality, start, HELD_TOGETHER);

/** The picture between two of different things, its shapes `warped` and its colours `mixed` of the way; where both directions do not agree it fades. */
const melted = (pair: FlowPair, warped: number, mixed: number): Image => between(pair, warped, { mixed, by: 'agreement' });

/**
 * Melts one moving picture into another, frame after frame: each motion is found from that of the frame before, so that it stays steady.
 */
export class FlowMorph {
  private readonly quality: FlowQuality;
  private before: FlowPair | null = null;

  constructor(quality: FlowQuality) {
    this.quality = quality;
  }

  /** The picture `share` (0..1) of the way from `a` to `b`. @throws RangeError when they are not of one size */
  next(a: Image, b: Image, share: number): Image {
    this.before = meltPair(a, b, this.quality, this.before);
    return melted(this.before, share, share);
  }
}

/** How far along frame `i` of `count` between two pictures lies, both ends left out. */
export const shareOf = (i: number, count: number): number => (i + 1) / (count + 1);

/**
 * Pictures made by the motion between two others, the same in whatever order they are asked for. What they are made of is known by a key
 * that the caller gives.
 */
export class Melter {
  private readonly pairs = new Map<string, FlowPair>();

  /** The picture `share` of the way between two that follow one another in a shot. */
  follow(key: string, a: Image, b: Image, share: number): Image {
    return between(
      this.pair(`follow ${key}`, () => flowPair(a, b, 'fine')),
      share,
    );
  }

  /** The picture between two of different things, its shapes `warped` and its colours `mixed` of the way. */
  melt(key: string, make: () => readonly [Image, Image], quality: FlowQuality, warped: number, mixed: number): Image {
    return melted(
      this.pair(`melt ${quality} ${key}`, () => meltPair(...make(), quality, null)),
      warped,
      mixed,
    );
  }

  private pair(key: string, find: () => FlowPair): FlowPair {
    const pair = this.pairs.get(key) ?? find();
    this.pairs.delete(key);
    this.pairs.set(key, pair);
    if (this.pairs.size > KEPT) this.pairs.delete(this.pairs.keys().next().value!);
    return pair;
  }
}
