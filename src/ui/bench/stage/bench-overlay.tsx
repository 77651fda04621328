import type { ReactNode } from 'react';
import type { Film, Media } from '../../../core/film/film';
import type { ShotSide, MatteUse } from '../../../core/film/composition';
import { frameOfFinding, type Finding } from '../../../core/check/finding';
import { DOUBTFUL } from '../../../core/film/matte-frame';
import { mediumOf, type PlacedJoin } from '../../../core/film/timing';
import { compose, lengthScale, type Matrix, type Point } from '../../../core/geometry/matrix';
import { matteSpace } from '../../../core/plan/stage-plans';
import type { StageView } from '../../../core/plan/plan-views';
import { asksForPin } from '../../../core/recipes/making';
import { interestInFilm } from '../../../core/pair/bring-together';
import { FoundMarks } from '../../stage/found-marks';
import { EyeMarks } from '../../stage/eye-marks';
import { WayDrawer } from '../../stage/way-drawer';
import { ColourPicker } from '../../stage/colour-picker';
import { OutlineEditor, type Ghost } from '../../stage/outline-editor';
import { patchAround } from '../../../core/track/track';
import { RegionEditor } from '../../stage/region-editor';
import { StrokePainter } from '../../stage/stroke-painter';
import type { Step } from '../common/bench-place';
import type { OutlineTools } from '../mask/outline-tools';
import type { StrokeTools } from '../mask/stroke-tools';
import type { TrackTools } from '../track/track-tools';

interface BenchOverlay {
  readonly film: Film;
  readonly media: Media;
  readonly placed: PlacedJoin;
  readonly frame: number;
  readonly step: Step;
  readonly view: StageView;
  /** The shot the matte belongs to. */
  readonly side: ShotSide;
  readonly outline: OutlineTools | null;
  readonly strokes: StrokeTools | null;
  readonly track: TrackTools | null;
  readonly use: MatteUse | null;
  /** Takes a colour from the picture; null unless a colour key is worked on. */
  readonly onPickColour: ((colour: readonly [number, number, number]) => void) | null;
  /** The shot in which a click marks where the eye is. */
  readonly marksEye: ShotSide | null;
  readonly onMarkEye: (side: ShotSide, x: number, y: number) => void;
  /** Whether a drag draws the way of a shot's camera, film pixels. */
  readonly onDrawMove: ((way: readonly Point[], final: boolean) => void) | null;
  readonly ghosts: readonly Ghost[];
  readonly hatch: number;
  readonly findings: readonly Finding[];
}

type Overlay = (toStage: Matrix, size: { readonly width: number; readonly height: number }) => ReactNode;

/** What lies over the picture to be worked on with the pointer, if anything does in this step and view. */
export function benchOverlay(bench: BenchOverlay): Overlay | undefined {
  const {
    film,
    media,
    placed,
    frame,
    step,
    view,
    side,
    outline,
    strokes,
    track,
    use,
    onPickColour,
    marksEye,
    onMarkEye,
    onDrawMove,
    ghosts,
    hatch,
    findings,
  } = bench;
  const toFilm = (of: ShotSide): Matrix => matteSpace(film, media, placed, of, frame).matrix;
  const spaceOf = (of: ShotSide, toStage: Matrix): Matrix => compose(toFilm(of), toStage);
  const medium = mediumOf(media, placed[side]);
  if (step === 'pair' && onDrawMove !== null) return (toStage, size) => <WayDrawer toStage={toStage} size={size} onDraw={onDrawMove} />;
  const found = step !== 'check' ? [] : findings.filter((f) => f.place !== undefined && frame === frameOfFinding(f));
  if (found.length > 0) return (toStage, size) => <FoundMarks places={found.map((f) => f.place!)} toStage={toStage} size={size} />;
  const takesPoints = step === 'pair' || (step === 'move' && asksForPin(placed.join));
  if (takesPoints && ((placed.join.interest ?? []).length > 0 || marksEye !== null)) {
    const sides = view === 'leaving' || view === 'entering' ? [view] : (['leaving', 'entering'] as const);
    const points = sides.flatMap((of) =>
      interestInFilm(film, media, placed, of, frame).map(({ point, x, y }) => ({ id: point.id, x, y, side: of })),
    );
    return (toStage, size) => (
      <EyeMarks
        points={points}
        toStage={toStage}
        size={size}
        onMark={marksEye === null || view !== marksEye ? null : (x, y) => onMarkEye(marksEye, x, y)}
      />
    );
  }
  if (step === 'mask' && strokes !== null && strokes.mediumFrame !== null && medium !== null && view === side)
    return (toStage, size) => (
      <StrokePainter
        strokes={strokes.strokes}
        coverage={strokes.coverage}
        hatch={hatch}
        mode={strokes.mode}
        brush={strokes.brush / 2 / lengthScale(toFilm(side))}
        mediumWidth={medium.width}
        mediumHeight={medium.height}
        toStage={spaceOf(side, toStage)}
        size={size}
        doubt={strokes.here !== null && strokes.here.confidence < DOUBTFUL ? strokes.here.doubt : null}
        onPaint={strokes.paint}
      />
    );
  if (step === 'mask' && onPickColour !== null && view === side) return () => <ColourPicker onPick={onPickColour} />;
  if (step === 'track' && track !== null && track.mediumFrame !== null && view === track.side)
    return (toStage, size) => (
      <RegionEditor
        corners={track.previewed ?? track.region?.corners ?? null}
        confidence={track.region?.confidence ?? 1}
        isPoint={track.track?.model === 'position'}
        toStage={spaceOf(track.side, toStage)}
        size={size}
        onBegin={(corners) => (track.track === null ? track.begin(corners) : track.place(corners))}
        onPoint={(at) => (track.track === null ? track.beginPoint(at) : track.place(patchAround(at, track.medium.width)))}
        onPreview={track.preview}
        onPlace={track.place}
      />
    );
  const other = side === 'leaving' ? 'entering' : 'leaving';
  if (step === 'mask' && outline !== null && outline.mediumFrame !== null && view !== 'side by side' && view !== other)
    return (toStage, size) => (
      <OutlineEditor
        points={outline.points}
        closed={outline.matte.outline.closed}
        ghosts={ghosts}
        hides={use?.side === 'outside' ? 'inside' : 'outside'}
        hatch={view === side ? hatch : 0}
        toStage={spaceOf(side, toStage)}
        size={size}
        selection={outline.selection}
        onSelect={outline.select}
        onPreview={outline.preview}
        onCommit={outline.commit}
        onAppend={outline.append}
        onClose={outline.close}
        onInsert={outline.insert}
      />
    );
  return undefined;
}
