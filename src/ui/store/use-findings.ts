import { useEffect, useId, useMemo, useState, useSyncExternalStore } from 'react';
import { coveragePlan, framesOf } from '../../core/check/coverage';
import type { Finding } from '../../core/check/finding';
import { checkJoin } from '../../core/check/join';
import type { Film, Media } from '../../core/film/film';
import type { PlacedJoin } from '../../core/film/timing';
import { useTools } from './film-context';

export interface Findings {
  readonly list: readonly Finding[];
  /** Every frame was looked at, as it is or was a moment ago; before that only what can be told without drawing is in the list. */
  readonly isComplete: boolean;
}

/** Waits for edits to end before frames are drawn for it: a drag makes many. */
const PAUSE_MS = 120;

/** What Check finds in joins of the film, drawn in the worker with the mattes and pictures as they are. */
export function useFindings(film: Film, media: Media, joins: readonly PlacedJoin[]): Findings {
  const { frames, store } = useTools();
  const changes = useSyncExternalStore(frames.subscribe, frames.matteChanges, frames.matteChanges);
  const [measured, setMeasured] = useState<ReadonlyMap<string, readonly number[]>>(new Map());
  const owner = useId();
  useEffect(() => {
    let wanted = true;
    const look = async (): Promise<void> => {
      const shares = new Map<string, readonly number[]>();
      for (const placed of joins) {
        const found = await Promise.all(framesOf(placed).map((frame) => frames.measure(coveragePlan(film, media, frame), owner)));
        if (!wanted || found.includes(null)) return;
        shares.set(placed.join.id, found as number[]);
      }
      setMeasured(shares);
    };
    const timer = setTimeout(() => {
      look().catch((error: Error) => wanted && store.notify(`The join could not be checked: ${error.message}`));
    }, PAUSE_MS);
    return () => {
      wanted = false;
      clearTimeout(timer);
      frames.dropMeasures(owner);
    };
  }, [frames, store, owner, film, media, joins, changes]);
  return useMemo(() => {
    // what was measured last stands until the next is there, unless the overlap is another by now
    const sharesOf = ({ join, from, to }: PlacedJoin): readonly number[] | null => {
      const known = to === from ? [] : measured.get(join.id);
      return known?.length === to - from ? known : null;
    };
    return {
      list: joins.flatMap((placed) => checkJoin(film, media, placed, sharesOf(placed) ?? [])),
      isComplete: joins.every((placed) => sharesOf(placed) !== null),
    };
  }, [measured, joins, film, media]);
}
