'use client';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { ShotSide } from '../../../core/film/composition';
import type { Film } from '../../../core/film/film';
import { changedFilm } from '../../../core/film/history';
import type { Sounds } from '../../../core/film/media-facts';
import { filmLength, placeJoin, type PlacedJoin } from '../../../core/film/timing';
import { toNumber } from '../../../core/geometry/rational';
import { drawingOf, type StageView } from '../../../core/plan/plan-views';
import { reportWipe, wipeMatte } from '../../../core/recipes/wipe-past/wipe-past-report';
import { useLanes } from '../../lanes/use-lanes';
import { usePlayback } from '../../stage/playback';
import { previewSize } from '../../stage/preview-size';
import { useFilm, useTools } from '../../store/film-context';
import { useGhosts, useHatch } from '../../store/mask-view';
import { usePreference } from '../../store/preferences';
import { remembered } from '../../store/remembered';
import { useFindings } from '../../store/use-findings';
import { useBenchPlace } from '../common/bench-place';
import { openBench, useBench } from '../../store/bench-state';
import { useOutlineTools } from '../mask/outline-tools';
import type { PreviewChange } from '../../store/preview';
import type { WeaveForm } from '../../weave/weave-sizes';
import { soundRowsOf } from '../sound/sound-under';
import { CHECKER } from '../common/stage-footer';
import { useStrokeTools } from '../mask/stroke-tools';
import { useTrackTools } from '../track/track-tools';

/** Frames played around the overlap. */
const PLAY_MARGIN = 12;

/** The film with one layer of a join shown alone; for looking, not stored. */
const withOnly = (film: Film, joinId: string, layerId: string): Film => ({
  ...film,
  joins: film.joins.map((j) => (j.id === joinId ? { ...j, layers: j.layers.map((l) => ({ ...l, visible: l.id === layerId })) } : j)),
});

/** What the bench is about: its place, what is chosen and worked with, and what of it shows. */
export type BenchWork = ReturnType<typeof useBenchWork>;

/** Where one is on the bench, and how it is looked at. */
function useLooking(placed: PlacedJoin) {
  const { film } = useFilm('film');
  const [place, go] = useBenchPlace();
  const [mix, setMix] = useState(0.5);
  const [ghosts, setGhosts] = useGhosts();
  const [hatch] = useHatch();
  const [ground, setGround] = usePreference('ground', CHECKER);
  const lastView = useRef<StageView>('leaving');
  const length = filmLength(film);
  const frame = Math.max(0, Math.min(length - 1, place.frame ?? Math.max(placed.from, Math.floor((placed.from + placed.to) / 2))));
  const setFrame = useCallback((next: number) => go({ frame: Math.max(0, Math.min(length - 1, next)) }), [go, length]);
  const setView = useCallback(
    (view: StageView) => {
      if (view !== place.view) lastView.current = place.view;
      go({ view });
    },
    [go, place.view],
  );
  return { place, go, mix, setMix, ghosts, setGhosts, hatch, ground, setGround, lastView, length, frame, setFrame, setView };
}

/** The matte, outline, strokes and track that are worked on. */
function useSubject(placed: PlacedJoin, frame: number, matteId: string | null) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { join } = placed;
  const mattesHere = film.mattes.filter((m) => m.mediumId === placed.leaving.mediumId || m.mediumId === placed.entering.mediumId);
  const matte =
    mattesHere.find((m) => m.id === matteId) ??
    wipeMatte(film, placed)?.matte ??
    mattesHere.find((m) => join.layers.some((l) => l.mattes.some((u) => u.matteId === m.id))) ??
    null;
  const side: ShotSide = matte === null || matte.mediumId === placed.leaving.mediumId ? 'leaving' : 'entering';
  const drawn = matte === null || matte.painted !== undefined || matte.key !== undefined ? null : matte;
  const tools = useOutlineTools(store, film, media, placed, frame, drawn, side);
  const strokes = useStrokeTools(film, media, placed, frame, matte, side);
  const track = useTrackTools(film, media, placed, frame);
  const useLayer = join.layers.find((l) => l.mattes.some((m) => m.matteId === matte?.id));
  const use = useLayer?.mattes.find((m) => m.matteId === matte?.id) ?? null;
  return { matte, side, tools, strokes, track, use };
}

