'use client';
import { useRouter } from 'next/navigation';
import { useEffect, useLayoutEffect, useRef, useState, type DragEvent, type PointerEvent } from 'react';
import { addShot, moveShots } from '../../core/film/edits/reel';
import { stretchShot } from '../../core/film/edits/shots';
import { trimEnd, trimStart } from '../../core/film/edits/trims';
import { kindOf, type Film, type Shot } from '../../core/film/film';
import { changedFilm } from '../../core/film/history';
import type { MediumFacts } from '../../core/film/media-facts';
import { filmLength, mediumFrameAt, placedJoins, startOfShot, type PlacedJoin } from '../../core/film/timing';
import { MEDIUM_DRAG_TYPE } from '../shelf/shelf';
import type { FilmDraft } from '../../core/film/drafts';
import { SpeedLane } from './speed-lane';
import { StripTile } from '../shelf/strip-tile';
import { useFilm, useTools } from '../store/film-context';
import { nearestTarget, snapTargets } from '../../core/film/snap';
import { OPEN } from '../lanes/lane-geometry';
import { chooseOneShot, toggleJoin, toggleShot, useReelChoice } from './reel-choice';
import { ReelMarks } from './sound/marks';
import { rowsHeight, SNAP_PX, SOUND_TOP } from './sound/sizes';
import { SoundRows } from './sound/sound-rows';

interface ReelProps {
  readonly frame: number;
  readonly onFrame: (frame: number) => void;
  readonly selectedId: string | null;
  readonly onSelect: (id: string) => void;
  /** Pixels a frame; null fits the whole film. */
  readonly zoom: number | null;
  /** Shows a change that is being dragged; nothing is stored. */
  readonly onPreview: (change: (film: FilmDraft) => void) => void;
}

const SHOT_HEIGHT = 62;
const TILE = 84;
const TILE_HEIGHT = 46;
const PAD = 18;
const DRAG_THRESHOLD_PX = 4;
const newId = (): string => crypto.randomUUID();

type Drag =
  | { readonly kind: 'move'; readonly id: string; readonly x: number; readonly dx: number; readonly index: number }
  | { readonly kind: 'start' | 'end'; readonly id: string; readonly x: number; readonly by: number }
  /** Held Shift: the end is dragged and the shot runs slower or faster for it. */
  | { readonly kind: 'stretch'; readonly id: string; readonly x: number; readonly by: number };

