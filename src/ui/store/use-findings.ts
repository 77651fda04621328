import { useEffect, useId, useMemo, useState, useSyncExternalStore } from 'react';
import { coveragePlan, framesOf } from '../../core/check/coverage';
import type { Finding } from '../../core/check/finding';
import { checkJoin } from '../../core/check/join';
import type { Film, Media } from '../../core/film/film';
import type { PlacedJoin } from '../../core/film/timing';
import { useTools } from './film-context';

export interface Findings {
  readonly list: readonly Finding[];
  /** Every frame was looked at; before that only what can be told without drawing is in the list. */
  readonly isComplete: boolean;
}

/** Waits for edits to end before frames are drawn for it: a drag makes many. */
const PAUSE_MS = 120;

/** What Check finds in joins of the film, drawn in the worker with the mattes and pictures as they are. */
export function useFindings(film: Film, media: Media, joins: readonly PlacedJoin[]): Findings {
  const { frames, store } = useTools();
  const changes = useSyncExternalStore(frames.subscribe, frames.matteChanges, frames.matteChanges);
  const [measured, setMeasured] = useState<{ readonly of: unknown; readonly shares: ReadonlyMap<string, readonly number[]> } | null>(null);
  const owner = useId();
  // one value for all that the shares hang on
  const subject = useMemo(() => ({ film, media, joins, changes }), [film, media, joins, changes]);
  useEffect(() => {
    let wanted = true;
    const look = async (): Promise<void> => {
      const shares = new Map<string, readonly number[]>();
      for (const placed of joins) {
        const found = await Promise.all(framesOf(placed).map((frame) => frames.measure(coveragePlan(film, media, frame), owner)));
        if (!wanted || found.includes(null)) return;
        shares.set(placed.join.id, found as number[]);
      }
      setMeasured({ of: subject, shares });
    };
    const timer = setTimeout(() => {
      look().catch((error: Error) => wanted && store.notify(`The join could not be checked: ${error.message}`));
    }, PAUSE_MS);
    return () => {
      wanted = false;
      clearTimeout(timer);
      frames.dropMeasures(owner);
    };
  }, [frames, store, owner, subject, film, media, joins]);
  return useMemo(() => {
    const isComplete = measured?.of === subject;
    const sharesOf = (placed: PlacedJoin): readonly number[] => (isComplete ? measured.shares.get(placed.join.id)! : []);
    return { list: joins.flatMap((placed) => checkJoin(film, media, placed, sharesOf(placed))), isComplete };
  }, [measured, subject, joins, film, media]);
}
