'use client';
import { useEffect, useLayoutEffect, useRef, useState, type PointerEvent, type ReactNode } from 'react';
import type { Film, Media } from '../../core/film/film';
import { handlesOf, mediumOf, shotFrameAt, startsAround, type PlacedJoin } from '../../core/film/timing';
import type { Ease } from '../../core/motion/curve';
import { planFrame, planShot } from '../../core/render/plan';
import { Thumb } from './thumb';

export interface WeaveKey {
  /** Film frame. */
  readonly frame: number;
  readonly ease: Ease;
}

/** A stored frame of the matte that is being worked on. */
export interface MatteMark {
  /** Film frame. */
  readonly frame: number;
  readonly kind: 'hand' | 'carried' | 'doubt';
  readonly settled: boolean;
}

interface WeaveProps {
  readonly film: Film;
  readonly media: Media;
  readonly placed: PlacedJoin;
  readonly frame: number;
  readonly onFrame: (frame: number) => void;
  /** Slides the entering shot by film frames; a preview while dragging. */
  readonly onSlide: (frames: number, final: boolean) => void;
  /** Moves an end of the overlap to a film frame; a preview while dragging. */
  readonly onOverlap: (end: 'from' | 'to', frame: number, final: boolean) => void;
  readonly keysLabel: string | null;
  readonly keys: readonly WeaveKey[];
  readonly onMoveKey: (from: number, to: number, copy: boolean) => void;
  /** Film frames with a fault. */
  readonly faults: ReadonlySet<number>;
  /** The painted matte whose frames are shown; null without one. */
  readonly matteLabel: string | null;
  readonly matteMarks: readonly MatteMark[];
}

const CELL = 48;
const LABELS = 211;
const ROW = 31;
const PICTURE = 27;
const RULER = 19;
const DRAG_THRESHOLD_PX = 4;

