'use client';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { reportWipe, wipeMatte } from '../../core/recipes/wipe-past-report';
import { setOverlap, slideEntering } from '../../core/film/edits';
import { kindOf, type Film } from '../../core/film/film';
import type { ShotSide } from '../../core/film/composition';
import { addMatte, setKey, type MatteKind } from '../../core/film/edits/mattes';
import { DOUBTFUL } from '../../core/film/matte-frame';
import { changedFilm } from '../../core/film/history';
import { filmLength, mediumOf, placeJoin, type PlacedJoin } from '../../core/film/timing';
import { toNumber } from '../../core/geometry/rational';
import type { ColourKey } from '../../core/matte/key/key';
import { planMatteAlone } from '../../core/plan/plan-frame';
import { drawingOf, STAGE_VIEWS, type StageView } from '../../core/plan/plan-views';
import { useCommands } from '../commands/use-commands';
import { Header } from '../parts/header';
import { RoomLayout } from '../parts/room-layout';
import { RoomLink } from '../parts/room-link';
import type { Ghost } from '../stage/outline-editor';
import { playHandlers, usePlayback } from '../stage/playback';
import { previewSize, Stage } from '../stage/stage';
import { Transport } from '../stage/transport';
import { useFilm, useTools } from '../store/film-context';
import { usePreference } from '../store/preferences';
import { useFindings } from '../store/use-findings';
import type { MatteMark } from '../weave/matte-marks';
import { Weave } from '../weave/weave';
import { benchOverlay } from './bench-overlay';
import { useStrokeTools } from './stroke-tools';
import { TrackPanel } from './track-panel';
import { useTrackTools } from './track-tools';
import { STEP_TEXT, StepTabs, ViewTabs } from './bench-tabs';
import { useBenchPlace } from './bench-place';
import { CheckPanel } from './check-panel';
import { LayersPanel } from './layers-panel';
import { MattePanels } from './matte-panels';
import { useOutlineTools } from './outline-tools';
import { PairPanel, slideName } from './pair-panel';
import type { PreviewChange } from './preview';
import { CHECKER, StageFooter } from './stage-footer';
import { stepStates } from './step-states';

/** Frames played around the overlap. */
const PLAY_MARGIN = 12;

/** The bench: one join, opened. */
export function Bench({ joinId }: { readonly joinId: string }) {
  const { store } = useTools();
  const { film } = useFilm();
  const placed = useMemo(() => placeJoin(film, joinId), [film, joinId]);
  if (placed !== null) return <OpenBench placed={placed} />;
  return (
    <>
      <Header place={<RoomLink filmId={store.filmId} name={film.name} />} joinId={null} />
      <p className="p-8">
        This join is not on the reel: its shots are no longer side by side. Put them back next to each other on the reel, or take back the
        change.
      </p>
    </>
  );
}

