'use client';
import { useMemo } from 'react';
import type { Matrix } from '../../../core/geometry/matrix';
import { STAGE_VIEWS } from '../../../core/plan/plan-views';
import { FeatureLines, linesAt } from '../../stage/feature-lines';
import { Stage } from '../../stage/stage';
import { useFilm } from '../../store/film-context';
import type { BenchActions } from '../work/bench-actions';
import { ghostsOf } from '../work/bench-marks';
import { useBench } from '../../store/bench-state';
import { benchOverlay } from './bench-overlay';
import { ViewTabs } from '../common/bench-tabs';
import { MoveOverlay } from '../move/move-overlay';
import { StageFooter } from '../common/stage-footer';
import type { BenchWork } from '../work/use-bench-work';

interface StageSize {
  readonly width: number;
  readonly height: number;
}

/** The stage of the bench, with what is worked on over the picture. */
export function BenchStage({ work, actions }: { readonly work: BenchWork; readonly actions: BenchActions }) {
  const { film, media } = useFilm('film', 'media');
  const { placed, place, frame, matte, ground, size, shownFilm, shownPlaced } = work;
  const marksEye = useBench((s) => s.marksEye);
  const drawsMove = useBench((s) => s.drawsMove);
  const areLinesShown = useBench((s) => s.showsLines);
  const lines = useMemo(
    () => (work.hasLanes && areLinesShown ? linesAt(shownFilm, media, shownPlaced, frame) : null),
    [work.hasLanes, areLinesShown, shownFilm, media, shownPlaced, frame],
  );
  const views = STAGE_VIEWS.filter((v) => matte !== null || !['matte', 'cut-out', 'edge'].includes(v));
  const overlay =
    work.hasLanes && place.view === 'result'
      ? (toStage: Matrix, stage: StageSize) => (
          <>
            {lines !== null && <FeatureLines lines={lines} view={place.view} toStage={toStage} size={stage} />}
            <MoveOverlay film={shownFilm} placed={shownPlaced} frame={frame} toStage={toStage} size={stage} onPreview={work.preview} />
          </>
        )
      : work.hasLanes && lines !== null
        ? (toStage: Matrix, stage: StageSize) => <FeatureLines lines={lines} view={place.view} toStage={toStage} size={stage} />
        : benchOverlay({
            findings: work.findings,
            ...{ film, media, placed, frame },
            step: place.step,
            view: place.view,
            side: work.side,
            outline: work.tools,
            strokes: work.strokes,
            track: work.track,
            use: work.use,
            onPickColour: actions.pickColour,
            marksEye,
            onMarkEye: actions.markEyeAt,
            onDrawMove: drawsMove === null ? null : (way, final) => actions.drawMoveOf(drawsMove, way, final),
            ghosts: ghostsOf(work),
            hatch: work.hatch,
          });
  return (
    <Stage
      filmWidth={film.width}
      filmHeight={film.height}
      drawing={work.drawingAt(frame)}
      caption={`${place.view}, frame ${frame}`}
      header={<ViewTabs views={views} view={place.view} onView={work.setView} />}
      ground={ground.kind === 'colour' ? ground.colour : null}
      footer={
        <StageFooter
          view={place.view}
          mix={work.mix}
          onMix={work.setMix}
          ground={ground}
          onGround={work.setGround}
          size={`${size.width} × ${size.height} of ${film.width} × ${film.height}`}
        />
      }
      {...(overlay === undefined ? {} : { overlay })}
    />
  );
}
