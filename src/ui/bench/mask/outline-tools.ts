'use client';
import { useMemo, useState } from 'react';
import type { Draft } from 'immer';
import { setOutlineAndFit } from '../../../core/recipes/wipe-past/wipe-past';
import type { Film, Matte, Media } from '../../../core/film/film';
import type { ShotSide } from '../../../core/film/composition';
import { drawnPoints, storedPoints } from '../../../core/film/mattes';
import { filmFrameOf, mediumOf, type PlacedJoin } from '../../../core/film/timing';
import { changedFilm } from '../../../core/film/history';
import {
  appendPoint,
  closeOutline,
  copyKey,
  deleteKey,
  insertPoint,
  keyAt,
  moveKey,
  removePoints,
  setPoints,
  type Outline,
  type OutlinePoint,
} from '../../../core/matte/outline/outline';
import type { Ease } from '../../../core/motion/curve';
import { withCarried, type CarriedShape } from '../../../core/matte/outline/carry-outline';
import { matteSpace } from '../../../core/plan/stage-plans';
import type { FilmStore } from '../../store/film-store';

/** The outline the Mask step works on, at the current frame, and what can be done to it. */
export interface OutlineTools {
  readonly matte: Matte;
  readonly points: readonly OutlinePoint[];
  /** Medium frame under the playhead; null where its shot has none. */
  readonly mediumFrame: number | null;
  readonly selection: ReadonlySet<number>;
  /** The film with the outline as it is being dragged; null when nothing is. */
  readonly previewFilm: Film | null;
  /** Film frame on which a medium frame is first shown. */
  filmFrame(mediumFrame: number): number;
  select(selection: ReadonlySet<number>): void;
  preview(points: readonly OutlinePoint[] | null): void;
  commit(name: string, points: readonly OutlinePoint[]): void;
  append(point: OutlinePoint): void;
  close(): void;
  insert(side: number, t: number): void;
  removeSelected(): void;
  nudge(dx: number, dy: number): void;
  keyHere(): void;
  moveKey(fromFilmFrame: number, toFilmFrame: number, copy: boolean): void;
  deleteKey(): void;
  deleteKeyAt(filmFrame: number): void;
  copyFrom(mediumFrame: number): void;
  setEase(ease: Ease): void;
  /** Takes in what the outline was carried to, medium frames. */
  takeCarried(shapes: readonly CarriedShape[]): void;
  clear(): void;
}

/** Null without an outline to work on, or while its media is not ready. */
export function useOutlineTools(
  store: FilmStore,
  film: Film,
  media: Media,
  placed: PlacedJoin,
  frame: number,
  matte: Matte | null,
  side: ShotSide,
): OutlineTools | null {
  const [selection, select] = useState<ReadonlySet<number>>(new Set());
  const [dragged, setDragged] = useState<readonly OutlinePoint[] | null>(null);
  const { mediumFrame } = matteSpace(film, media, placed, side, frame);
  const stored = useMemo(
    () => (matte === null || mediumFrame === null ? [] : drawnPoints(film, matte, mediumFrame)),
    [film, matte, mediumFrame],
  );
  const previewFilm = useMemo(() => {
    if (dragged === null || matte === null || mediumFrame === null) return null;
    return changedFilm(film, (draft) => {
      draft.mattes.find((m) => m.id === matte.id)!.outline = setPoints(
        matte.outline,
        mediumFrame,
        storedPoints(film, matte, mediumFrame, dragged),
      ) as Draft<Outline>;
    });
  }, [film, matte, dragged, mediumFrame]);

  const medium = mediumOf(media, placed[side]);
  if (matte === null || medium === null) return null;
  const { outline } = matte;
  const filmFrame = (at: number): number => filmFrameOf(film, placed, side, medium, at);
  const change = (name: string, next: Outline): void => {
    setDragged(null);
    store.edit(name, (draft) => setOutlineAndFit(draft, media, matte.id, next));
  };
  const commit = (name: string, points: readonly OutlinePoint[]): void => {
    if (mediumFrame !== null)
      change(
        keyAt(outline, mediumFrame) === undefined && outline.keys.length > 0 ? `${name}, keyframe at ${frame}` : name,
        setPoints(outline, mediumFrame, storedPoints(film, matte, mediumFrame, points)),
      );
  };
  const toMedium = (at: number): number | null => matteSpace(film, media, placed, side, at).mediumFrame;
  return {
    matte,
    points: dragged ?? stored,
    mediumFrame,
    selection,
    previewFilm,
    filmFrame,
    select,
    preview: setDragged,
    commit,
    append(point) {
      if (mediumFrame !== null)
        change('Added an outline point', appendPoint(outline, mediumFrame, storedPoints(film, matte, mediumFrame, [point])[0]!));
    },
    close() {
      if (!outline.closed && stored.length >= 3) change('Closed the outline', closeOutline(outline));
    },
    insert(side, t) {
      change('Added an outline point', insertPoint(outline, side, t));
      select(new Set([side + 1]));
    },
    removeSelected() {
      if (selection.size === 0) return;
      change(
        selection.size > 1 ? `Removed ${selection.size} outline points` : 'Removed an outline point',
        removePoints(outline, selection),
      );
      select(new Set());
    },
    nudge(dx, dy) {
      commit(
        'Nudged outline points',
        stored.map((p, i) => (selection.has(i) ? { ...p, x: p.x + dx, y: p.y + dy } : p)),
      );
    },
    keyHere() {
      if (mediumFrame !== null && keyAt(outline, mediumFrame) === undefined && stored.length > 0)
        change(`Keyframe at ${frame}`, setPoints(outline, mediumFrame, storedPoints(film, matte, mediumFrame, stored)));
    },
    moveKey(from, to, copy) {
      const [a, b] = [toMedium(from), toMedium(to)];
      if (a === null || b === null) store.notify(`The ${side} shot has no picture there, so no keyframe can stand there.`);
      else
        change(
          copy ? `Copied the keyframe at ${from} to ${to}` : `Moved the keyframe at ${from} to ${to}`,
          copy ? copyKey(outline, a, b) : moveKey(outline, a, b),
        );
    },
    deleteKey() {
      if (mediumFrame !== null) change(`Deleted the keyframe at ${frame}`, deleteKey(outline, mediumFrame));
    },
    deleteKeyAt(at) {
      const there = toMedium(at);
      if (there !== null && outline.keys.length > 1) change(`Deleted the keyframe at ${at}`, deleteKey(outline, there));
    },
    copyFrom(at) {
      if (mediumFrame !== null) change(`Copied the keyframe at ${filmFrame(at)} to ${frame}`, copyKey(outline, at, mediumFrame));
    },
    setEase(ease) {
      const key = mediumFrame === null ? undefined : keyAt(outline, mediumFrame);
      if (key !== undefined)
        change(`Keyframe at ${frame}: ${ease}`, { ...outline, keys: outline.keys.map((k) => (k === key ? { ...k, ease } : k)) });
    },
    takeCarried(shapes) {
      change(`Carried the outline over ${shapes.length - 1} frames`, withCarried(outline, shapes));
    },
    clear() {
      change('Cleared the outline', { closed: false, keys: [] });
      select(new Set());
    },
  };
}
