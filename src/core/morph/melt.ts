import { LRUCache } from 'lru-cache';
import { between, flowPair, type FlowPair } from '../flow/between';
import type { FlowQuality } from '../flow/dense-flow';
import type { Image } from '../image/pixels';
import { anchorsOf, isAnchor, shareOf } from './melt-frames';

/** How much more neighbours hold together than where one picture follows another: what melts is not the same thing. */
const HELD_TOGETHER = 30;
/** Pairs of pictures whose motion is kept, so that another place between them is made at once. */
const KEPT = 8;

/** The motion between two pictures of different things, both ways; `start` is that of the frame before, where frames follow each other. */
const meltPair = (a: Image, b: Image, quality: FlowQuality, start: FlowPair | null): FlowPair =>
  flowPair(a, b, quality, start, HELD_TOGETHER);

/** The picture between two of different things, its shapes `warped` and its colours `mixed` of the way; where both directions do not agree it fades. */
const melted = (pair: FlowPair, warped: number, mixed: number): Image => between(pair, warped, { mixed, by: 'agreement' });

/** Finds the pair of pictures that meet on a frame of a melt. */
export type MeltPictures = (index: number) => Promise<readonly [Image, Image]>;

/** The frames of a melt of two moving pictures, one after the other, as far along as `shareOf` says. */
export async function* meltFrames(count: number, picturesAt: MeltPictures, quality: FlowQuality): AsyncGenerator<Image> {
  const anchored = new Map<number, FlowPair>();
  const pairAt = async (index: number, start: FlowPair | null): Promise<FlowPair> => {
    const known = anchored.get(index);
    if (known !== undefined) return known;
    const pair = meltPair(...(await picturesAt(index)), quality, start);
    if (isAnchor(index, count)) anchored.set(index, pair);
    return pair;
  };
  for (let i = 0; i < count; i++) {
    let start: FlowPair | null = null;
    for (const anchor of anchorsOf(i, count)) start = await pairAt(anchor, start);
    yield melted(await pairAt(i, start), shareOf(i, count), shareOf(i, count));
  }
}

/**
 * Pictures made by the motion between two others, the same in whatever order they are asked for. What they are made of is known by a key
 * that the caller gives.
 */
export class Melter {
  private readonly pairs = new LRUCache<string, FlowPair>({ max: KEPT });

  /** The picture `share` of the way between two that follow one another in a shot. */
  follow(key: string, a: Image, b: Image, share: number): Image {
    return between(
      this.pair(`follow ${key}`, () => flowPair(a, b, 'fine')),
      share,
    );
  }

  /**
   * The picture between two of different things, its shapes warped and its colours `mixed` of the way. The motion of each step but the last
   * is what the next one's is found from.
   */
  melt(steps: readonly MeltStepToMake[], quality: FlowQuality, warped: number, mixed: number): Image {
    let pair: FlowPair | null = null;
    let key = `melt ${quality}`;
    for (const step of steps) {
      const start: FlowPair | null = pair;
      key = `${key} ${step.key}`;
      pair = this.pair(key, () => meltPair(...step.make(), quality, start));
    }
    if (pair === null) throw new RangeError('Melter: a melt needs a step');
    return melted(pair, warped, mixed);
  }

  private pair(key: string, find: () => FlowPair): FlowPair {
    const pair = this.pairs.get(key) ?? find();
    this.pairs.set(key, pair);
    return pair;
  }
}

/** A frame of a melt: what it is made of, by a key, and how its two pictures are made. */
export interface MeltStepToMake {
  readonly key: string;
  readonly make: () => readonly [Image, Image];
}
