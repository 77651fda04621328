'use client';
import { ChevronsDownUp, ChevronsUpDown } from 'lucide-react';
import { memo, useEffect, useMemo, useRef, type ReactNode } from 'react';
import { isMissed } from '../../core/check/handles';
import type { Film, Media } from '../../core/film/film';
import type { FilmMark } from '../../core/film/edits/marks';
import { handlesOf, mediumOf, shotFrameAt, startsAround, type PlacedJoin } from '../../core/film/timing';
import { planFrame } from '../../core/plan/plan-film';
import { planShot } from '../../core/plan/plan-shot';
import type { PlanQuality } from '../../core/plan/planner';
import type { Drawing } from '../../core/plan/plan-views';
import { hint } from '../commands/commands';
import { IconButton } from '../parts/button';
import { useScrollView, type ScrollView } from '../parts/use-scroll-view';
import { CutGrip } from './cut-grip';
import { useHorizontalDrag } from './horizontal-drag';
import { useIsLive, useLiveFrame } from '../store/live-frame';
import { KeyframePips, type WeaveKey } from './keyframe-pips';
import { MatteMarks, type MatteMark } from './matte-marks';
import { OverlapEnd } from './overlap-end';
import { Thumb } from './thumb';
import { WeaveMarks } from './weave-marks';
import { Cell, Row, RowLabel } from './weave-row';
import { LABELS, RULER, useSizes } from './weave-sizes';

/** A small picture needs few shutter samples. */
const THUMB: PlanQuality = { samples: 3 };
/** Frames around the overlap on which a handle that does not exist is hatched. */
const NEAR = 12;

interface WeaveMatte {
  readonly name: string;
  readonly marks: readonly MatteMark[];
  readonly drawingAt: (frame: number) => Drawing;
}

export interface WeaveUnder {
  readonly labels: ReactNode;
  /** Draws on the cells: where a film frame begins in CSS pixels, and the first and the one past the last frame in sight. */
  draw(x: (frame: number) => number, from: number, to: number): ReactNode;
}

interface WeaveProps {
  readonly film: Film;
  readonly media: Media;
  readonly placed: PlacedJoin;
  readonly frame: number;
  readonly onFrame: (frame: number) => void;
  /** Slides the entering shot by film frames; a preview while dragging. */
  readonly onSlide: (frames: number, final: boolean) => void;
  /** Slips the leaving shot's pictures by film frames; a preview while dragging. */
  readonly onSlip: (frames: number, final: boolean) => void;
  /** Rolls the cut by film frames; a preview while dragging. */
  readonly onRoll: (frames: number, final: boolean) => void;
  /** Frames of the result that took long to make and are ready. */
  readonly ready: ReadonlySet<number>;
  /** Moves an end of the overlap to a film frame; a preview while dragging. */
  readonly onOverlap: (end: 'from' | 'to', frame: number, final: boolean) => void;
  readonly keysLabel: string | null;
  readonly keys: readonly WeaveKey[];
  readonly onMoveKey: (from: number, to: number, copy: boolean) => void;
  readonly onDeleteKey: (frame: number) => void;
  /** Beats and markers of the film. */
  readonly marks: readonly FilmMark[];
  /** Film frames with a fault. */
  readonly faults: ReadonlySet<number>;
  /** The painted matte whose frames are shown; null without one. */
  readonly matte: WeaveMatte | null;
  /** Goes over to the other form, low or tall. */
  readonly onForm: () => void;
  /** What lies under the rows on the same cells: labels, the same in height as what `draw` gives. */
  readonly under?: WeaveUnder;
}

/** What of the weave is in sight, CSS pixels. The frame under the playhead stays in it, and keeps the focus that a cell has. */
function useWeaveView(scroller: React.RefObject<HTMLDivElement | null>, frame: number, first: number, cell: number): ScrollView {
  const view = useScrollView(scroller, 1000);

  // keep the current frame in sight, with some of what comes before and after
  useEffect(() => {
    const element = scroller.current!;
    const x = (frame - first) * cell;
    if (x < element.scrollLeft + cell || x > element.scrollLeft + element.clientWidth - 2 * cell)
      element.scrollLeft = x - element.clientWidth / 2;
  }, [scroller, frame, first, cell]);

  // a cell that has the focus hands it on to the one under the playhead
  useEffect(() => {
    const focused = document.activeElement;
    if (focused instanceof HTMLElement && focused.dataset.weaveCell === '')
      focused.closest('[role="group"]')?.querySelector<HTMLElement>('[data-weave-cell="current"]')?.focus({ preventScroll: true });
  }, [frame]);

  return view;
}

interface WeaveLabelsProps {
  readonly weave: WeaveProps;
  readonly isTall: boolean;
}

