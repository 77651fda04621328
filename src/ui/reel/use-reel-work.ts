'use client';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { trimEnd, trimStart } from '../../core/film/edits/trims';
import { changedFilm } from '../../core/film/history';
import { filmLength, placedJoins, startOfShot } from '../../core/film/timing';
import { toNumber } from '../../core/geometry/rational';
import { planFrame } from '../../core/plan/plan-film';
import type { Drawing } from '../../core/plan/plan-views';
import { setAddress } from '../parts/address';
import { usePlayback } from '../stage/playback';
import { previewSize } from '../stage/preview-size';
import { useFilm, useTools } from '../store/film-context';
import type { PreviewChange } from '../store/preview';
import { chooseShots, useReelChoice } from '../store/reel-choice';
import { shotActions } from './shot-actions';
import { useSoundWork } from './sound/use-sound-work';
import { newId } from '../store/new-id';
import { remembered } from '../store/remembered';

const frameFromAddress = (): number => {
  const text = new URLSearchParams(location.search).get('frame') ?? '';
  return /^\d{1,7}$/.test(text) ? Number(text) : 0;
};

const emptyDrawing = (width: number, height: number) => (): Drawing => ({
  kind: 'picture',
  plan: { width, height, layers: [], finish: [], background: null, missing: [] },
});

/** What is worked with on the reel: the film as it is shown, the playhead, the selected shot, and what can be done to it. */
export function useReelWork() {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const length = filmLength(film);
  const [wanted, setWanted] = useState(frameFromAddress);
  const selectedId = useReelChoice((s) => s.shotId);
  const frame = Math.max(0, Math.min(length - 1, wanted));
  const setFrame = useCallback((next: number) => setWanted(Math.max(0, Math.min(length - 1, next))), [length]);
  const { asked } = useReelChoice();
  useEffect(() => {
    if (asked === null) return;
    setWanted(asked.frame);
    useReelChoice.setState({ asked: null });
  }, [asked]);
  useEffect(() => {
    const timer = setTimeout(() => setAddress({ frame }), 150);
    return () => clearTimeout(timer);
  }, [frame]);
  // what a drag shows before it is stored
  const [previewed, setPreviewed] = useState<PreviewChange | null>(null);
  const preview = useCallback((change: PreviewChange) => setPreviewed(() => change), []);
  useEffect(() => setPreviewed(null), [film]);
  const shown = useMemo(() => (previewed === null ? film : changedFilm(film, previewed)), [film, previewed]);
  const drawingAt = useMemo(() => remembered((at) => ({ kind: 'picture', plan: planFrame(shown, media, at) })), [shown, media]);
  const framesPerSecond = toNumber(film.rate);
  const playback = usePlayback({
    from: 0,
    to: Math.max(1, length),
    film,
    frame,
    setFrame,
    drawingAt: length > 0 ? drawingAt : emptyDrawing(film.width, film.height),
    ...previewSize(film.width, film.height),
  });
  const selected = shown.shots.find((s) => s.id === selectedId) ?? null;
  const sound = useSoundWork(frame, selected, playback);
  const medium = selected === null ? undefined : media.get(selected.mediumId);
  const joins = useMemo(() => placedJoins(film), [film]);
  const at = useRef(frame);
  at.current = frame;
  const actions = useMemo(() => shotActions(store, () => at.current), [store]);
  const step = (by: number): void => {
    setFrame(playback.stop() + by);
  };
  /** Chooses the shot `by` places on from the chosen one, or the one under the playhead, and goes to its first frame. */
  const choose = (by: number): void => {
    const at = selected === null ? -1 : film.shots.indexOf(selected);
    const under = film.shots.findIndex((s) => frame < startOfShot(film, s.id) + s.length);
    const next = film.shots[at < 0 ? under : Math.max(0, Math.min(film.shots.length - 1, at + by))];
    if (next === undefined) return;
    chooseShots([next.id]);
    setFrame(startOfShot(film, next.id));
  };
  /** Lets the chosen shot begin or end on the frame under the playhead. */
  const trimHere = (end: 'start' | 'end'): void => {
    if (selected === null || medium === undefined) return;
    const start = startOfShot(film, selected.id);
    const by = end === 'start' ? frame - start : frame + 1 - start - selected.length;
    store.edit(`Trimmed the ${end} of ${selected.name}`, (d) => (end === 'start' ? trimStart : trimEnd)(d, medium, selected.id, by, newId));
    if (end === 'start') setFrame(start);
  };
  return {
    film,
    media,
    shown,
    length,
    frame,
    setFrame,
    framesPerSecond,
    playback,
    drawingAt,
    preview,
    joins,
    selected,
    medium,
    sound,
    step,
    choose,
    trimHere,
    shotActions: actions,
  };
}

export type ReelWork = ReturnType<typeof useReelWork>;
