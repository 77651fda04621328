'use client';
import { useRouter } from 'next/navigation';
import { useEffect, useLayoutEffect, useRef, useState, type DragEvent, type PointerEvent } from 'react';
import { startsOfShots } from '../../core/film/clocks';
import { addShot } from '../../core/film/edits/reel';
import type { FilmDraft } from '../../core/film/drafts';
import { changedFilm } from '../../core/film/history';
import { filmLength, placedJoins } from '../../core/film/timing';
import { OPEN } from '../lanes/lane-geometry';
import { MEDIUM_DRAG_TYPE } from '../shelf/drag-types';
import { useFilm, useTools } from '../store/film-context';
import { Knot } from './knot';
import { useReelChoice } from '../store/reel-choice';
import { PAD, reelScale, SHOT_HEIGHT } from './reel-scale';
import { Ruler } from './ruler';
import type { ShotActions } from './shot-actions';
import { ShotBlock } from './shot-block';
import { indexAt, insertionFrame, isMoved, type Drag } from './shot-drag';
import { ReelMarks } from './sound/marks';
import { rowsHeight, SOUND_TOP } from './sound/sizes';
import { SoundRows } from './sound/sound-rows';
import { SpeedLane } from './speed-lane';
import { useShotDrag } from './use-shot-drag';

interface ReelProps {
  readonly frame: number;
  readonly onFrame: (frame: number) => void;
  /** Pixels a frame; null fits the whole film. */
  readonly zoom: number | null;
  /** Shows a change that is being dragged; nothing is stored. */
  readonly onPreview: (change: (film: FilmDraft) => void) => void;
  /** Ends are being dragged, or no more. */
  readonly onTrim: (drag: Drag | null) => void;
  readonly shotActions: ShotActions;
}

/** Pixels around what is in sight in which the reel is drawn. */
const AROUND = 400;
const newId = (): string => crypto.randomUUID();

/** The part of a scrolled element that is in sight, CSS pixels. */
function useView(track: React.RefObject<HTMLDivElement | null>): { readonly from: number; readonly to: number } {
  const [view, setView] = useState({ from: 0, to: 1280 });
  useLayoutEffect(() => {
    const element = track.current!;
    const update = (): void => setView({ from: element.scrollLeft, to: element.scrollLeft + element.clientWidth });
    const observer = new ResizeObserver(update);
    observer.observe(element);
    element.addEventListener('scroll', update, { passive: true });
    return () => {
      observer.disconnect();
      element.removeEventListener('scroll', update);
    };
  }, [track]);
  return view;
}