/** The shots in order with the joins as knots between them. */
export function Reel({ frame, onFrame, selectedId, onSelect, zoom, onPreview }: ReelProps) {
  const { store } = useTools();
  const { film, media } = useFilm('film', 'media');
  const router = useRouter();
  const track = useRef<HTMLDivElement>(null);
  const [drag, setDrag] = useState<Drag | null>(null);
  const [preview, setPreview] = useState<Film | null>(null);
  const [dropAt, setDropAt] = useState<number | null>(null);
  const { alsoShots, snaps } = useReelChoice();
  const [view, setView] = useState({ from: 0, to: 1280 });
  const shown = preview ?? film;
  const length = Math.max(1, filmLength(shown));
  const perFrame = zoom ?? Math.max(0.5, ((track.current?.clientWidth ?? 1240) - 2 * PAD) / Math.max(1, filmLength(film)));
  const x = (at: number): number => PAD + at * perFrame;
  const frameAt = (clientX: number): number => {
    const box = track.current!.getBoundingClientRect();
    return Math.max(0, Math.min(length - 1, Math.floor((clientX - box.left + track.current!.scrollLeft - PAD) / perFrame)));
  };
  /** Where a shot dropped at this place would stand, among the others. */
  const indexAt = (clientX: number, without: string | null): number => {
    const at = (clientX - track.current!.getBoundingClientRect().left + track.current!.scrollLeft - PAD) / perFrame;
    return film.shots.filter((s) => s.id !== without && startOfShot(film, s.id) + s.length / 2 < at).length;
  };

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
  }, []);

  // the focus goes along with the choice
  useEffect(() => {
    const focused = document.activeElement;
    if (focused instanceof HTMLElement && focused.dataset.shot !== undefined && selectedId !== null)
      track.current?.querySelector<HTMLElement>(`[data-shot="${selectedId}"]`)?.focus();
  }, [selectedId]);

  const startDrag = (event: PointerEvent, shot: Shot, kind: Drag['kind']): void => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    if (kind === 'move' && event.shiftKey) {
      toggleShot(shot.id);
      return;
    }
    chooseOneShot();
    onSelect(shot.id);
    setDrag(
      kind === 'move'
        ? { kind, id: shot.id, x: event.clientX, dx: 0, index: film.shots.indexOf(shot) }
        : { kind: kind === 'end' && event.shiftKey ? 'stretch' : kind, id: shot.id, x: event.clientX, by: 0 },
    );
  };
  const trimmed = (d: Extract<Drag, { by: number }>): { name: string; change: Parameters<typeof changedFilm>[1] } | null => {
    const shot = film.shots.find((s) => s.id === d.id);
    const medium = shot === undefined ? undefined : media.get(shot.mediumId);
    if (shot === undefined || medium === undefined) return null;
    if (d.kind === 'stretch') {
      const length = Math.max(1, shot.length + d.by);
      return { name: `Speed of ${shot.name}`, change: (draft) => stretchShot(draft, medium, d.id, length, newId) };
    }
    return {
      name: `Trimmed the ${d.kind} of ${shot.name}`,
      change: (draft) => (d.kind === 'start' ? trimStart : trimEnd)(draft, medium, d.id, d.by, newId),
    };
  };
  /** Frames that an end is moved by: to a cut, a beat or a marker that its later neighbours would begin on, where one is near. */
  const drawnBy = (held: Extract<Drag, { by: number }>, frames: number): number => {
    const shot = film.shots.find((s) => s.id === held.id);
    if (shot === undefined || !snaps) return Math.round(frames);
    const way = held.kind === 'start' ? -1 : 1;
    const end = startOfShot(film, shot.id) + shot.length;
    const rest = film.shots.slice(film.shots.indexOf(shot)).map((s) => s.id);
    const found = nearestTarget(end + way * frames, snapTargets(film, media, rest), SNAP_PX / perFrame);
    return Math.round(found === null ? frames : way * (Math.round(found) - end));
  };
  /** The drag as it is with the pointer there. */
  const dragged = (from: Drag, clientX: number): Drag => {
    const dx = clientX - from.x;
    return from.kind === 'move' ? { ...from, dx, index: indexAt(clientX, from.id) } : { ...from, by: drawnBy(from, dx / perFrame) };
  };
  const moveDrag = (event: PointerEvent): void => {
    if (drag === null) return;
    const next = dragged(drag, event.clientX);
    setDrag(next);
    const edit = next.kind === 'move' ? null : trimmed(next);
    if (edit !== null) setPreview(changedFilm(film, edit.change));
  };
  const endDrag = (event: PointerEvent): void => {
    // where the pointer was let go counts, also when the page has not been drawn since
    const done = drag === null ? null : dragged(drag, event.clientX);
    setDrag(null);
    setPreview(null);
    if (done === null) return;
    if (done.kind === 'move') {
      if (Math.abs(done.dx) < DRAG_THRESHOLD_PX) onFrame(frameAt(event.clientX));
      else if (film.shots[done.index]?.id !== done.id)
        store.edit(`Moved ${film.shots.find((s) => s.id === done.id)!.name}`, (d) => moveShots(d, new Set([done.id]), done.index, newId));
    } else if (done.by !== 0) {
      const edit = trimmed(done);
      if (edit !== null) store.edit(edit.name, edit.change);
    }
  };
  const cancelDrag = (): void => {
    setDrag(null);
    setPreview(null);
  };

  const bringsMedium = (event: DragEvent): boolean => event.dataTransfer.types.includes(MEDIUM_DRAG_TYPE);
  const onDrop = (event: DragEvent): void => {
    setDropAt(null);
    const medium = media.get(event.dataTransfer.getData(MEDIUM_DRAG_TYPE));
    if (medium === undefined) return;
    event.preventDefault();
    store.edit(`Added ${medium.name} to the reel`, (d) => addShot(d, medium, indexAt(event.clientX, null), newId));
  };
  const scrub = (event: PointerEvent): void => {
    if (event.buttons === 1) onFrame(frameAt(event.clientX));
  };
  const hasSpeedLane = typeof shown.shots.find((s) => s.id === selectedId)?.time?.speed === 'object';
  const soundTop = SOUND_TOP + (hasSpeedLane ? OPEN + 6 : 0);
  const isInSight = (from: number, to: number): boolean => x(to) >= view.from - AROUND && x(from) <= view.to + AROUND;
  // what is dragged or has the focus stays, wherever the reel is scrolled to
  const reachedId = selectedId ?? shown.shots[0]?.id;
  const shotsInSight = startsOfShots(shown).filter(
    ({ shot, start }) => isInSight(start, start + shot.length) || shot.id === reachedId || shot.id === drag?.id,
  );
  const insertion =
    drag?.kind === 'move' && Math.abs(drag.dx) >= DRAG_THRESHOLD_PX
      ? { index: drag.index, without: drag.id }
      : dropAt !== null
        ? { index: dropAt, without: null }
        : null;

  return (
    <div
      ref={track}
      className="relative h-full overflow-auto bg-sheet select-none"
      onDragOver={(e) => {
        if (!bringsMedium(e)) return;
        e.preventDefault();
        setDropAt(indexAt(e.clientX, null));
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
            medium={media.get(shot.mediumId)}
            left={x(start)}
            perFrame={perFrame}
            selected={shot.id === selectedId || alsoShots.has(shot.id)}
            reached={shot.id === reachedId}
            onFocus={() => onSelect(shot.id)}
            lifted={drag?.kind === 'move' && drag.id === shot.id ? drag.dx : 0}
            onPointerDown={startDrag}
            onPointerMove={moveDrag}
            onPointerUp={endDrag}
            onPointerCancel={cancelDrag}
          />
        ))}
        {drag?.kind !== 'move' &&
          placedJoins(shown)
            .filter((p) => isInSight(p.from, p.to))
            .map((p) => <Knot key={p.join.id} placed={p} x={x} onOpen={() => router.push(`/films/${store.filmId}/joins/${p.join.id}`)} />)}
        <SpeedLane film={shown} shotId={selectedId} frame={frame} perFrame={perFrame} pad={PAD} onFrame={onFrame} onPreview={onPreview} />
        <SoundRows
          film={shown}
          perFrame={perFrame}
          pad={PAD}
          top={soundTop}
          view={view}
          onPreview={(made) => setPreview(made === null ? null : changedFilm(film, made.change))}
          onFrame={onFrame}
        />
        {insertion !== null && (
          <span
            className="absolute top-5 w-[3px] bg-entering"
            style={{ left: x(insertionFrame(film, insertion.index, insertion.without)) - 1, height: SHOT_HEIGHT + 8 }}
          />
        )}
        <span className="pointer-events-none absolute top-0 bottom-0 w-px bg-ink" style={{ left: x(frame + 0.5) }}>
          <span className="absolute top-0 -left-[4px] h-2 w-[9px] bg-ink [clip-path:polygon(0_0,100%_0,50%_100%)]" />
        </span>
      </div>
    </div>
  );
}

