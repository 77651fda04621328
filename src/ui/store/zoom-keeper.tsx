'use client';
import { useEffect, useId, useRef, useSyncExternalStore } from 'react';
import { create } from 'zustand';
import type { Film, Media } from '../../core/film/film';
import { followingName, makeEdit } from '../../core/film/history';
import { placedJoins, type PlacedJoin } from '../../core/film/timing';
import type { HoleShape } from '../../core/recipes/hole-shape';
import { isChangedByHand } from '../../core/recipes/recipe';
import { layZooms, planHole, type MeasuredHoles } from '../../core/recipes/zoom-through';
import { useFilmState, useTools } from './film-context';
import type { FramesClient } from './frames-client';

/** The holes of the film's zooms as they were measured last, by join. */
export const useHoles = create<{ readonly holes: MeasuredHoles }>(() => ({ holes: new Map() }));

const PAUSE_MS = 60;

const holeId = ({ join }: PlacedJoin): string | null => (join.recipe?.kind === 'zoom through' ? join.recipe.settings.matteId : null);

/** Measures the hole of a zoom on every frame of its overlap; undefined once that is no longer wanted. */
export async function measureHoles(
  frames: FramesClient,
  film: Film,
  media: Media,
  placed: PlacedJoin,
  owner: string,
): Promise<readonly (HoleShape | null)[] | undefined> {
  const asked = Array.from({ length: placed.to - placed.from }, async (_, i) => {
    const plan = planHole(film, media, placed, placed.from + i);
    return plan === null ? null : frames.measureHole(plan, owner);
  });
  const found = await Promise.all(asked);
  return found.includes(undefined) ? undefined : (found as (HoleShape | null)[]);
}

/** What a zoom is solved from, as text: another text asks for another move. */
function inputOf(film: Film, placed: PlacedJoin): string {
  const matte = film.mattes.find((m) => m.id === holeId(placed));
  const track = film.tracks?.find((t) => t.id === matte?.trackId);
  const { leaving, entering, from, to, cut, join } = placed;
  const edges = join.layers.flatMap((l) => l.mattes);
  return JSON.stringify([
    { ...leaving, name: '' },
    entering.framing,
    // where the join lies on the reel changes nothing of it
    from - cut,
    to - cut,
    join.recipe?.settings,
    edges,
    matte?.outline,
    matte?.key,
    matte?.tidying,
    track?.keys,
    track?.frames.length,
  ]);
}

/**
 * Keeps every zoom of the film solved: when its hole, a trim or a setting has changed, it is laid anew, unless a hand has changed what it
 * made. What an undo brings back stays as it was.
 */
export function ZoomKeeper() {
  const { frames, store } = useTools();
  const { film, media, history } = useFilmState('film', 'media', 'history');
  const changes = useSyncExternalStore(frames.subscribe, frames.matteChanges, frames.matteChanges);
  const owner = useId();
  const seen = useRef(new Map<string, string>());
  useEffect(() => {
    if (film === null || media.size === 0) return;
    let wanted = true;
    const zooms = placedJoins(film).filter((p) => p.join.recipe?.kind === 'zoom through');
    const isStep = history.at(-1) !== undefined && history.at(-1)!.kind !== 'edit';
    const look = async (): Promise<void> => {
      const measured = new Map<string, readonly (HoleShape | null)[]>();
      for (const placed of zooms) {
        const found = await measureHoles(frames, film, media, placed, owner);
        if (!wanted || found === undefined) return;
        measured.set(placed.join.id, found);
      }
      useHoles.setState({ holes: measured });
      for (const placed of zooms) {
        const { id, recipe } = placed.join;
        const input = `${frames.changesOfMatte(holeId(placed) ?? '')} ${inputOf(film, placed)}`;
        const before = seen.current.get(id);
        seen.current.set(id, input);
        const isNew = before === undefined ? recipe?.made === '' : before !== input;
        if (isStep || !isNew || isChangedByHand(placed.join)) continue;
        if (makeEdit(film, '', (d) => layZooms(d, id, measured)) === null) continue;
        store.edit(followingName(placed.join.name), (d) => layZooms(d, id, measured));
        return; // the film is another now, and is looked at again
      }
    };
    const timer = setTimeout(() => {
      look().catch((error: Error) => wanted && store.notify(`The hole of a zoom could not be measured: ${error.message}`));
    }, PAUSE_MS);
    return () => {
      wanted = false;
      clearTimeout(timer);
      frames.dropMeasures(owner);
    };
  }, [film, media, history, changes, frames, store, owner]);
  return null;
}