/** The three rows of frames on one clock: leaving, result, entering; under them the keyframes. */
export function Weave(props: WeaveProps) {
  const { film, media, placed, frame, onFrame, keys, keysLabel } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const [view, setView] = useState({ left: 0, width: 1000 });
  const starts = startsAround(placed);
  const leavingMedium = mediumOf(media, placed.leaving);
  const enteringMedium = mediumOf(media, placed.entering);
  const first = starts.leaving;
  const last = placed.cut + placed.entering.length;

  useLayoutEffect(() => {
    const element = scroller.current!;
    const update = (): void => setView({ left: element.scrollLeft, width: element.clientWidth });
    const observer = new ResizeObserver(update);
    observer.observe(element);
    element.addEventListener('scroll', update, { passive: true });
    return () => {
      observer.disconnect();
      element.removeEventListener('scroll', update);
    };
  }, []);

  // keep the current frame in sight, with some of what comes before and after
  useEffect(() => {
    const element = scroller.current!;
    const x = (frame - first) * CELL;
    if (x < element.scrollLeft + CELL || x > element.scrollLeft + element.clientWidth - 2 * CELL)
      element.scrollLeft = x - element.clientWidth / 2;
  }, [frame, first]);

  const from = Math.max(first, first + Math.floor(view.left / CELL) - 1);
  const to = Math.min(last, first + Math.ceil((view.left + view.width) / CELL) + 1);
  const visible = Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i);
  const x = (at: number): number => (at - first) * CELL;

  const slide = useHorizontalDrag((cells, final) => props.onSlide(cells, final));
  const handleText = (shot: 'leaving' | 'entering'): string => {
    const medium = shot === 'leaving' ? leavingMedium : enteringMedium;
    if (medium === null) return 'not ready';
    const handles = handlesOf(film, placed[shot], medium);
    const spare = shot === 'leaving' ? handles.after : handles.before;
    const needed = shot === 'leaving' ? placed.join.after : placed.join.before;
    return spare < needed ? `${needed - spare} missing` : `${Math.max(0, spare)} handles`;
  };

  const shotCell = (shot: 'leaving' | 'entering', at: number): ReactNode => {
    const present = shotFrameAt(film, media, placed[shot], starts[shot], at) !== null;
    const used = shot === 'leaving' ? at < placed.to : at >= placed.from;
    const reached = shot === 'leaving' ? at < placed.to + 12 : at >= placed.from - 12;
    if (!present) return used || reached ? <div className="hatched size-full border border-rule" title="no picture here" /> : null;
    if (!reached) return null;
    return (
      <Thumb
        drawing={{ kind: 'picture', plan: planShot(film, media, placed, shot, at) }}
        width={CELL}
        height={PICTURE}
        className={used ? '' : 'opacity-35'}
      />
    );
  };

  return (
    <section aria-label="Weave" className="flex h-full min-h-0 bg-sheet select-none">
      <div className="shrink-0 border-r border-rule" style={{ width: LABELS }}>
        <div className="flex items-end px-3.5 text-soft" style={{ height: RULER }}>
          Weave
        </div>
        <RowLabel corner={<path d="M1 1v9h9z" className="fill-leaving" />} name={placed.leaving.name} note={handleText('leaving')} />
        <RowLabel
          corner={<rect x="1.5" y="1.5" width="8" height="8" rx="1.5" className="fill-seam" />}
          name="Result"
          note={placed.to - placed.from === 0 ? 'plain cut' : ''}
          tinted
        />
        <RowLabel
          corner={<path d="M10 10V1L1 10z" className="fill-entering" />}
          name={placed.entering.name}
          note={handleText('entering')}
        />
        {keysLabel !== null && (
          <div className="flex h-6 items-center justify-between px-3.5">
            <span className="truncate">{keysLabel}</span>
            <span className="shrink-0 pl-2 font-mono text-[10.5px] text-soft">
              {keys.length} {keys.length === 1 ? 'key' : 'keys'}
            </span>
          </div>
        )}
        {props.matteLabel !== null && (
          <div className="flex h-6 items-center justify-between px-3.5">
            <span className="truncate">{props.matteLabel}</span>
            <span className="shrink-0 pl-2 font-mono text-[10.5px] text-soft">●hand ○carried</span>
          </div>
        )}
      </div>
      <div ref={scroller} className="relative grow overflow-x-auto overflow-y-hidden" data-testid="weave-scroll">
        <div className="relative" style={{ width: (last - first) * CELL, height: RULER + 3 * ROW + 30 }}>
          {visible.map((at) => (
            <div key={at} className="absolute top-0" style={{ left: x(at), width: CELL }}>
              <button
                type="button"
                tabIndex={-1}
                onClick={() => onFrame(at)}
                className={`block w-full text-center font-mono text-[10.5px] ${at === frame ? 'font-bold' : 'text-soft'}`}
                style={{ height: RULER, lineHeight: `${RULER + 4}px` }}
              >
                {at}
              </button>
            </div>
          ))}
          <Row top={RULER} label={`${placed.leaving.name}, frame by frame`}>
            {visible.map((at) => (
              <Cell key={at} left={x(at)} current={at === frame} onClick={() => onFrame(at)} label={`Leaving, frame ${at}`}>
                {shotCell('leaving', at)}
              </Cell>
            ))}
          </Row>
          <Row top={RULER + ROW} label="Result, frame by frame" tinted>
            {visible.map((at) => (
              <Cell
                key={at}
                left={x(at)}
                current={at === frame}
                marked
                onClick={() => onFrame(at)}
                label={`Result, frame ${at}${props.faults.has(at) ? ', fault' : ''}`}
              >
                <Thumb drawing={{ kind: 'picture', plan: planFrame(film, media, at) }} width={CELL} height={PICTURE} />
                {props.faults.has(at) && <span className="absolute inset-x-0 bottom-0 h-[3px] bg-fault" />}
              </Cell>
            ))}
          </Row>
          <Row top={RULER + 2 * ROW} label={`${placed.entering.name}, frame by frame`} drag={slide}>
            {visible.map((at) => (
              <Cell
                key={at}
                left={x(at)}
                current={at === frame}
                onClick={() => !slide.justDragged() && onFrame(at)}
                label={`Entering, frame ${at}`}
                entering
              >
                {shotCell('entering', at)}
              </Cell>
            ))}
          </Row>
          <OverlapEnd end="from" label="Start of the overlap" x={x(placed.from)} at={placed.from} onMove={props.onOverlap} />
          <OverlapEnd end="to" label="End of the overlap" x={x(placed.to)} at={placed.to} onMove={props.onOverlap} />
          {keysLabel !== null && <Keys keys={keys} x={x} current={frame} onFrame={onFrame} onMove={props.onMoveKey} />}
          {props.matteLabel !== null && (
            <MatteMarks marks={props.matteMarks.filter((m) => m.frame >= from && m.frame < to)} x={x} onFrame={onFrame} />
          )}
        </div>
      </div>
    </section>
  );
}

