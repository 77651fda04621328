'use client';
import { addMarker } from '../../../core/film/edits/marks';
import type { StageView } from '../../../core/plan/plan-views';
import { useCommands } from '../../commands/use-commands';
import { useTools } from '../../store/film-context';
import { playHandlers } from '../../stage/playback';
import type { BenchActions } from './bench-actions';
import { stopsOf } from './bench-marks';
import { keepPicture, savePicture } from '../../store/frame-picture';
import { chooseKeys, useBench, useCopiedLayer } from '../../store/bench-state';
import { pasteCopied } from '../layers/paste-layer';
import type { BenchWork } from './use-bench-work';
import { newId } from '../../store/new-id';

/** What the keys do on the bench. */
export function useBenchCommands(work: BenchWork, actions: BenchActions): void {
  const { placed, place, frame, setFrame, setView, lastView, playback, tools, strokes, track, editing, hasLanes, ghosts, setGhosts } = work;
  const { store } = useTools();
  const selected = useBench((s) => s.selected);
  const selectedLayer = placed.join.layers.find((l) => selected?.kind === 'layer' && l.id === selected.id);
  const nudging = editing && tools !== null && tools.selection.size > 0;
  const arrow = (dx: number, dy: number, by: number, otherwise: () => void) => (): void => {
    if (nudging) tools.nudge(dx * by, dy * by);
    else otherwise();
  };
  const nothing = (): void => undefined;
  const toggleView = (view: StageView) => (): void => setView(place.view === view ? lastView.current : view);
  const stops = stopsOf(work);
  useCommands({
    weaveForm: work.toggleWeave,
    savePicture: () => void savePicture(store, frame),
    keepPicture: () => void keepPicture(store, frame),
    ...playHandlers(playback),
    stepBack: arrow(-1, 0, 1, () => actions.step(-1)),
    stepOn: arrow(1, 0, 1, () => actions.step(1)),
    tenBack: () => actions.step(-10),
    tenOn: () => actions.step(10),
    nudgeUp: arrow(0, -1, 1, nothing),
    nudgeDown: arrow(0, 1, 1, nothing),
    previousMark: arrow(-1, 0, 10, () => setFrame(stops.findLast((s) => s < frame) ?? frame)),
    nextMark: arrow(1, 0, 10, () => setFrame(stops.find((s) => s > frame) ?? frame)),
    nudgeUpFar: arrow(0, -1, 10, nothing),
    nudgeDownFar: arrow(0, 1, 10, nothing),
    markHere: () => store.edit('Added a marker', (d) => void addMarker(d, frame, newId)),
    first: () => setFrame(placed.from),
    last: () => setFrame(Math.max(placed.from, placed.to - 1)),
    pair: () => actions.openStep('pair'),
    mask: () => actions.openStep('mask'),
    track: () => actions.openStep('track'),
    move: () => actions.openStep('move'),
    blend: () => actions.openStep('blend'),
    check: () => actions.openStep('check'),
    carryOn: () => (place.step === 'track' ? track?.follow('next') : strokes?.carry('next')),
    carryToEnd: () => (place.step === 'track' ? track?.follow('end') : strokes?.carry('end')),
    swapPaint: () => strokes?.setMode(strokes.mode === 'keep' ? 'drop' : 'keep'),
    smallerBrush: () => strokes?.setBrush(strokes.brush / 1.2),
    largerBrush: () => strokes?.setBrush(strokes.brush * 1.2),
    layLeft: () => actions.nudgePicture(-1, 0),
    layRight: () => actions.nudgePicture(1, 0),
    layUp: () => actions.nudgePicture(0, -1),
    layDown: () => actions.nudgePicture(0, 1),
    slideEnteringEarlier: () => actions.onSlide(-1, true),
    slideEnteringLater: () => actions.onSlide(1, true),
    lastView: () => setView(lastView.current),
    overlay: toggleView('overlay'),
    difference: toggleView('difference'),
    ghosts: () => setGhosts(!ghosts),
    keyHere: () => (hasLanes ? actions.keyLanes() : editing && tools?.keyHere()),
    closeOutline: () => editing && tools?.close(),
    // without a layer selected the keys copy what is marked on the page
    ...(selectedLayer === undefined ? {} : { copyLayer: () => useCopiedLayer.setState({ layer: selectedLayer }) }),
    pasteLayer: () => {
      const { layer } = useCopiedLayer.getState();
      if (layer !== null) pasteCopied(store, placed.join.id, layer);
    },
    chooseNothing: () => {
      tools?.select(new Set());
      chooseKeys(new Map());
    },
    removePoints: () => (hasLanes ? actions.deleteKeys() : editing && tools?.removeSelected()),
  });
}
