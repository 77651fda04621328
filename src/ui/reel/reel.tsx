'use client';
import { useRouter } from 'next/navigation';
import { useEffect, useMemo, useRef, type PointerEvent } from 'react';
import { startsOfShots } from '../../core/film/clocks';
import type { FilmDraft } from '../../core/film/drafts';
import type { Film, Shot } from '../../core/film/film';
import { changedFilm } from '../../core/film/history';
import { filmLength, placedJoins } from '../../core/film/timing';
import { OPEN } from '../lanes/lane-geometry';
import { useFilm, useTools } from '../store/film-context';
import { useLiveFrame } from '../store/live-frame';
import { Knot } from './knot';
import { useReelChoice } from '../store/reel-choice';
import { Overview } from './overview';
import { PAD, SHOT_HEIGHT, type ReelScale } from './reel-scale';
import { Ruler } from './ruler';
import type { ShotActions } from './shot-actions';
import { ShotBlock } from './shot-block';
import { insertionFrame, isMoved, type Drag } from './shot-drag';
import { ReelMarks } from './sound/marks';
import { rowsHeight, SOUND_TOP } from './sound/sizes';
import { SoundRows } from './sound/sound-rows';
import { SpeedLane } from './speed-lane';
import { useBoxChoice } from './use-box-choice';
import { useReelScroll, type View } from './use-reel-scroll';
import { useShelfDrops } from './use-shelf-drops';
import { useShotDrag } from './use-shot-drag';

interface ReelProps {
  readonly frame: number;
  readonly onFrame: (frame: number) => void;
  /** Shows a change that is being dragged; nothing is stored. */
  readonly onPreview: (change: (film: FilmDraft) => void) => void;
  /** Ends are being dragged, or no more. */
  readonly onTrim: (drag: Drag | null) => void;
  readonly shotActions: ShotActions;
}

/** Pixels around what is in sight in which the reel is drawn. */
const AROUND = 400;

const isInSight = ({ x }: ReelScale, view: View, from: number, to: number): boolean =>
  x(to) >= view.from - AROUND && x(from) <= view.to + AROUND;

/** The shots that are drawn. What is dragged or has the focus stays, wherever the reel is scrolled to. */
function shotsInSight(
  film: Film,
  scale: ReelScale,
  view: View,
  always: readonly (string | undefined)[],
): readonly { readonly shot: Shot; readonly start: number }[] {
  const starts = startsOfShots(film);
  return film.shots
    .map((shot) => ({ shot, start: starts.get(shot.id)! }))
    .filter(({ shot, start }) => isInSight(scale, view, start, start + shot.length) || always.includes(shot.id));
}

/** The shots in order with the joins as knots between them, and the sound under them. */
export function Reel({ frame, onFrame, onPreview, onTrim, shotActions }: ReelProps) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const { shotId, alsoShots, snaps } = useReelChoice();
  const router = useRouter();
  const track = useRef<HTMLDivElement>(null);
  const { scale, view } = useReelScroll(track, Math.max(1, filmLength(film)), frame);
  const { perFrame } = scale;
  const { box, handlers: boxHandlers } = useBoxChoice(film, track, scale);
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

  const { dropAt, handlers: dropHandlers } = useShelfDrops(film, scale);
  const scrub = (event: PointerEvent): void => {
    if (event.buttons === 1) onFrame(scale.frameAt(event.clientX));
  };
  const hasSpeedLane = typeof shown.shots.find((s) => s.id === shotId)?.time?.speed === 'object';
  const soundTop = SOUND_TOP + (hasSpeedLane ? OPEN + 6 : 0);
  const reachedId = shotId ?? shown.shots[0]?.id;
  const held = drag.drag;
  const isMoving = held?.kind === 'move' && isMoved(held);
  // hundreds of shots are drawn anew only when they, or what is done to them, change: never for a step of the playhead
  const shots = useMemo(
    () =>
      shotsInSight(shown, scale, view, [reachedId, held?.id]).map(({ shot, start }) => (
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
      )),
    // `drag` and `scale` are made anew each time; what they are made of is here
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [shown, film, media, perFrame, view, held, shotId, alsoShots, snaps, shotActions, onFrame, onTrim],
  );
  const knots = useMemo(
    () =>
      isMoving
        ? []
        : placedJoins(shown)
            .filter((p) => isInSight(scale, view, p.from, p.to))
            .map((p) => <Knot key={p.join.id} placed={p} x={x} onOpen={() => router.push(`/films/${store.filmId}/joins/${p.join.id}`)} />),
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [shown, perFrame, view, isMoving, router, store],
  );
  const insertion =
    held !== null && isMoving ? insertionFrame(film, held.index, held.ids) : dropAt === null ? null : insertionFrame(film, dropAt, NONE);
  const hasMore = length * perFrame + 2 * PAD > view.to - view.from + 1;
  return (
    <div className="flex h-full flex-col bg-sheet">
      <div
        ref={track}
        id="reel-track"
        className={`relative min-h-0 grow overflow-auto select-none ${hasMore ? '[scrollbar-width:none]' : ''}`}
        {...boxHandlers}
        {...dropHandlers}
      >
        {film.shots.length === 0 && (
          <p className="absolute inset-0 flex items-center justify-center text-soft">
            Drag a card from the shelf here, or press its plus: the reel holds the shots in order.
          </p>
        )}
        <div
          data-empty
          className="relative min-h-full"
          style={{ width: length * perFrame + 2 * PAD, height: soundTop + rowsHeight(film.soundLanes?.length ?? 0) }}
        >
          <ReelMarks film={shown} perFrame={perFrame} pad={PAD} view={view} />
          <Ruler length={length} perFrame={perFrame} rate={film.rate} onScrub={scrub} />
          {shots}
          {knots}
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
          <Playhead frame={frame} x={x} />
          {box !== null && (
            <span
              data-box
              className="pointer-events-none absolute z-30 border border-ink bg-entering/15"
              style={{ left: box.x[0], top: box.y[0], width: box.x[1] - box.x[0], height: box.y[1] - box.y[0] }}
            />
          )}
        </div>
      </div>
      {hasMore && (
        <Overview
          film={shown}
          length={length}
          frame={frame}
          perFrame={perFrame}
          view={view}
          onScroll={(left) => track.current?.scrollTo({ left })}
        />
      )}
    </div>
  );
}

const NONE: ReadonlySet<string> = new Set();

interface PlayheadProps {
  readonly frame: number;
  readonly x: (frame: number) => number;
}

function Playhead({ frame, x }: PlayheadProps) {
  const at = useLiveFrame(frame);
  return (
    <span
      className="pointer-events-none absolute top-0 bottom-0 left-0 w-px bg-ink"
      style={{ transform: `translateX(${x(at + 0.5)}px)` }}
      data-playhead={at}
    >
      <span className="absolute top-0 -left-[4px] h-2 w-[9px] bg-ink [clip-path:polygon(0_0,100%_0,50%_100%)]" />
    </span>
  );
}
