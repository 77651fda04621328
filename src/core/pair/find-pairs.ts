import type { Image } from '../image/pixels';
import { SignsReader, type FrameMotion, type FrameSigns } from './frame-signs';
import { exactPairs, isCut, matchMap, type ExactPair, type MatchMap } from './match-map';

/** All that comes of comparing two shots. */
export interface FoundPairs {
  readonly map: MatchMap;
  readonly motionA: readonly FrameMotion[];
  readonly motionB: readonly FrameMotion[];
  /** The pairs whose pictures lie over each other best, best first; none where none are alike. */
  readonly best: readonly ExactPair[];
}

/** Compares two shots step by step: their frames are given one after the other, then `step` is called until it is done. */
export class PairFinder {
  private readonly readers = { a: new SignsReader(), b: new SignsReader() };
  private readonly signs: Record<'a' | 'b', FrameSigns[]> = { a: [], b: [] };
  private working: Generator<number, MatchMap> | null = null;

  /** The next frame of a shot, `SIGNS_WIDTH` wide. */
  add(side: 'a' | 'b', picture: Image): void {
    this.signs[side].push(this.readers[side].next(picture));
  }

  /** Goes on; gives the share that is done or, at the end, what was found. @throws RangeError without a frame of both */
  step(): number | FoundPairs {
    const { a, b } = this.signs;
    if (a.length === 0 || b.length === 0) throw new RangeError('there is nothing to compare');
    this.working ??= matchMap({ a, b });
    const next = this.working.next();
    if (next.done !== true) return next.value;
    const map = next.value;
    const best = exactPairs(map, a, b).filter((pair) => isCut(map, pair));
    return { map, motionA: a.map((s) => s.motion), motionB: b.map((s) => s.motion), best };
  }
}
