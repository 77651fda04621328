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
import { FULL_QUALITY, planMatteAlone, type PlanQuality } from '../../core/plan/plan-frame';
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
import { SizedWeave } from '../weave/sized-weave';
import { benchOverlay } from './bench-overlay';
import { useStrokeTools } from './stroke-tools';
import { TrackPanel } from './track-panel';
import { useTrackTools } from './track-tools';
import { STEP_TEXT, StepTabs, ViewTabs } from './bench-tabs';
import { useBenchPlace } from './bench-place';
import { CheckPanel } from './check-panel';
import { LayersPanel } from './layers/layers-panel';
import { MattePanels } from './matte-panels';
import { useOutlineTools } from './outline-tools';
import { PairPanel, slideName } from './pair-panel';
import type { PreviewChange } from './preview';
import { CHECKER, StageFooter } from './stage-footer';
import { stepStates } from './step-states';
import { chooseKeys, openBench, select, useBench } from './bench-state';
import { BlendPanel } from './blend/blend-panel';
import { KindsSheet } from './kinds/kinds-sheet';
import { MoveOverlay } from './move/move-overlay';
import { MovePanel } from './move/move-panel';
import { useKinds } from './use-kinds';
import { WayNote } from './way-note';
import { KeyBar } from '../lanes/key-bar';
import { deleted, withKey } from '../lanes/lane-edits';
import { LaneLabels } from '../lanes/lane-labels';
import { Lanes } from '../lanes/lanes';
import { heightOf, useLanes } from '../lanes/use-lanes';