/** The shots in order with the joins as knots between them, and the sound under them. */
export function Reel({ frame, onFrame, zoom, onPreview, onTrim, shotActions }: ReelProps) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { shotId } = useReelChoice();
  const router = useRouter();
  const track = useRef<HTMLDivElement>(null);
  const view = useView(track);
  const [dropAt, setDropAt] = useState<number | null>(null);
  const perFrame = zoom ?? Math.max(0.5, ((track.current?.clientWidth ?? 1240) - 2 * PAD) / Math.max(1, filmLength(film)));
  const scale = reelScale(track.current, perFrame, Math.max(1, filmLength(film)));
  const drag = useShotDrag(scale, onFrame, onTrim);
  const shown = drag.preview ?? film;
  const length = Math.max(1, filmLength(shown));
  const { x } = scale;

  // the focus goes along with the choice
  useEffect(() => {
    const focused = document.activeElement;
    if (focused instanceof HTMLElement && focused.dataset.shot !== undefined && shotId !== null)
      track.current?.querySelector<HTMLElement>(`[data-shot="${shotId}"]`)?.focus();
  }, [shotId]);

  const onDrop = (event: DragEvent): void => {
    setDropAt(null);
    const medium = media.get(event.dataTransfer.getData(MEDIUM_DRAG_TYPE));
    if (medium === undefined) return;
    event.preventDefault();
    const index = indexAt(film, scale.placeAt(event.clientX), NONE);
    store.edit(`Added ${medium.name} to the reel`, (d) => addShot(d, medium, index, newId));
  };
  const scrub = (event: PointerEvent): void => {
    if (event.buttons === 1) onFrame(scale.frameAt(event.clientX));
  };
  const hasSpeedLane = typeof shown.shots.find((s) => s.id === shotId)?.time?.speed === 'object';
  const soundTop = SOUND_TOP + (hasSpeedLane ? OPEN + 6 : 0);
  const isInSight = (from: number, to: number): boolean => x(to) >= view.from - AROUND && x(from) <= view.to + AROUND;
  // what is dragged or has the focus stays, wherever the reel is scrolled to
  const reachedId = shotId ?? shown.shots[0]?.id;
  const held = drag.drag;
  const starts = startsOfShots(shown);
  const placed = shown.shots.map((shot) => ({ shot, start: starts.get(shot.id)! }));
  const shotsInSight = placed.filter(
    ({ shot, start }) => isInSight(start, start + shot.length) || shot.id === reachedId || shot.id === held?.id,
  );
  const insertion =
    held?.kind === 'move' && isMoved(held)
      ? insertionFrame(film, held.index, held.ids)
      : dropAt === null
        ? null
        : insertionFrame(film, dropAt, NONE);
  return (
    <div
      ref={track}
      className="relative h-full overflow-auto bg-sheet select-none"
      onDragOver={(e) => {
        if (!e.dataTransfer.types.includes(MEDIUM_DRAG_TYPE)) return;
        e.preventDefault();
        setDropAt(indexAt(film, scale.placeAt(e.clientX), NONE));
      }}
      onDragLeave={() => setDropAt(null)}
      onDrop={onDrop}
    >
      {film.shots.length === 0 && (
        <p className="absolute inset-0 flex items-center justify-center text-soft">
          Drag a card from the shelf here, or press its plus: the reel holds the shots in order.
        </p>
      )}
      <div
        className="relative min-h-full"
        style={{ width: length * perFrame + 2 * PAD, height: soundTop + rowsHeight(film.soundLanes?.length ?? 0) }}
      >
        <ReelMarks film={shown} perFrame={perFrame} pad={PAD} view={view} />
        <Ruler length={length} perFrame={perFrame} perSecond={Math.round(film.rate.numerator / film.rate.denominator)} onScrub={scrub} />
        {shotsInSight.map(({ shot, start }) => (
          <ShotBlock
            key={shot.id}
            film={shown}
            shot={shot}
            start={start}
            scale={scale}
            reached={shot.id === reachedId}
            drag={drag}
            shotActions={shotActions}
          />
        ))}
        {!(held?.kind === 'move' && isMoved(held)) &&
          placedJoins(shown)
            .filter((p) => isInSight(p.from, p.to))
            .map((p) => <Knot key={p.join.id} placed={p} x={x} onOpen={() => router.push(`/films/${store.filmId}/joins/${p.join.id}`)} />)}
        <SpeedLane film={shown} shotId={shotId} frame={frame} perFrame={perFrame} pad={PAD} onFrame={onFrame} onPreview={onPreview} />
        <SoundRows
          film={shown}
          perFrame={perFrame}
          pad={PAD}
          top={soundTop}
          view={view}
          onPreview={(made) => drag.setPreview(made === null ? null : changedFilm(film, made.change))}
          onFrame={onFrame}
        />
        {insertion !== null && (
          <span className="absolute top-5 w-[3px] bg-entering" style={{ left: x(insertion) - 1, height: SHOT_HEIGHT + 8 }} />
        )}
        <span className="pointer-events-none absolute top-0 bottom-0 w-px bg-ink" style={{ left: x(frame + 0.5) }}>
          <span className="absolute top-0 -left-[4px] h-2 w-[9px] bg-ink [clip-path:polygon(0_0,100%_0,50%_100%)]" />
        </span>
      </div>
    </div>
  );
}

const NONE: ReadonlySet<string> = new Set();