function OpenBench({ placed }: { readonly placed: PlacedJoin }) {
  const { store } = useTools();
  const state = useFilm();
  const { film, media } = state;
  const { join } = placed;
  const [place, go] = useBenchPlace();
  const [mix, setMix] = useState(0.5);
  const [ghosts, setGhosts] = usePreference('ghosts', true);
  const [hatch, setHatch] = usePreference('hatch', 0.6);
  const [ground, setGround] = usePreference('ground', CHECKER);
  const [layerId, setLayerId] = useState<string | null>(null);
  const [timingPreview, setTimingPreview] = useState<Film | null>(null);
  const [panelPreview, setPanelPreview] = useState<PreviewChange | null>(null);
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

  const found = wipeMatte(film, placed);
  const mattesHere = film.mattes.filter((m) => m.mediumId === placed.leaving.mediumId || m.mediumId === placed.entering.mediumId);
  const matte =
    mattesHere.find((m) => m.id === place.matteId) ??
    found?.matte ??
    mattesHere.find((m) => join.layers.some((l) => l.mattes.some((u) => u.matteId === m.id))) ??
    null;
  const side: ShotSide = matte === null || matte.mediumId === placed.leaving.mediumId ? 'leaving' : 'entering';
  const tools = useOutlineTools(
    store,
    film,
    media,
    placed,
    frame,
    matte === null || matte.painted !== undefined || matte.key !== undefined ? null : matte,
    side,
  );
  const strokes = useStrokeTools(film, media, placed, frame, matte, side);
  const track = useTrackTools(film, media, placed, frame);
  const useLayer = join.layers.find((l) => l.mattes.some((m) => m.matteId === matte?.id));
  const use = useLayer?.mattes.find((m) => m.matteId === matte?.id) ?? null;
  const report = useMemo(() => reportWipe(film, media, placed), [film, media, placed]);
  const joins = useMemo(() => [placed], [placed]);
  const checked = useFindings(film, media, joins);
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

  // what a drag shows before it is stored
  const panelFilm = useMemo(() => (panelPreview === null ? null : changedFilm(film, panelPreview)), [film, panelPreview]);
  const preview = useCallback((change: PreviewChange) => setPanelPreview(() => change), []);
  useEffect(() => {
    setPanelPreview(null);
    setTimingPreview(null);
  }, [film]);
  const shownFilm = timingPreview ?? tools?.previewFilm ?? panelFilm ?? film;
  const shownPlaced = placeJoin(shownFilm, join.id) ?? placed;
  const weaveFilm = timingPreview ?? film;

  const drawingAt = useCallback(
    (at: number) => drawingOf(shownFilm, media, shownPlaced, place.view, at, mix, side, matte?.id ?? null, ground.kind),
    [shownFilm, media, shownPlaced, place.view, mix, side, matte?.id, ground.kind],
  );
  const size = previewSize(film.width, film.height);
  const framesPerSecond = toNumber(film.rate);
  const playback = usePlayback({
    from: Math.max(0, placed.from - PLAY_MARGIN),
    to: Math.min(length, placed.to + PLAY_MARGIN),
    framesPerSecond,
    frame,
    setFrame,
    drawingAt,
    ...size,
  });

  const keyFrames = tools === null ? [] : tools.matte.outline.keys.map((k) => ({ frame: tools.filmFrame(k.frame), ease: k.ease }));
  const matteMarks: MatteMark[] =
    strokes === null
      ? []
      : strokes.frames.map((f) => ({
          frame: strokes.filmFrame(f.frame),
          kind: f.origin === 'hand' ? 'hand' : f.confidence < DOUBTFUL ? 'doubt' : 'carried',
          settled: f.settled,
        }));
  const stops = [
    ...new Set([
      ...keyFrames.map((k) => k.frame),
      ...matteMarks.filter((m) => m.kind !== 'carried').map((m) => m.frame),
      ...findings.map((f) => f.from),
    ]),
  ].sort((a, b) => a - b);
  const editing = place.step === 'mask' && tools !== null && tools.mediumFrame !== null;
  const nudging = editing && tools.selection.size > 0;
  const step = (by: number): void => {
    playback.setSpeed(0);
    setFrame(frame + by);
  };
  const arrow = (dx: number, dy: number, by: number, otherwise: () => void) => (): void => {
    if (nudging) tools.nudge(dx * by, dy * by);
    else otherwise();
  };
  const nothing = (): void => undefined;
  const toggleView = (view: StageView) => (): void => setView(place.view === view ? lastView.current : view);
  useCommands({
    ...playHandlers(playback),
    stepBack: arrow(-1, 0, 1, () => step(-1)),
    stepOn: arrow(1, 0, 1, () => step(1)),
    tenBack: () => step(-10),
    tenOn: () => step(10),
    nudgeUp: arrow(0, -1, 1, nothing),
    nudgeDown: arrow(0, 1, 1, nothing),
    previousMark: arrow(-1, 0, 10, () => setFrame(stops.findLast((s) => s < frame) ?? frame)),
    nextMark: arrow(1, 0, 10, () => setFrame(stops.find((s) => s > frame) ?? frame)),
    nudgeUpFar: arrow(0, -1, 10, nothing),
    nudgeDownFar: arrow(0, 1, 10, nothing),
    first: () => setFrame(placed.from),
    last: () => setFrame(Math.max(placed.from, placed.to - 1)),
    pair: () => go({ step: 'pair' }),
    mask: () => openMask(),
    track: () => openTrack(),
    check: () => go({ step: 'check' }),
    carryOn: () => (place.step === 'track' ? track?.follow('next') : strokes?.carry('next')),
    carryToEnd: () => (place.step === 'track' ? track?.follow('end') : strokes?.carry('end')),
    swapPaint: () => strokes?.setMode(strokes.mode === 'keep' ? 'drop' : 'keep'),
    smallerBrush: () => strokes?.setBrush(strokes.brush / 1.2),
    largerBrush: () => strokes?.setBrush(strokes.brush * 1.2),
    slideEarlier: () => onSlide(-1, true),
    slideLater: () => onSlide(1, true),
    lastView: () => setView(lastView.current),
    overlay: toggleView('overlay'),
    difference: toggleView('difference'),
    ghosts: () => setGhosts(!ghosts),
    keyHere: () => editing && tools.keyHere(),
    closeOutline: () => editing && tools.close(),
    chooseNothing: () => tools?.select(new Set()),
    removePoints: () => editing && tools.removeSelected(),
  });

  const openMask = (): void => {
    // an outline is drawn on the leaving shot as it is, without what it takes out
    if (place.view !== side && matte !== null && (tools === null || !matte.outline.closed)) setView(side);
    go({ step: 'mask' });
  };
  const openTrack = (): void => {
    if (track !== null && place.view !== track.side) setView(track.side);
    go({ step: 'track' });
  };
  const selectMatte = (id: string): void => {
    go({ matteId: id });
    const chosen = film.mattes.find((m) => m.id === id);
    if (chosen !== undefined && place.step === 'mask') setView(chosen.mediumId === placed.leaving.mediumId ? 'leaving' : 'entering');
  };
  const addMatteOf = (kind: MatteKind, of: ShotSide): void => {
    const name = `${placed[of].name}, ${kind === 'strokes' ? 'subject' : kind}`;
    store.edit(`Added a matte of ${placed[of].name}`, (d) =>
      go({ matteId: addMatte(d, placed[of].mediumId, kind, name, () => crypto.randomUUID()) }),
    );
    setView(of);
    go({ step: 'mask' });
  };

  const previewTiming = (name: string, final: boolean, change: PreviewChange): void => {
    if (final) {
      setTimingPreview(null);
      store.edit(name, change);
    } else setTimingPreview(changedFilm(film, change));
  };
  const onSlide = (by: number, final: boolean): void => {
    const medium = mediumOf(media, placed.entering);
    if (medium !== null) previewTiming(slideName(by), final, (d) => slideEntering(d, medium, join.id, by));
  };
  const onOverlap = (end: 'from' | 'to', at: number, final: boolean): void => {
    const before = end === 'from' ? placed.cut - at : join.before;
    const after = end === 'to' ? at - placed.cut : join.after;
    previewTiming('Changed the overlap', final, (d) => setOverlap(d, join.id, before, after));
  };

  const colourKey = matte?.key?.kind === 'colour' ? matte.key : null;
  const pickColour = (colour: ColourKey['colour']): void => {
    if (matte !== null && colourKey !== null)
      store.edit('Took the colour of the key', (d) => setKey(d, matte.id, { ...colourKey, colour }));
  };

  const neighbours: Ghost[] = [];
  if (editing && ghosts) {
    const { keys } = tools.matte.outline;
    const earlier = keys.findLast((k) => k.frame < tools.mediumFrame!);
    const later = keys.find((k) => k.frame > tools.mediumFrame!);
    for (const k of [earlier, later]) if (k !== undefined) neighbours.push({ frame: k.frame, points: k.points });
  }
  const done = stepStates({ placed, findings, faults, matte, strokes, track });
  const views = STAGE_VIEWS.filter((v) => matte !== null || !['matte', 'cut-out', 'edge'].includes(v));

  return (
    <RoomLayout
      name="bench"
      bottomHeight={166}
      top={
        <>
          <Header
            joinId={join.id}
            place={
              <>
                <RoomLink filmId={store.filmId} name={film.name} />
                <span className="text-soft">▸</span>
                <h1 className="truncate font-semibold">{join.name}</h1>
              </>
            }
          />

          <StepTabs
            step={place.step}
            done={done}
            kind={kindOf(join)}
            onStep={(s) => (s === 'mask' ? openMask() : s === 'track' ? openTrack() : go({ step: s }))}
          />
        </>
      }
      leftLabel="Layers"
      left={
        <LayersPanel
          placed={placed}
          frame={frame}
          selectedId={layerId}
          onSelect={(id) => setLayerId(id === layerId ? null : id)}
          matteId={matte?.id ?? null}
          onSelectMatte={selectMatte}
          onAddMatte={addMatteOf}
        />
      }
      stage={
        <Stage
          filmWidth={film.width}
          filmHeight={film.height}
          drawing={drawingAt(frame)}
          caption={`${place.view}, frame ${frame}`}
          header={<ViewTabs views={views} view={place.view} onView={setView} />}
          ground={ground.kind === 'colour' ? ground.colour : null}
          footer={
            <StageFooter
              view={place.view}
              mix={mix}
              onMix={setMix}
              ground={ground}
              onGround={setGround}
              size={`${size.width} × ${size.height} of ${film.width} × ${film.height}`}
            />
          }
          overlay={benchOverlay({
            film,
            media,
            placed,
            frame,
            step: place.step,
            view: place.view,
            side,
            outline: tools,
            strokes,
            track,
            use,
            onPickColour: colourKey === null ? null : pickColour,
            ghosts: neighbours,
            hatch,
          })}
        />
      }
      rightLabel={`${STEP_TEXT[place.step]} controls`}
      right={
        <>
          {place.step === 'pair' && <PairPanel placed={placed} findings={findings} />}
          {place.step === 'mask' && (
            <MattePanels
              placed={shownPlaced}
              matte={shownFilm.mattes.find((m) => m.id === matte?.id) ?? null}
              side={side}
              frame={frame}
              strokes={strokes}
              outline={tools}
              report={report}
              ghosts={ghosts}
              onGhosts={setGhosts}
              hatch={hatch}
              onHatch={setHatch}
              onPreview={preview}
              onGoTo={setFrame}
              onAddMatte={addMatteOf}
            />
          )}
          {place.step === 'track' && track !== null && (
            <TrackPanel placed={shownPlaced} tools={track} onPreview={preview} onGoTo={setFrame} />
          )}
          {place.step === 'check' && <CheckPanel placed={placed} findings={checked} onGoTo={setFrame} />}
        </>
      }
      barLeft={
        <span className="flex items-center gap-2 px-3.5">
          Overlap <span className="font-mono">{shownPlaced.to - shownPlaced.from} frames</span>
        </span>
      }
      bar={
        <Transport
          film={film}
          frame={frame}
          length={length}
          onGoTo={(next) => {
            playback.setSpeed(0);
            setFrame(next);
          }}
          playback={playback}
          framesPerSecond={framesPerSecond}
          onStep={step}
          onFirst={() => setFrame(placed.from)}
          onLast={() => setFrame(Math.max(placed.from, placed.to - 1))}
        />
      }
      barRight={
        <span className={`flex items-center px-3.5 ${findings.length > 0 ? 'text-fault' : 'text-soft'}`}>
          {findings.length === 0
            ? checked.isComplete
              ? 'nothing found to fix'
              : 'looking…'
            : `${findings.length} ${findings.length === 1 ? 'thing' : 'things'} to look at`}
        </span>
      }
      bottomLabel="Weave"
      bottom={
        <Weave
          film={weaveFilm}
          media={media}
          placed={placeJoin(weaveFilm, join.id) ?? placed}
          frame={frame}
          onFrame={setFrame}
          onSlide={onSlide}
          onOverlap={onOverlap}
          keysLabel={tools === null ? null : tools.matte.name}
          keys={keyFrames}
          onMoveKey={(from, to, copy) => tools?.moveKey(from, to, copy)}
          onDeleteKey={(at) => tools?.deleteKeyAt(at)}
          faults={faults}
          matte={
            strokes === null
              ? null
              : {
                  name: strokes.matte.name,
                  marks: matteMarks,
                  drawingAt: (at) => ({ kind: 'matte', plan: planMatteAlone(weaveFilm, media, placed, side, strokes.matte.id, at) }),
                }
          }
        />
      }
    />
  );
}