/** What the rows are, and how many handles the shots have. */
function WeaveLabels({ weave: props, isTall }: WeaveLabelsProps) {
  const { film, media, placed, keys, keysLabel } = props;
  const { row } = useSizes();
  /** Whether the overlap shows a shot where it has no picture; one that is held there needs none. */
  const missed = useMemo(() => {
    const isBare = (shot: 'leaving' | 'entering'): boolean => isMissed(film, media, placed, placed[shot], placed.from, placed.to);
    return { leaving: isBare('leaving'), entering: isBare('entering') };
  }, [film, media, placed]);
  const handleText = (shot: 'leaving' | 'entering'): string => {
    const medium = mediumOf(media, placed[shot]);
    if (medium === null) return 'not ready';
    const handles = handlesOf(film, placed[shot], medium);
    const spare = shot === 'leaving' ? handles.after : handles.before;
    const needed = shot === 'leaving' ? placed.join.after : placed.join.before;
    if (spare >= needed) return `${Math.max(0, spare)} handles`;
    return missed[shot] ? `${needed - spare} missing` : 'held';
  };

  return (
    <div className="min-h-full shrink-0 border-r border-rule" style={{ width: LABELS }}>
      <div className="flex items-center justify-between pr-1 pl-3.5 text-soft" style={{ height: RULER }}>
        Weave
        <IconButton label={hint('weaveForm', isTall ? 'Low weave' : 'Tall weave')} className="!size-[18px]" onClick={props.onForm}>
          {isTall ? <ChevronsDownUp size={12} /> : <ChevronsUpDown size={12} />}
        </IconButton>
      </div>
      {isTall && (
        <RowLabel corner={<path d="M1 1v9h9z" className="fill-leaving" />} name={placed.leaving.name} note={handleText('leaving')} />
      )}
      <RowLabel
        corner={<rect x="1.5" y="1.5" width="8" height="8" rx="1.5" className="fill-seam" />}
        name="Result"
        note={placed.to - placed.from === 0 ? 'plain cut' : ''}
        tinted
      />
      {isTall && (
        <RowLabel
          corner={<path d="M10 10V1L1 10z" className="fill-entering" />}
          name={placed.entering.name}
          note={handleText('entering')}
        />
      )}
      {keysLabel !== null && (
        <div className="flex h-6 items-center justify-between px-3.5">
          <span className="truncate text-[12px]" title={keysLabel}>
            {keysLabel}
          </span>
          <span className="shrink-0 pl-2 font-mono text-[10.5px] text-soft" title={`${keys.length} keyframes`}>
            {keys.length}
          </span>
        </div>
      )}
      {props.matte !== null && (
        <div className="flex items-center justify-between px-3.5" style={{ height: row }}>
          <span className="truncate text-[12px]" title={props.matte.name}>
            {props.matte.name}
          </span>
          <span className="shrink-0 pl-2 font-mono text-[10.5px] text-soft">● ○</span>
        </div>
      )}
      {props.under?.labels}
    </div>
  );
}

interface ShotCellProps {
  readonly film: Film;
  readonly media: Media;
  readonly placed: PlacedJoin;
  readonly shot: 'leaving' | 'entering';
  readonly at: number;
  /** Film frame on which the shot begins. */
  readonly start: number;
}

/** A frame of one shot: bright where the join shows it, hatched where it has none and would be needed. */
const ShotCell = memo(function ShotCell({ film, media, placed, shot, at, start }: ShotCellProps) {
  const { cell, picture } = useSizes();
  const present = shotFrameAt(film, media, placed[shot], start, at) !== null;
  const used = shot === 'leaving' ? at < placed.to : at >= placed.from;
  const isNear = shot === 'leaving' ? at < placed.to + NEAR : at >= placed.from - NEAR;
  if (!present) return used || isNear ? <div className="hatched size-full border border-rule" title="no picture here" /> : null;
  return (
    <Thumb
      drawing={{ kind: 'picture', plan: planShot(film, media, placed, shot, at) }}
      width={cell}
      height={picture}
      className={used ? '' : 'opacity-35'}
    />
  );
});

type ResultCellProps = Pick<ShotCellProps, 'film' | 'media' | 'at'>;

/** A frame of the film. */
const ResultCell = memo(function ResultCell({ film, media, at }: ResultCellProps) {
  const { cell, picture } = useSizes();
  return <Thumb drawing={{ kind: 'picture', plan: planFrame(film, media, at, THUMB) }} width={cell} height={picture} />;
});

