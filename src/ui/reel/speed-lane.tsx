'use client';
import { useMemo } from 'react';
import { marksOfFilm } from '../../core/film/edits/marks';
import type { FilmDraft } from '../../core/film/drafts';
import type { Film } from '../../core/film/film';
import { keyOfLane, laneChannel, laneFacts, type LaneTarget } from '../../core/lanes/lanes';
import { startOfShot } from '../../core/film/timing';
import { useFilm } from '../store/film-context';
import { Lanes } from '../lanes/lanes';
import { OPEN } from '../lanes/lane-geometry';
import type { Lane } from '../lanes/use-lanes';
import { SizesProvider } from '../weave/weave-sizes';

interface SpeedLaneProps {
  readonly film: Film;
  readonly shotId: string | null;
  readonly frame: number;
  readonly perFrame: number;
  readonly pad: number;
  readonly onFrame: (frame: number) => void;
  readonly onPreview: (change: (film: FilmDraft) => void) => void;
}

/** Where the lane lies under the shots and their names, in CSS pixels. */
const TOP = 114;

/** The speed curve of the chosen shot under it, on the reel's own frames; nothing for one that has none. */
export function SpeedLane({ film, shotId, frame, perFrame, pad, onFrame, onPreview }: SpeedLaneProps) {
  const { media } = useFilm('media');
  const marks = useMemo(() => marksOfFilm(film, media), [film, media]);
  const shot = film.shots.find((s) => s.id === shotId);
  const lanes = useMemo((): readonly Lane[] => {
    if (shot === undefined || typeof shot.time?.speed !== 'object') return [];
    const target: LaneTarget = { kind: 'shot speed', shotId: shot.id };
    const [channel, facts] = [laneChannel(film, '', target), laneFacts(film, '', target)];
    return channel === null || facts === null
      ? []
      : [{ key: keyOfLane(target), target, channel, facts, isOpen: true, isPinned: false, top: 0, height: OPEN }];
  }, [film, shot]);
  if (shot === undefined || lanes.length === 0) return null;
  const start = startOfShot(film, shot.id);
  return (
    <SizesProvider value={{ cell: perFrame, row: 0, picture: 0, rows: 3 }}>
      <div className="absolute inset-x-0" style={{ top: TOP, height: OPEN }}>
        <Lanes
          joinId=""
          lanes={lanes}
          marks={marks}
          frame={frame}
          x={(f) => pad + f * perFrame}
          from={start}
          to={start + shot.length}
          onFrame={onFrame}
          onPreview={onPreview}
        />
      </div>
    </SizesProvider>
  );
}