/** Pixels around what is in sight in which the reel is drawn. */
const AROUND = 400;

function startsOfShots({ shots }: Film): readonly { readonly shot: Shot; readonly start: number }[] {
  let start = 0;
  return shots.map((shot) => {
    const here = { shot, start };
    start += shot.length;
    return here;
  });
}

function insertionFrame(film: Film, index: number, without: string | null): number {
  const others = film.shots.filter((s) => s.id !== without);
  const next = others[index];
  return next === undefined ? filmLength(film) : startOfShot(film, next.id);
}

interface ShotBlockProps {
  readonly film: Film;
  readonly shot: Shot;
  readonly medium: MediumFacts | undefined;
  readonly left: number;
  readonly perFrame: number;
  readonly selected: boolean;
  /** Tab comes to it. */
  readonly reached: boolean;
  readonly onFocus: () => void;
  /** Pixels it is dragged aside. */
  readonly lifted: number;
  readonly onPointerDown: (event: PointerEvent, shot: Shot, kind: Drag['kind']) => void;
  readonly onPointerMove: (event: PointerEvent) => void;
  readonly onPointerUp: (event: PointerEvent) => void;
  readonly onPointerCancel: () => void;
}

function ShotBlock({
  film,
  shot,
  medium,
  left,
  perFrame,
  selected,
  reached,
  onFocus,
  lifted,
  onPointerDown,
  onPointerMove,
  onPointerUp,
  onPointerCancel,
}: ShotBlockProps) {
  const width = shot.length * perFrame;
  const tiles = medium === undefined ? 0 : Math.max(1, Math.ceil(width / TILE));
  return (
    <div
      role="button"
      aria-pressed={selected}
      aria-label={`${shot.name} ${shot.length} frames`}
      data-shot={shot.id}
      tabIndex={reached ? 0 : -1}
      onFocus={onFocus}
      className={`absolute cursor-grab touch-none overflow-hidden rounded-[3px] border bg-well active:cursor-grabbing ${selected ? 'border-ink outline-1 outline-ink outline-solid' : 'border-sheet'} ${lifted === 0 ? '' : 'z-30 opacity-75'}`}
      style={{ left: left + lifted, top: 24, width, height: SHOT_HEIGHT }}
      onPointerDown={(e) => onPointerDown(e, shot, 'move')}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={onPointerCancel}
    >
      {medium !== undefined &&
        Array.from({ length: tiles }, (_, i) => (
          <span key={i} className="absolute top-0 overflow-hidden" style={{ left: i * TILE, width: TILE, height: TILE_HEIGHT }}>
            <StripTile
              medium={medium}
              frame={mediumFrameAt(film, shot, medium, Math.min(shot.length - 1, ((i + 0.5) * TILE) / perFrame))}
              boxAspect={TILE / TILE_HEIGHT}
            />
          </span>
        ))}
      <span className="absolute inset-x-0 bottom-0 flex h-4 items-center justify-between bg-sheet px-3 text-[11px]">
        <span className="truncate font-semibold">{shot.name}</span>{' '}
        <span className="pl-2 font-mono text-[10px] text-soft">
          {shot.time !== undefined && `${typeof shot.time.speed === 'number' ? `${Math.round(shot.time.speed * 100) / 100} ×` : 'ramp'} · `}
          {shot.length}
        </span>
      </span>
      {(['start', 'end'] as const).map((end) => (
        <span
          key={end}
          role="presentation"
          data-trim={end}
          title={end === 'end' ? 'Trim the end; with Shift: its speed' : 'Trim the start'}
          className={`absolute inset-y-0 w-[7px] cursor-ew-resize hover:bg-white/50 ${end === 'start' ? 'left-0' : 'right-0'}`}
          onPointerDown={(e) => onPointerDown(e, shot, end)}
        />
      ))}
    </div>
  );
}

