'use client';
import { useMemo } from 'react';
import { marksOfFilm } from '../../../core/film/edits/marks';
import { placeJoin } from '../../../core/film/timing';
import { planMatteAlone } from '../../../core/plan/stage-plans';
import { KeyBar } from '../../lanes/key-bar';
import { LaneLabels } from '../../lanes/lane-labels';
import { Lanes } from '../../lanes/lanes';
import { heightOf } from '../../lanes/use-lanes';
import { useFilm } from '../../store/film-context';
import { SizedWeave } from '../../weave/sized-weave';
import type { WeaveUnder } from '../../weave/weave';
import type { BenchActions } from '../work/bench-actions';
import { keyFramesOf, matteMarksOf } from '../work/bench-marks';
import { SPAN_ROW, SpanBars, SpanLabels, useSpanRows } from '../blend/span-rows';
import { SoundLabels } from '../sound/sound-labels';
import { SOUND_ROW, SoundUnder } from '../sound/sound-under';
import type { BenchWork } from '../work/use-bench-work';
import { useReadyFrames } from '../work/use-ready-frames';

/** Room of the scroll bar under what lies under the rows, in CSS pixels. */
const SCROLLBAR = 13;
/** Height of the row of chosen keys, in CSS pixels. */
const KEY_BAR = 28;

/** The weave with what lies under it: keyframes and mattes where they are made, lanes in Move and Blend. */
export function BenchWeave({ work, actions }: { readonly work: BenchWork; readonly actions: BenchActions }) {
  const { film, media } = useFilm('film', 'media');
  const { placed, join, frame, setFrame, lanes, hasLanes, tools, strokes, weaveFilm, side } = work;
  const shownPlaced = placeJoin(weaveFilm, join.id) ?? placed;
  const marks = useMemo(() => marksOfFilm(weaveFilm, media), [weaveFilm, media]);
  const ready = useReadyFrames(work);
  const all = useSpanRows(weaveFilm, shownPlaced);
  const spans = work.place.step === 'blend' ? all : [];
  const under: WeaveUnder = {
    labels: (
      <>
        {work.soundRows > 0 && <SoundLabels placed={shownPlaced} />}
        <SpanLabels rows={spans} />
        {hasLanes && <LaneLabels lanes={lanes} />}
      </>
    ),
    draw: (x, from, to) => (
      <>
        {work.soundRows > 0 && (
          <SoundUnder
            film={weaveFilm}
            placed={shownPlaced}
            x={x}
            from={from}
            to={to}
            marks={marks}
            onPreview={work.preview}
            onFrame={setFrame}
          />
        )}
        <SpanBars rows={spans} x={x} marks={marks} onPreview={work.preview} />
        {hasLanes && (
          <div className="relative">
            <Lanes
              joinId={join.id}
              lanes={lanes}
              marks={marks}
              frame={frame}
              x={x}
              from={from}
              to={to}
              onFrame={setFrame}
              onPreview={work.preview}
            />
          </div>
        )}
      </>
    ),
  };
  return (
    <SizedWeave
      aspect={film.width / film.height}
      underHeight={
        (work.soundRows > 0 ? work.soundRows * SOUND_ROW + SCROLLBAR : 0) +
        spans.length * SPAN_ROW +
        (hasLanes ? heightOf(lanes) + KEY_BAR : 0)
      }
      form={work.weaveForm}
      onForm={work.toggleWeave}
      footer={hasLanes ? <KeyBar joinId={join.id} lanes={lanes} frame={frame} /> : null}
      {...(hasLanes || work.soundRows > 0 ? { under } : {})}
      film={weaveFilm}
      media={media}
      placed={shownPlaced}
      frame={frame}
      onFrame={setFrame}
      onSlide={actions.onSlide}
      onSlip={actions.onSlip}
      onRoll={actions.onRoll}
      ready={ready}
      onOverlap={actions.onOverlap}
      keysLabel={tools === null || hasLanes ? null : tools.matte.name}
      keys={keyFramesOf(work)}
      onMoveKey={(from, to, copy) => tools?.moveKey(from, to, copy)}
      onDeleteKey={(at) => tools?.deleteKeyAt(at)}
      marks={marks}
      faults={work.faults}
      matte={
        strokes === null || hasLanes
          ? null
          : {
              name: strokes.matte.name,
              marks: matteMarksOf(work),
              drawingAt: (at) => ({ kind: 'matte', plan: planMatteAlone(weaveFilm, media, placed, side, strokes.matte.id, at) }),
            }
      }
    />
  );
}
