'use client';
import { Lock, LockOpen, Play, Waves, MoveHorizontal } from 'lucide-react';
import { DOUBTFUL } from '../../../core/film/matte-frame';
import { hasPaint } from '../../../core/matte/cut/strokes';
import { Button } from '../../parts/button';
import { LineChart } from '../../parts/line-chart';
import { Note } from '../../parts/note';
import { SliderRow } from '../../parts/number-field';
import { Section } from '../../parts/section';
import { HatchRow } from './hatch-row';
import { StopJob } from '../../parts/stop-job';
import { Segmented } from '../../parts/segmented';
import { isUnderWay } from '../../../core/film/job';
import { useJob } from '../../store/film-context';
import { usePreference } from '../../store/preferences';
import type { BrushMode } from '../../../core/matte/cut/brush';
import { DirectionButtons } from '../common/direction-buttons';
import { MAX_BRUSH, MIN_BRUSH, type StrokeTools } from './stroke-tools';

interface StrokesPanelProps {
  readonly tools: StrokeTools;
  readonly onGoTo: (filmFrame: number) => void;
}

const MODES: readonly { readonly value: BrushMode; readonly text: string }[] = [
  { value: 'keep', text: 'Keep' },
  { value: 'drop', text: 'Drop' },
  { value: 'box', text: 'Box' },
  { value: 'loop', text: 'Loop' },
  { value: 'hair', text: 'Hair' },
];

/** For what the picture cannot decide, and for taking strokes away. */
const BY_HAND: readonly { readonly value: BrushMode; readonly text: string }[] = [
  { value: 'paint in', text: 'Paint in' },
  { value: 'paint out', text: 'Paint out' },
  { value: 'erase', text: 'Erase' },
];

/** The controls of a painted matte: brush, carrying through time, settling. */
export function StrokesPanel({ tools, onGoTo }: StrokesPanelProps) {
  const { matte, strokes, frames, here, doubtful, settled } = tools;
  const [smoothing, setSmoothing] = usePreference('smoothing', 0.7);
  const job = useJob(matte.id, isUnderWay);
  const newest = useJob(matte.id);
  const empty = !hasPaint(strokes);
  const hand = frames.filter((f) => f.origin === 'hand').length;
  return (
    <>
      <Section title={matte.name} name="Matte">
        {tools.mediumFrame === null && <Note tone="heed">The shot has no picture on this frame. Step back to paint.</Note>}
        {tools.mediumFrame !== null && here === null && empty && (
          <Note tone="good">Paint a keep stroke over the subject, and a drop stroke where the matte takes too much.</Note>
        )}
        {tools.problem !== null && <Note tone="heed">{tools.problem}</Note>}
        <Segmented label="Brush" value={tools.mode} onChange={tools.setMode} options={MODES} />
        <Segmented label="Brush by hand" value={tools.mode} onChange={tools.setMode} options={BY_HAND} />
        <SliderRow
          label="Brush"
          unit="px"
          min={MIN_BRUSH}
          max={MAX_BRUSH}
          value={Math.round(tools.brush)}
          onPreview={tools.setBrush}
          onCommit={tools.setBrush}
        />
        <HatchRow />
        <Button disabled={empty} onClick={tools.clear}>
          Clear the strokes here
        </Button>
      </Section>
      <Section title="Carry through time">
        <div className="flex flex-wrap gap-1.5">
          <DirectionButtons disabled={here === null || job !== undefined} reaches={tools.reaches} onGo={tools.carry} />
          <Button disabled={here === null || job !== undefined} onClick={() => tools.carry('whole shot')}>
            <MoveHorizontal size={13} /> Whole shot
          </Button>
          <Button disabled={here === null || job !== undefined || hand < 2} onClick={() => tools.carry('next painted')}>
            <Play size={13} /> To the next painted
          </Button>
          {job === undefined && tools.unfinished !== null && (
            <Button onClick={tools.goOn}>
              <Play size={13} /> Go on to {tools.unfinished}
            </Button>
          )}
          {job !== undefined && <StopJob job={job} />}
        </div>
        {newest?.state === 'failed' && (
          <Note tone="heed">
            {newest.label} failed: {newest.error}
          </Note>
        )}
        {frames.length > 1 && (
          <LineChart
            label="Confidence of the carried matte over its frames"
            points={frames.map((f) => ({ x: tools.filmFrame(f.frame), y: f.confidence }))}
            floor={DOUBTFUL}
            at={here === null ? null : tools.filmFrame(here.frame)}
            onPick={onGoTo}
          />
        )}
        {doubtful.length > 0 && (
          <Note tone="heed">
            {doubtful.length === 1 ? 'One frame is' : `${doubtful.length} frames are`} in doubt, the first is{' '}
            <span className="whitespace-nowrap">
              <button type="button" className="font-mono underline" onClick={() => onGoTo(tools.filmFrame(doubtful[0]!.frame))}>
                {tools.filmFrame(doubtful[0]!.frame)}
              </button>
              .
            </span>{' '}
            Go there, paint a stroke where the edge is wrong, and carry on from it.
          </Note>
        )}
        <p className="text-soft">
          {frames.length === 0
            ? 'No matte yet.'
            : `Matte on ${frames.length} ${frames.length === 1 ? 'frame' : 'frames'}, ${hand} by hand.`}
        </p>
        <div className="flex flex-wrap gap-1.5">
          <Button disabled={frames.length === 0} onClick={() => tools.settle(!settled)}>
            {settled ? <LockOpen size={13} /> : <Lock size={13} />} {settled ? 'Unlock frames' : 'Lock frames'}
          </Button>
          <Button disabled={settled || frames.length === hand} onClick={tools.forgetCarried}>
            Discard carried frames
          </Button>
        </div>
      </Section>
      <Section title="Jitter" startsFolded>
        <SliderRow
          label="Jitter taken out"
          unit="%"
          min={0}
          max={100}
          value={Math.round(100 * smoothing)}
          onPreview={(v) => setSmoothing(v / 100)}
          onCommit={(v) => setSmoothing(v / 100)}
        />
        <Button disabled={settled || frames.length < 2 || job !== undefined || smoothing === 0} onClick={() => tools.smooth(smoothing)}>
          <Waves size={13} /> Smooth over time
        </Button>
      </Section>
    </>
  );
}