const MOST_NAME_WIDTH = 170;
const NAME_GAP = 8;

/** A join: the span of its overlap as a band under the shots and a knot to open it by. */
function Knot({ placed, x, onOpen }: { readonly placed: PlacedJoin; readonly x: (frame: number) => number; readonly onOpen: () => void }) {
  const isChosen = useReelChoice((s) => s.joins.has(placed.join.id));
  const made = kindOf(placed.join) !== 'cut' || placed.to > placed.from;
  // the name has room up to halfway to its neighbours
  const room = Math.min(MOST_NAME_WIDTH, x(placed.leaving.length) - x(0), x(placed.entering.length) - x(0)) - NAME_GAP;
  return (
    <>
      {placed.to > placed.from && (
        <span
          className="pointer-events-none absolute z-10 border-x border-seam bg-seam/30"
          style={{ left: x(placed.from), width: x(placed.to) - x(placed.from), top: 24, height: SHOT_HEIGHT }}
        />
      )}
      <button
        type="button"
        onClick={(e) => (e.ctrlKey || e.metaKey || e.shiftKey ? toggleJoin(placed.join.id) : onOpen())}
        onPointerDown={(e) => e.stopPropagation()}
        aria-label={`Open join ${placed.join.name}`}
        title={`Open “${placed.join.name}” on the bench; Shift adds it to the selection`}
        className="group absolute z-20 flex -translate-x-1/2 flex-col items-center"
        style={{ left: x(placed.cut), top: 24 + SHOT_HEIGHT - 9 }}
      >
        <span
          className={`block size-[17px] rounded-full border-2 border-seam group-hover:scale-110 ${made ? 'bg-seam' : 'bg-sheet'} ${isChosen ? 'outline-2 outline-offset-2 outline-ink outline-solid' : ''}`}
        >
          <svg viewBox="0 0 13 14" className={made ? 'stroke-sheet' : 'stroke-seam'} fill="none" strokeWidth="1.6" aria-hidden>
            <path d="M2.500 5.300h5.500M5 8.700h5.500" />
          </svg>
        </span>
        <span className="mt-0.5 truncate text-[11px] group-hover:underline" style={{ maxWidth: room }}>
          {placed.join.name}
        </span>
      </button>
    </>
  );
}

function Ruler({
  length,
  perFrame,
  perSecond,
  onScrub,
}: {
  readonly length: number;
  readonly perFrame: number;
  readonly perSecond: number;
  readonly onScrub: (event: PointerEvent) => void;
}) {
  const every = [1, 2, 5, 10, 30, 60, 300, 600].find((s) => s * perSecond * perFrame >= 60) ?? 3600;
  const marks = Array.from({ length: Math.floor(length / (every * perSecond)) + 1 }, (_, i) => i * every);
  return (
    <div
      className="absolute inset-x-0 top-0 h-5 cursor-ew-resize touch-none border-b border-rule"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        onScrub(e);
      }}
      onPointerMove={onScrub}
    >
      {marks.map((second) => (
        <span
          key={second}
          className="absolute bottom-0 border-l border-rule pl-1 font-mono text-[10px] text-soft"
          style={{ left: PAD + second * perSecond * perFrame }}
        >
          {second} s
        </span>
      ))}
    </div>
  );
}