/** The three rows of frames on one clock: leaving, result, entering; under them the keyframes. */
export function Weave(props: WeaveProps) {
  const { film, media, placed, frame, onFrame, keys, keysLabel } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const { cell, row, rows } = useSizes();
  const isTall = rows === 3;
  const starts = startsAround(placed);
  const first = starts.leaving;
  const last = placed.cut + placed.entering.length;

  const view = useWeaveView(scroller, frame, first, cell);
  const from = Math.max(first, first + Math.floor(view.left / cell) - 1);
  const to = Math.min(last, first + Math.ceil((view.left + view.width) / cell) + 1);
  const visible = Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i);
  const x = (at: number): number => (at - first) * cell;
  // while it plays, a mark of its own goes from cell to cell
  const marked = useIsLive() ? null : frame;
  const marks = props.marks.filter((m) => m.frame >= from && m.frame < to);

  /** Sliding moves the entering shot in time, slipping the leaving one under its cut. */
  const drags = {
    leaving: useHorizontalDrag((cells, final) => props.onSlip(cells, final)),
    entering: useHorizontalDrag((cells, final) => props.onSlide(cells, final)),
  };
  const shotRow = (shot: 'leaving' | 'entering', top: number): ReactNode => (
    <Row top={top} label={`${placed[shot].name}, frame by frame`} drag={drags[shot]}>
      {visible.map((at) => (
        <Cell
          key={at}
          left={x(at)}
          current={at === marked}
          onClick={() => !drags[shot].justDragged() && onFrame(at)}
          label={`${shot === 'leaving' ? 'Leaving' : 'Entering'}, frame ${at}`}
          slips
        >
          <ShotCell film={film} media={media} placed={placed} shot={shot} at={at} start={starts[shot]} />
        </Cell>
      ))}
    </Row>
  );

  return (
    <div className="flex h-full min-h-0 items-start overflow-y-auto bg-sheet select-none">
      <WeaveLabels weave={props} isTall={isTall} />
      <div ref={scroller} className="relative min-h-full min-w-0 grow overflow-x-auto overflow-y-hidden" data-testid="weave-scroll">
        <div
          className="relative"
          style={{
            width: (last - first) * cell,
            height: RULER + rows * row + (keysLabel !== null || props.matte !== null || props.under === undefined ? Math.max(24, row) : 0),
          }}
        >
          {visible.map((at) => (
            <div key={at} className="absolute top-0" style={{ left: x(at), width: cell }}>
              <button
                type="button"
                tabIndex={-1}
                onClick={() => onFrame(at)}
                className={`block w-full text-center font-mono text-[10.5px] ${at === marked ? 'font-bold' : 'text-soft'}`}
                style={{ height: RULER, lineHeight: `${RULER + 4}px` }}
              >
                {at}
              </button>
            </div>
          ))}
          <WeaveMarks marks={marks} x={x} on="ruler" />
          <PlayedCell x={x} width={cell} top={RULER} height={rows * row} />
          {isTall && shotRow('leaving', RULER)}
          <Row top={isTall ? RULER + row : RULER} label="Result, frame by frame" tinted>
            {visible.map((at) => (
              <Cell
                key={at}
                left={x(at)}
                current={at === marked}
                marked
                onClick={() => onFrame(at)}
                label={`Result, frame ${at}${props.faults.has(at) ? ', fault' : ''}`}
              >
                <ResultCell film={film} media={media} at={at} />
                {props.ready.has(at) && <span data-ready={at} title="ready" className="absolute inset-x-0 top-0 h-[3px] bg-seam" />}
                {props.faults.has(at) && <span className="absolute inset-x-0 bottom-0 h-[3px] bg-fault" />}
              </Cell>
            ))}
          </Row>
          {isTall && shotRow('entering', RULER + 2 * row)}
          <OverlapEnd
            end="from"
            label="Start of the overlap"
            x={x(placed.from)}
            at={placed.from}
            marks={props.marks}
            onMove={props.onOverlap}
          />
          <OverlapEnd end="to" label="End of the overlap" x={x(placed.to)} at={placed.to} marks={props.marks} onMove={props.onOverlap} />
          <CutGrip x={x(placed.cut)} at={placed.cut} marks={props.marks} onRoll={props.onRoll} />
          {keysLabel !== null && (
            <KeyframePips keys={keys} x={x} current={frame} onFrame={onFrame} onMove={props.onMoveKey} onDelete={props.onDeleteKey} />
          )}
          {props.matte !== null && (
            <MatteMarks
              marks={props.matte.marks.filter((m) => m.frame >= from && m.frame < to)}
              drawingAt={props.matte.drawingAt}
              x={x}
              onFrame={onFrame}
            />
          )}
        </div>
        {props.under !== undefined && (
          <div className="relative" style={{ width: (last - first) * cell }}>
            {props.under.draw(x, from, to)}
            <WeaveMarks marks={marks} x={x} on="rows below" />
          </div>
        )}
      </div>
    </div>
  );
}

interface PlayedCellProps {
  readonly x: (frame: number) => number;
  readonly width: number;
  readonly top: number;
  readonly height: number;
}

/** Marks the frame that is shown while it plays. */
function PlayedCell({ x, width, top, height }: PlayedCellProps) {
  const at = useLiveFrame(-1);
  if (at < 0) return null;
  return (
    <span
      className="pointer-events-none absolute left-0 z-10 border-2 border-ink"
      style={{ top, width, height, transform: `translateX(${x(at)}px)` }}
    />
  );
}