/** What Check finds, and what a wipe's outline does. */
function useJudged(placed: PlacedJoin, closely: boolean) {
  const { film, media } = useFilm('film', 'media');
  const report = useMemo(() => reportWipe(film, media, placed), [film, media, placed]);
  const joins = useMemo(() => [placed], [placed]);
  const checked = useFindings(film, media, joins, closely);
  const findings = checked.list;
  const faults = useMemo(
    () =>
      new Set(
        findings
          .filter((f) => f.kind === 'empty pixels' || f.kind === 'no picture')
          .flatMap((f) => Array.from({ length: f.to - f.from + 1 }, (_, i) => f.from + i)),
      ),
    [findings],
  );
  return { report, checked, findings, faults };
}

/** What a drag shows before it is stored: of the shots' timing, of an outline, of a number. */
function usePreviews(placed: PlacedJoin, outlined: Film | null) {
  const { film } = useFilm('film');
  const [timingPreview, setTimingPreview] = useState<Film | null>(null);
  const [panelPreview, setPanelPreview] = useState<PreviewChange | null>(null);
  const panelFilm = useMemo(() => (panelPreview === null ? null : changedFilm(film, panelPreview)), [film, panelPreview]);
  const preview = useCallback((change: PreviewChange) => setPanelPreview(() => change), []);
  useEffect(() => {
    setPanelPreview(null);
    setTimingPreview(null);
  }, [film]);
  const shownFilm = timingPreview ?? outlined ?? panelFilm ?? film;
  const shownPlaced = useMemo(() => placeJoin(shownFilm, placed.join.id) ?? placed, [shownFilm, placed]);
  return { shownFilm, shownPlaced, weaveFilm: timingPreview ?? film, preview, setTimingPreview };
}

/** Brings together what the parts of the bench share. */
export function useBenchWork(placed: PlacedJoin) {
  const { film, media, sounds } = useFilm('film', 'media', 'sounds');
  const { join } = placed;
  openBench(join.id);
  const onlyId = useBench((s) => s.onlyId);
  const looking = useLooking(placed);
  const { place, frame, setFrame, length, mix, ground } = looking;
  const subject = useSubject(placed, frame, place.matteId);
  const { matte, side, tools } = subject;
  const judged = useJudged(placed, place.step === 'check');
  const previews = usePreviews(placed, tools?.previewFilm ?? null);
  const { shownFilm, shownPlaced } = previews;
  const drawnFilm = useMemo(() => (onlyId === null ? shownFilm : withOnly(shownFilm, join.id, onlyId)), [shownFilm, join.id, onlyId]);
  const lanes = useLanes(shownFilm, shownPlaced);
  const hasLanes = place.step === 'move' || place.step === 'blend';
  const isSoundShown = place.step !== 'mask' && place.step !== 'track' && isHeard(film, sounds, placed);
  const [weaveForm, setWeaveForm] = usePreference<WeaveForm>(`weave:${place.step}`, hasLanes ? 'low' : 'tall');
  const soundRows = isSoundShown ? soundRowsOf(sounds, placed).length : 0;
  const drawingAt = useMemo(
    () => remembered((at) => drawingOf(drawnFilm, media, shownPlaced, place.view, at, mix, side, matte?.id ?? null, ground.kind)),
    [drawnFilm, media, shownPlaced, place.view, mix, side, matte?.id, ground.kind],
  );
  const size = previewSize(film.width, film.height);
  const framesPerSecond = toNumber(film.rate);
  const playback = usePlayback({
    from: Math.max(0, placed.from - PLAY_MARGIN),
    to: Math.min(length, placed.to + PLAY_MARGIN),
    film,
    frame,
    setFrame,
    drawingAt,
    ...size,
  });
  const editing = place.step === 'mask' && tools !== null && tools.mediumFrame !== null;
  return {
    placed,
    join,
    ...looking,
    ...subject,
    ...judged,
    ...previews,
    lanes,
    hasLanes,
    soundRows,
    weaveForm,
    toggleWeave: (): void => setWeaveForm(weaveForm === 'low' ? 'tall' : 'low'),
    drawingAt,
    size,
    framesPerSecond,
    playback,
    editing,
  };
}

/** Whether anything is heard around a join: of its shots, of the lanes, or brought along. */
function isHeard(film: Film, sounds: Sounds, { join, leaving, entering, cut }: PlacedJoin): boolean {
  const [first, last] = [cut - leaving.length, cut + entering.length];
  const clips = (film.soundLanes ?? []).flatMap((l) => l.clips);
  return (
    [leaving, entering, ...(join.hits ?? [])].some((s) => sounds.has(s.mediumId)) ||
    clips.some((c) => c.start < last && c.start + c.length > first)
  );
}
