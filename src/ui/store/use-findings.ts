import { useEffect, useId, useMemo, useState, useSyncExternalStore } from 'react';
import { coveragePlan } from '../../core/check/coverage';
import type { Finding } from '../../core/check/finding';
import { checkJoin } from '../../core/check/join';
import { lookPlans, type FrameLook } from '../../core/check/look';
import { framesToCover, framesToLook } from '../../core/check/frames';
import type { Film, Media } from '../../core/film/film';
import type { PlacedJoin } from '../../core/film/timing';
import { useTools } from './film-context';
import type { FramesClient } from './frames-client';

export interface Findings {
  readonly list: readonly Finding[];
  /** Every frame was looked at, as it is or was a moment ago; before that only what can be told without drawing is in the list. */
  readonly isComplete: boolean;
}

/** What was measured of a join: empty shares of its overlap's frames, and what they look like. */
interface Seen {
  readonly shares: readonly number[];
  readonly looks: readonly (FrameLook | null)[];
}

/** Waits for edits to end before frames are drawn for it: a drag makes many. */
const PAUSE_MS = 120;

/** Draws what Check needs of a join; null once that is no longer wanted. With `closely` its pictures are looked at too. */
export async function lookThrough(
  frames: FramesClient,
  film: Film,
  media: Media,
  placed: PlacedJoin,
  closely: boolean,
  owner: string,
): Promise<Seen | null> {
  const shares = await Promise.all(
    framesToCover(film, media, placed).map((frame) => frames.measure(coveragePlan(film, media, frame), owner)),
  );
  if (shares.includes(null)) return null;
  const looked = closely ? framesToLook(film, placed) : [];
  const looks = await Promise.all(
    looked.map(async (frame) => (frame === null ? null : ((await frames.look(lookPlans(film, media, placed, frame), owner)) ?? 'dropped'))),
  );
  return looks.includes('dropped') ? null : { shares: shares as number[], looks: looks as (FrameLook | null)[] };
}

/**
 * What Check finds in joins of the film, drawn in the worker with the mattes and pictures as they are; `closely` with what only the pictures tell.
 */
export function useFindings(film: Film, media: Media, joins: readonly PlacedJoin[], closely = false): Findings {
  const { frames, store } = useTools();
  const changes = useSyncExternalStore(frames.subscribe, frames.matteChanges, frames.matteChanges);
  const [measured, setMeasured] = useState<ReadonlyMap<string, Seen>>(new Map());
  const owner = useId();
  useEffect(() => {
    let wanted = true;
    const look = async (): Promise<void> => {
      const seen = new Map<string, Seen>();
      for (const placed of joins) {
        const found = await lookThrough(frames, film, media, placed, closely, owner);
        if (!wanted || found === null) return;
        seen.set(placed.join.id, found);
      }
      setMeasured(seen);
    };
    const timer = setTimeout(() => {
      look().catch((error: Error) => wanted && store.notify(`The join could not be checked: ${error.message}`));
    }, PAUSE_MS);
    return () => {
      wanted = false;
      clearTimeout(timer);
      frames.dropMeasures(owner);
    };
  }, [frames, store, owner, film, media, joins, closely, changes]);
  return useMemo(() => {
    // what was measured last stands until the next is there, unless the overlap is another by now
    const seenOf = (placed: PlacedJoin): Partial<Seen> | null => {
      const { join } = placed;
      const known = measured.get(join.id);
      const isLooked = !closely || known?.looks.length === framesToLook(film, placed).length;
      return known?.shares.length === framesToCover(film, media, placed).length && isLooked ? known : null;
    };
    return {
      list: joins.flatMap((placed) => {
        const { shares = [], looks = [] } = seenOf(placed) ?? {};
        return checkJoin(film, media, placed, shares, looks);
      }),
      isComplete: joins.every((placed) => seenOf(placed) !== null),
    };
  }, [measured, joins, film, media, closely]);
}
