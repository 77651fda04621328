'use client';
import { useState, type PointerEvent } from 'react';
import type { Film, Shot } from '../../core/film/film';
import { changedFilm } from '../../core/film/history';
import { useFilm, useTools } from '../store/film-context';
import { chooseShots, toggleShot, useReelChoice } from '../store/reel-choice';
import type { ReelScale } from './reel-scale';
import { changeOf, dragKind, indexAt, isMoved, rolledCut, snappedBy, type Drag, type Grip } from './shot-drag';
import { SNAP_PX } from './sound/sizes';
import { newId } from '../store/new-id';

/** What the pointer does to shots on the reel. The film as a drag would leave it is shown until it is let go. */
export function useShotDrag(scale: ReelScale, onFrame: (frame: number) => void, onTrim: (drag: Drag | null) => void) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { shotId, alsoShots, snaps } = useReelChoice();
  const [drag, setDrag] = useState<Drag | null>(null);
  const [preview, setPreview] = useState<Film | null>(null);

  const choose = (event: PointerEvent, shot: Shot): 'drag' | 'done' => {
    if (event.ctrlKey || event.metaKey) {
      toggleShot(shot.id);
      return 'done';
    }
    const isChosen = shot.id === shotId || alsoShots.has(shot.id);
    if (event.shiftKey && !event.altKey) {
      const [a, b] = [film.shots.findIndex((s) => s.id === shotId), film.shots.indexOf(shot)];
      const span = film.shots.slice(Math.max(0, Math.min(a, b)), Math.max(a, b) + 1).map((s) => s.id);
      chooseShots(a < 0 ? [shot.id] : [shotId!, ...span.filter((id) => id !== shotId)]);
      return 'done';
    }
    if (!isChosen) chooseShots([shot.id]);
    return 'drag';
  };
  const start = (event: PointerEvent, shot: Shot, grip: Grip): void => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    if (grip === 'body') {
      if (choose(event, shot) === 'done') return;
    } else chooseShots([shot.id]);
    const kind = dragKind(grip, event);
    // the cut at the end of a shot is that at the start of the next
    const held = kind === 'roll' && grip === 'end' ? (film.shots[film.shots.indexOf(shot) + 1] ?? shot) : shot;
    const chosen = new Set([...(shotId === null ? [] : [shotId]), ...alsoShots]);
    const ids = kind === 'move' && chosen.has(shot.id) ? chosen : new Set([shot.id]);
    setDrag({ kind, id: held.id, ids, from: event.clientX, dx: 0, by: 0, index: film.shots.indexOf(shot) });
  };
  /** The drag as it is with the pointer there. */
  const dragged = (from: Drag, event: PointerEvent): Drag => {
    const dx = event.clientX - from.from;
    if (from.kind === 'move') return { ...from, dx, index: indexAt(film, scale.placeAt(event.clientX), from.ids) };
    // a key that is held lets ends go where the pointer goes
    const reach = snaps && !event.ctrlKey && !event.metaKey ? SNAP_PX / scale.perFrame : 0;
    return { ...from, dx, by: snappedBy(film, media, from, dx / scale.perFrame, reach) };
  };
  const move = (event: PointerEvent): void => {
    if (drag === null) return;
    const next = dragged(drag, event);
    setDrag(next);
    if (next.kind === 'move') return;
    const change = changeOf(film, media, next, newId);
    setPreview(change === null ? null : changedFilm(film, change.change));
    onTrim(next);
  };
  const cancel = (): void => {
    setDrag(null);
    setPreview(null);
    onTrim(null);
  };
  const end = (event: PointerEvent): void => {
    if (drag === null) return;
    // where the pointer was let go counts, also when the page has not been drawn since
    const done = dragged(drag, event);
    cancel();
    if (done.kind === 'move' && !isMoved(done)) {
      chooseShots([done.id]);
      onFrame(scale.frameAt(event.clientX));
      return;
    }
    const change = changeOf(film, media, done, newId);
    if (change !== null) store.edit(change.name, change.change);
  };
  return { drag, preview, setPreview, start, move, end, cancel };
}

export type ShotDrag = ReturnType<typeof useShotDrag>;

/** The shots on both sides of the cut that a drag moves; null for one that moves none. */
export function cutOfDrag(film: Film, { kind, id }: Drag): { readonly leaving: Shot | null; readonly entering: Shot | null } | null {
  const at = film.shots.findIndex((s) => s.id === id);
  const shot = film.shots[at];
  if (shot === undefined || kind === 'move') return null;
  if (kind === 'end' || kind === 'stretch') return { leaving: shot, entering: film.shots[at + 1] ?? null };
  if (kind === 'roll') return { leaving: rolledCut(film, shot)?.leaving ?? null, entering: shot };
  return { leaving: film.shots[at - 1] ?? null, entering: shot };
}