/** Frames played around the overlap. */
const PLAY_MARGIN = 12;
/** Frames before the overlap from which a join just made is played. */
const PLAY_LEAD = 6;
/** While playing, a layer is blurred by so many samples at most. */
const PLAYING: PlanQuality = { samples: 5 };
/** Height of the row of chosen keys, in CSS pixels. */
const KEY_BAR = 28;

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
  openBench(join.id);
  const onlyId = useBench((s) => s.onlyId);
  const chosenKeys = useBench((s) => s.keys);
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
  const drawnFilm = useMemo(() => (onlyId === null ? shownFilm : withOnly(shownFilm, join.id, onlyId)), [shownFilm, join.id, onlyId]);
  const lanes = useLanes(shownFilm, shownPlaced);
  const hasLanes = place.step === 'move' || place.step === 'blend';
  const weaveFilm = timingPreview ?? film;

  const [isPlaying, setPlaying] = useState(false);
  const drawingAt = useCallback(
    (at: number) =>
      drawingOf(
        drawnFilm,
        media,
        shownPlaced,
        place.view,
        at,
        mix,
        side,
        matte?.id ?? null,
        ground.kind,
        isPlaying ? PLAYING : FULL_QUALITY,
      ),
    [drawnFilm, media, shownPlaced, place.view, mix, side, matte?.id, ground.kind, isPlaying],
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

  useEffect(() => setPlaying(playback.playing), [playback.playing]);
  const kinds = useKinds({
    placed,
    report,
    goTo: (next) => {
      go({
        step: next.step,
        ...(next.matteId === null ? {} : { matteId: next.matteId }),
        ...(next.frame === null ? {} : { frame: next.frame }),
      });
      if (next.step === 'mask') setView('leaving');
    },
    play: () => {
      go({ step: 'move', view: 'result', frame: Math.max(0, placed.from - PLAY_LEAD) });
      playback.setSpeed(1);
    },
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
    move: () => openMove('move'),
    blend: () => openMove('blend'),
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
    keyHere: () => (hasLanes ? keyLanes() : editing && tools.keyHere()),
    closeOutline: () => editing && tools.close(),
    chooseNothing: () => {
      tools?.select(new Set());
      chooseKeys(new Map());
    },
    removePoints: () => {
      if (!hasLanes) {
        if (editing) tools.removeSelected();
        return;
      }
      store.edit('Deleted keys', deleted(join.id, lanes, chosenKeys));
      chooseKeys(new Map());
    },
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
  const openMove = (step: 'move' | 'blend'): void => {
    // what moves is looked at as it comes out
    if (place.view !== 'result') setView('result');
    if (useBench.getState().selected === null && join.carriers[0] !== undefined && step === 'move')
      select({ kind: 'carrier', id: join.carriers[0].id });
    go({ step });
  };
  /** Several channels are keyed on one frame at once: those whose lanes are there. */
  const keyLanes = (): void =>
    store.edit(`Keys at ${frame}`, (d) => {
      for (const lane of lanes) withKey(join.id, lane, frame - lane.facts.origin)(d);
    });
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
      isTall={hasLanes}
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
            onStep={(s) =>
              s === 'mask' ? openMask() : s === 'track' ? openTrack() : s === 'move' || s === 'blend' ? openMove(s) : go({ step: s })
            }
          />
        </>
      }
      leftLabel="Layers"
      left={<LayersPanel placed={placed} frame={frame} matteId={matte?.id ?? null} onSelectMatte={selectMatte} onAddMatte={addMatteOf} />}
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
          overlay={
            hasLanes && place.view === 'result'
              ? (toStage, stage) => (
                  <MoveOverlay film={shownFilm} placed={shownPlaced} frame={frame} toStage={toStage} size={stage} onPreview={preview} />
                )
              : benchOverlay({
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
                })
          }
        />
      }
      rightLabel={`${STEP_TEXT[place.step]} controls`}
      right={
        <>
          {kinds.next !== null && (
            <WayNote
              next={kinds.next}
              isHere={kinds.next.step === place.step}
              onGo={() => {
                go({
                  step: kinds.next!.step,
                  ...(kinds.next!.matteId === null ? {} : { matteId: kinds.next!.matteId }),
                  ...(kinds.next!.frame === null ? {} : { frame: kinds.next!.frame }),
                });
                if (kinds.next!.step === 'mask') setView('leaving');
              }}
            />
          )}
          <KindsSheet placed={placed} isOpen={kinds.isOpen} onClose={kinds.close} onChoose={kinds.choose} />
          {place.step === 'pair' && <PairPanel placed={placed} findings={findings} onKinds={kinds.open} />}
          {place.step === 'move' && <MovePanel placed={shownPlaced} frame={frame} onGoTo={setFrame} onPreview={preview} />}
          {place.step === 'blend' && <BlendPanel placed={shownPlaced} frame={frame} onPreview={preview} />}
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
        <SizedWeave
          aspect={film.width / film.height}
          lanesHeight={hasLanes ? heightOf(lanes) + KEY_BAR : 0}
          footer={hasLanes ? <KeyBar joinId={join.id} lanes={lanes} frame={frame} /> : null}
          {...(hasLanes
            ? {
                under: {
                  labels: <LaneLabels lanes={lanes} />,
                  draw: (x: (at: number) => number, from: number, to: number) => (
                    <Lanes joinId={join.id} lanes={lanes} frame={frame} x={x} from={from} to={to} onFrame={setFrame} onPreview={preview} />
                  ),
                },
              }
            : {})}
          film={weaveFilm}
          media={media}
          placed={placeJoin(weaveFilm, join.id) ?? placed}
          frame={frame}
          onFrame={setFrame}
          onSlide={onSlide}
          onOverlap={onOverlap}
          keysLabel={tools === null || hasLanes ? null : tools.matte.name}
          keys={keyFrames}
          onMoveKey={(from, to, copy) => tools?.moveKey(from, to, copy)}
          onDeleteKey={(at) => tools?.deleteKeyAt(at)}
          faults={faults}
          matte={
            strokes === null || hasLanes
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

/** The film with one layer of a join shown alone; for looking, not stored. */
const withOnly = (film: Film, joinId: string, layerId: string): Film => ({
  ...film,
  joins: film.joins.map((j) => (j.id === joinId ? { ...j, layers: j.layers.map((l) => ({ ...l, visible: l.id === layerId })) } : j)),
});