const MARK_TEXT = { hand: 'by hand', carried: 'carried', doubt: 'carried, in doubt' } as const;

/** One mark a stored frame: filled where a hand painted, a ring where it was carried, a lozenge where that is in doubt; a bar under settled ones. */
function MatteMarks({
  marks,
  x,
  onFrame,
}: {
  readonly marks: readonly MatteMark[];
  readonly x: (frame: number) => number;
  readonly onFrame: (frame: number) => void;
}) {
  const look = {
    hand: 'size-[10px] rounded-full bg-ink',
    carried: 'size-[7px] rounded-full border-[1.5px] border-soft',
    doubt: 'size-[8px] rotate-45 bg-heed',
  };
  return (
    <div role="list" aria-label="Frames of the matte" className="absolute" style={{ top: RULER + 3 * ROW }}>
      {marks.map((m) => (
        <button
          key={m.frame}
          type="button"
          role="listitem"
          tabIndex={-1}
          data-matte-mark={m.kind}
          aria-label={`Frame ${m.frame}, ${MARK_TEXT[m.kind]}${m.settled ? ', settled' : ''}`}
          onClick={() => onFrame(m.frame)}
          className="absolute flex h-6 items-center justify-center"
          style={{ left: x(m.frame), width: CELL }}
        >
          <span className={`block ${look[m.kind]}`} />
          {m.settled && <span className="absolute bottom-[2px] block h-[2px] w-4 bg-ink" />}
        </button>
      ))}
    </div>
  );
}

function RowLabel({
  corner,
  name,
  note,
  tinted = false,
}: {
  readonly corner: ReactNode;
  readonly name: string;
  readonly note: string;
  readonly tinted?: boolean;
}) {
  return (
    <div className={`flex items-center gap-2 px-3.5 ${tinted ? 'bg-seam/10' : ''}`} style={{ height: ROW }}>
      <svg viewBox="0 0 11 11" className="size-[11px] shrink-0" aria-hidden>
        {corner}
      </svg>
      <span className="min-w-0 grow truncate font-semibold">{name}</span>
      <span className={`shrink-0 font-mono text-[10.5px] ${note.endsWith('missing') ? 'text-fault' : 'text-soft'}`}>{note}</span>
    </div>
  );
}

interface DragHandlers {
  readonly onPointerDown: (event: PointerEvent) => void;
  readonly onPointerMove: (event: PointerEvent) => void;
  readonly onPointerUp: (event: PointerEvent) => void;
  readonly onPointerCancel: () => void;
  /** True right after a drag, so that the click that ends it can be told from a real one. */
  justDragged(): boolean;
}

/** Counts a sideways drag in cells; `onMove` hears of every whole cell and of the end. */
function useHorizontalDrag(onMove: (cells: number, final: boolean) => void): DragHandlers {
  const drag = useRef<{ x: number; cells: number; moved: boolean } | null>(null);
  const dragged = useRef(false);
  return {
    onPointerDown(event) {
      if (event.button === 0) drag.current = { x: event.clientX, cells: 0, moved: false };
      dragged.current = false;
    },
    onPointerMove(event) {
      const current = drag.current;
      if (current === null) return;
      const dx = event.clientX - current.x;
      if (!current.moved && Math.abs(dx) < DRAG_THRESHOLD_PX) return;
      if (!current.moved) event.currentTarget.setPointerCapture(event.pointerId);
      current.moved = true;
      const cells = Math.round(dx / CELL);
      if (cells !== current.cells) onMove(cells, false);
      current.cells = cells;
    },
    onPointerUp() {
      const current = drag.current;
      drag.current = null;
      if (current?.moved !== true) return;
      dragged.current = true;
      onMove(current.cells, true);
    },
    onPointerCancel() {
      if (drag.current?.moved === true) onMove(0, true);
      drag.current = null;
    },
    justDragged: () => dragged.current,
  };
}

function Row({
  top,
  label,
  tinted = false,
  drag,
  children,
}: {
  readonly top: number;
  readonly label: string;
  readonly tinted?: boolean;
  readonly drag?: DragHandlers;
  readonly children: ReactNode;
}) {
  const { justDragged: _, ...handlers } = drag ?? { justDragged: null };
  return (
    <div
      role="group"
      aria-label={label}
      className={`absolute inset-x-0 ${tinted ? 'bg-seam/10' : ''} ${drag === undefined ? '' : 'cursor-grab touch-none active:cursor-grabbing'}`}
      style={{ top, height: ROW }}
      {...handlers}
    >
      {children}
    </div>
  );
}

