'use client';
import { useEffect, useId, useRef, useSyncExternalStore } from 'react';
import { create } from 'zustand';
import { marksOfFilm } from '../../core/film/edits/marks';
import type { Film, Media } from '../../core/film/film';
import { followingName, makeEdit } from '../../core/film/history';
import { placedJoins, type PlacedJoin } from '../../core/film/timing';
import { layJoin, runOf } from '../../core/recipes/making';
import type { AllMeasured, Measured } from '../../core/recipes/kind';
import { isKept, mattesOfRecipe, plansToMeasure } from '../../core/recipes/keep';
import { isChangedByHand } from '../../core/film/made-mark';
import { useFilmState, useTools } from './film-context';
import type { FramesClient } from './frames-client';

interface Measures {
  readonly measures: AllMeasured;
  /** Whether all joins have been measured once since the page was opened. */
  readonly areThere: boolean;
}

/** What of the film's joins was measured last, by join. */
export const useMeasures = create<Measures>(() => ({ measures: new Map(), areThere: false }));

/** What was measured, once all joins have been. */
export async function measuresOnceThere(): Promise<AllMeasured> {
  if (!useMeasures.getState().areThere)
    await new Promise<void>((resolve) => {
      const stop = useMeasures.subscribe(({ areThere }) => {
        if (!areThere) return;
        stop();
        resolve();
      });
    });
  return useMeasures.getState().measures;
}

const PAUSE_MS = 60;

/** Measures what a join is laid from; undefined once that is no longer wanted. */
export async function measureJoin(
  frames: FramesClient,
  film: Film,
  media: Media,
  placed: PlacedJoin,
  owner: string,
): Promise<Measured | undefined> {
  const asked = plansToMeasure(film, media, placed).map(async (plan) => (plan === null ? null : frames.measureHole(plan, owner)));
  const found = await Promise.all(asked);
  return found.includes(undefined) ? undefined : (found as Measured);
}

/** What a join is made from, as text: another text asks for it to be made anew. */
function inputOf(film: Film, placed: PlacedJoin, marks: readonly number[]): string {
  const { leaving, entering, from, to, cut, join } = placed;
  const mattes = mattesOfRecipe(film, placed);
  const tracks = (film.tracks ?? []).filter((t) => mattes.some((m) => m.trackId === t.id));
  const others = runOf(film, join.id).map((id) => film.joins.find((j) => j.id === id)?.recipe?.settings);
  return JSON.stringify([
    { ...leaving, name: '' },
    { ...entering, name: '' },
    // where the join lies on the reel changes nothing of it, unless it keeps to marks
    from - cut,
    to - cut,
    others,
    join.layers.flatMap((l) => l.mattes),
    mattes.map((m) => [m.outline, m.key, m.tidying, m.painted?.length]),
    tracks.map((t) => [t.keys, t.frames.length]),
    join.interest,
    marks.filter((m) => m > from - leaving.length && m < to + entering.length).map((m) => m - cut),
  ]);
}

/**
 * Keeps every join of the film as its settings say: when a matte, a trim, a mark or a setting has changed, it is laid anew, unless a hand has
 * changed what it made. What an undo brings back stays as it was.
 */
export function MeasureKeeper() {
  const { frames, store } = useTools();
  const { film, media, history } = useFilmState('film', 'media', 'history');
  const changes = useSyncExternalStore(frames.subscribe, frames.matteChanges, frames.matteChanges);
  const owner = useId();
  const seen = useRef(new Map<string, string>());
  useEffect(() => () => useMeasures.setState({ measures: new Map(), areThere: false }), []);
  useEffect(() => {
    if (film === null || media.size === 0) return;
    let wanted = true;
    const kept = placedJoins(film).filter(isKept);
    const isStep = history.at(-1) !== undefined && history.at(-1)!.kind !== 'edit';
    const look = async (): Promise<void> => {
      const measured = new Map<string, Measured>();
      for (const placed of kept) {
        const found = await measureJoin(frames, film, media, placed, owner);
        if (!wanted || found === undefined) return;
        if (found.length > 0) measured.set(placed.join.id, found);
      }
      useMeasures.setState({ measures: measured, areThere: true });
      const marks = marksOfFilm(film, media).map((m) => m.frame);
      for (const placed of kept) {
        const { id, recipe } = placed.join;
        const versions = mattesOfRecipe(film, placed).map((m) => frames.changesOfMatte(m.id));
        const input = `${versions.join()} ${inputOf(film, placed, marks)}`;
        const before = seen.current.get(id);
        seen.current.set(id, input);
        const isNew = before === undefined ? recipe?.made === '' : before !== input;
        if (isStep || !isNew || isChangedByHand(film, placed.join)) continue;
        if (makeEdit(film, '', (d) => layJoin(d, media, id, measured)) === null) continue;
        store.edit(followingName(placed.join.name), (d) => layJoin(d, media, id, measured));
        return; // the film is another now, and is looked at again
      }
    };
    const timer = setTimeout(() => {
      look().catch((error: Error) => wanted && store.notify(`What a join is made from could not be measured: ${error.message}`));
    }, PAUSE_MS);
    return () => {
      wanted = false;
      clearTimeout(timer);
      frames.dropMeasures(owner);
    };
  }, [film, media, history, changes, frames, store, owner]);
  return null;
}
