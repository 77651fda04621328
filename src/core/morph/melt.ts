import { between, flowPair, type FlowPair } from '../flow/between';
import type { FlowQuality } from '../flow/dense-flow';
import type { Image } from '../image/pixels';
import { HELD_TOGETHER } from './flow-morph';

/** Pairs of pictures whose motion is kept, so that another place between them is made at once. */
const KEPT = 4;

/** Pictures made by the motion between two others. What they were made of is known by a key that the caller gives. */
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
    const pair = this.pair(`melt ${quality} ${key}`, () => flowPair(...make(), quality, null, HELD_TOGETHER));
    return between(pair, warped, { mixed, by: 'agreement' });
  }

  private pair(key: string, find: () => FlowPair): FlowPair {
    const known = this.pairs.get(key);
    const pair = known ?? find();
    this.pairs.delete(key);
    this.pairs.set(key, pair);
    if (this.pairs.size > KEPT) this.pairs.delete(this.pairs.keys().next().value!);
    return pair;
  }
}