interface CellProps {
  readonly left: number;
  readonly current: boolean;
  readonly marked?: boolean;
  readonly entering?: boolean;
  readonly label: string;
  readonly onClick: () => void;
  readonly children: ReactNode;
}

function Cell({ left, current, marked = false, entering = false, label, onClick, children }: CellProps) {
  const ring = !current ? '' : marked ? 'z-10 outline-2 outline-ink outline-solid' : 'z-10 outline-1 outline-ink/60 outline-solid';
  return (
    <button
      type="button"
      tabIndex={-1}
      aria-label={label}
      onClick={onClick}
      className={`absolute top-[2px] overflow-hidden border-r border-sheet ${entering ? 'cursor-grab' : ''} ${ring}`}
      style={{ left, width: CELL, height: PICTURE }}
    >
      {children}
    </button>
  );
}

interface OverlapEndProps {
  readonly end: 'from' | 'to';
  readonly label: string;
  readonly x: number;
  readonly at: number;
  readonly onMove: (end: 'from' | 'to', frame: number, final: boolean) => void;
}

/** A dashed line with a grip; arrows move it too. */
function OverlapEnd({ end, label, x, at, onMove }: OverlapEndProps) {
  const start = useRef(at);
  const drag = useHorizontalDrag((cells, final) => onMove(end, start.current + cells, final));
  const { justDragged: _, onPointerDown, ...rest } = drag;
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={at}
      title={`${label}: drag, or use the arrows`}
      className="absolute z-20 w-[11px] -translate-x-[6px] cursor-ew-resize touch-none"
      style={{ left: x, top: RULER - 4, height: 3 * ROW + 6 }}
      onPointerDown={(event) => {
        start.current = at;
        onPointerDown(event);
      }}
      {...rest}
      onKeyDown={(event) => {
        if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
        event.preventDefault();
        event.stopPropagation();
        onMove(end, at + (event.key === 'ArrowLeft' ? -1 : 1), true);
      }}
    >
      <div className="absolute inset-y-0 left-[5px] border-l-2 border-dashed border-seam" />
      <div className={`absolute top-0 h-3 w-[7px] bg-seam ${end === 'from' ? 'left-[5px] rounded-r' : 'right-[4px] rounded-l'}`} />
    </div>
  );
}

interface KeysProps {
  readonly keys: readonly WeaveKey[];
  readonly x: (frame: number) => number;
  readonly current: number;
  readonly onFrame: (frame: number) => void;
  readonly onMove: (from: number, to: number, copy: boolean) => void;
}

const PIP: Record<Ease, string> = {
  'soft both': 'size-[10px] rounded-full',
  straight: 'h-[12px] w-[5px] rounded-[1px]',
  hold: 'size-[9px]',
};

/** Keyframe pips: drag to move, with Alt to copy. */
function Keys({ keys, x, current, onFrame, onMove }: KeysProps) {
  const [drag, setDrag] = useState<{ frame: number; startX: number; to: number } | null>(null);
  return (
    <div role="group" aria-label="Keyframes" className="absolute inset-x-0" style={{ top: RULER + 3 * ROW, height: 24 }}>
      {keys.map((key) => {
        const at = drag?.frame === key.frame ? drag.to : key.frame;
        return (
          <button
            key={key.frame}
            type="button"
            aria-label={`Keyframe at ${key.frame}`}
            title={`Keyframe at ${key.frame}: drag to move, Alt-drag to copy`}
            className="absolute top-0 flex h-6 w-6 -translate-x-1/2 cursor-ew-resize touch-none items-center justify-center"
            style={{ left: x(at) + CELL / 2 }}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              setDrag({ frame: key.frame, startX: e.clientX, to: key.frame });
            }}
            onPointerMove={(e) => drag !== null && setDrag({ ...drag, to: drag.frame + Math.round((e.clientX - drag.startX) / CELL) })}
            onPointerUp={(e) => {
              const done = drag;
              setDrag(null);
              if (done === null || done.to === done.frame) onFrame(key.frame);
              else onMove(done.frame, done.to, e.altKey);
            }}
            onPointerCancel={() => setDrag(null)}
          >
            <span className={`block ${PIP[key.ease]} ${at === current ? 'bg-ink' : 'border-[1.5px] border-ink bg-ink/70'}`} />
          </button>
        );
      })}
    </div>
  );
}
