'use client';
import { WandSparkles } from 'lucide-react';
import type { Matte, Medium } from '../../../core/film/film';
import type { ShotSide } from '../../../core/film/composition';
import { filmFrameOf, type PlacedJoin } from '../../../core/film/timing';
import { Button } from '../../parts/button';
import { Note } from '../../parts/note';
import { Section } from '../../parts/section';
import { StopJob } from '../../parts/stop-job';
import { isUnderWay, type JobView } from '../../../core/film/job';
import { useFilm, useJob, useTools } from '../../store/film-context';

/** Medium frames to either side of the playhead that are looked through. */
const REACH = 150;

/** Proposes the outline of a pass: the trailing edge of what crosses the picture, and the frames it covers whole. */
export function FindEdgeSection({
  placed,
  side,
  matte,
  medium,
  mediumFrame,
  onGoTo,
}: {
  readonly placed: PlacedJoin;
  readonly side: ShotSide;
  readonly matte: Matte;
  readonly medium: Medium;
  readonly mediumFrame: number;
  readonly onGoTo: (filmFrame: number) => void;
}) {
  const { film } = useFilm('film');
  const { store } = useTools();
  const isOurs = (j: JobView): boolean => j.kind === 'find edge';
  const job = useJob(matte.id, (j) => isOurs(j) && isUnderWay(j));
  const newest = useJob(matte.id, isOurs);
  const failed = job === undefined && newest?.state === 'failed' ? newest.error : null;
  const { coversFrame } = matte;
  const find = (): void => {
    const first = Math.max(0, mediumFrame - REACH);
    const last = Math.min(medium.frames - 1, mediumFrame + REACH);
    void store.askWhenSaved('find-edge', { matteId: matte.id, first, last });
  };
  const frameButton = (at: number) => {
    const frame = filmFrameOf(film, placed, side, medium, at);
    return (
      <button type="button" className="font-mono underline" onClick={() => onGoTo(frame)}>
        {frame}
      </button>
    );
  };
  return (
    <Section title="Trailing edge">
      <p className="text-soft">
        Looks through the shot for something that crosses the picture, and lays the outline along its trailing edge.
      </p>
      <div className="flex flex-wrap gap-1.5">
        <Button disabled={job !== undefined} onClick={find}>
          <WandSparkles size={13} /> {matte.outline.closed ? 'Find the trailing edge again' : 'Find the trailing edge'}
        </Button>
        {job !== undefined && <StopJob job={job} />}
      </div>
      {failed !== null && <Note tone="heed">{failed}</Note>}
      {coversFrame === null && <Note tone="heed">It never covers the whole picture: beside it the next shot shows early.</Note>}
      {coversFrame != null && (
        <p>
          It covers the whole picture from {frameButton(coversFrame.from)} to {frameButton(coversFrame.to)}.
        </p>
      )}
    </Section>
  );
}
