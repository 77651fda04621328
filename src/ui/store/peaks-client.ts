import { LRUCache } from 'lru-cache';
import type { SoundFacts } from '../../core/film/media-facts';
import { levelFor, peakLevels } from '../../core/sound/peaks';

/** Pairs that are fetched at one time, and blocks of them that are kept. */
const BLOCK = 4096;
const MOST_BLOCKS = 400;

/** Fetches the peaks of sounds as they are looked at, no more than is seen. */
export class PeaksClient {
  private readonly blocks = new LRUCache<string, Int8Array | 'asked'>({ max: MOST_BLOCKS });
  private readonly listeners = new Set<() => void>();
  private changes = 0;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  };
  /** Grows whenever more peaks are there. */
  readonly version = (): number => this.changes;

  /**
   * The least and the greatest value between two samples, −128..127, by the scale that suits `samplesEach`; null where that is still to
   * come.
   */
  between(sound: SoundFacts, from: number, to: number, samplesEach: number): readonly [low: number, high: number] | null {
    const level = levelFor(peakLevels(sound.samples), samplesEach);
    const first = Math.max(0, Math.floor(from / level.scale));
    const last = Math.min(level.pairs - 1, Math.max(first, Math.ceil(to / level.scale) - 1));
    if (last < first) return [0, 0];
    let [low, high] = [127, -128];
    for (let i = first; i <= last; i++) {
      const block = this.block(sound.id, level.offset, level.pairs, Math.floor(i / BLOCK));
      if (block === null) return null;
      low = Math.min(low, block[2 * (i % BLOCK)] ?? 0);
      high = Math.max(high, block[2 * (i % BLOCK) + 1] ?? 0);
    }
    return [low, high];
  }

  private block(mediumId: string, offset: number, pairs: number, index: number): Int8Array | null {
    const key = `${mediumId}:${offset}:${index}`;
    const known = this.blocks.get(key);
    if (known !== undefined && known !== 'asked') return known;
    if (known === undefined) void this.fetch(key, mediumId, offset + 2 * index * BLOCK, 2 * Math.min(BLOCK, pairs - index * BLOCK));
    return null;
  }

  private async fetch(key: string, mediumId: string, first: number, bytes: number): Promise<void> {
    this.blocks.set(key, 'asked');
    try {
      const answer = await fetch(`/api/media/${mediumId}/peaks.s8`, { headers: { range: `bytes=${first}-${first + bytes - 1}` } });
      if (!answer.ok) throw new Error('The wave could not be fetched.');
      this.blocks.set(key, new Int8Array(await answer.arrayBuffer()));
      this.changes++;
      for (const listener of this.listeners) listener();
    } catch {
      // asked for again when it is drawn the next time
      this.blocks.delete(key);
    }
  }
}
