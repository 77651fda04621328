'use client';
import { useGesture } from '@use-gesture/react';
import { useRef, useState } from 'react';
import type { FilmMark } from '../../core/film/edits/marks';
import { keysOf } from '../../core/motion/key-edits';
import { useTools } from '../store/film-context';
import { useLiveFrame } from '../store/live-frame';
import { chooseKeys, useBench, type KeyChoice } from '../store/bench-state';
import type { PreviewChange } from '../store/preview';
import { useSizes } from '../weave/weave-sizes';
import { CLOSED, handlesOf, RIBBON, ribbonPath, VALUE, valuePath, valueScale } from './lane-geometry';
import { changeOf, framesBy, keysWithin, reachOf, takeHold, timeAt, type Hold, type LaneSpace } from './lane-drag';
import { deleted, movedBy, raisedBy, withKey } from './lane-edits';
import { heightOf, type Lane } from './use-lanes';

interface LanesProps {
  readonly joinId: string;
  readonly lanes: readonly Lane[];
  /** What keys are drawn to. */
  readonly marks: readonly FilmMark[];
  readonly frame: number;
  readonly x: (frame: number) => number;
  /** Frames in sight: the first, and the one past the last. */
  readonly from: number;
  readonly to: number;
  readonly onFrame: (frame: number) => void;
  readonly onPreview: (change: PreviewChange) => void;
}

const INK: Record<'leaving' | 'entering' | 'seam', string> = {
  leaving: 'var(--leaving)',
  entering: 'var(--entering)',
  seam: 'var(--seam)',
};

/** The pointer in lanes: what it drags is shown at once, and stored when it is let go. `at` is a place of the page in their space. */
function useLaneDrag(
  space: LaneSpace,
  at: (clientX: number, clientY: number) => { x: number; y: number },
  left: number,
  onFrame: (frame: number) => void,
  onPreview: (change: PreviewChange) => void,
) {
  const { store } = useTools();
  const keys = useBench((s) => s.keys);
  const hold = useRef<Hold | null>(null);
  const [box, setBox] = useState<{ x: number; y: number; width: number; height: number } | null>(null);
  const bind = useGesture(
    {
      onDragStart: ({ event, xy: [cx, cy], shiftKey }) => {
        const held = takeHold(space, (event.target as SVGElement).dataset, at(cx, cy), shiftKey, keys);
        if (held?.kind === 'key' && held.keys !== keys) chooseKeys(held.keys);
        hold.current = held;
      },
      onDrag: ({ movement: [dx, dy], xy: [cx, cy], last, tap, canceled, altKey }) => {
        const held = hold.current;
        if (held === null) return;
        const p = at(cx, cy);
        if (last) hold.current = null;
        if (canceled) return onPreview(() => undefined);
        if (held.kind === 'box') {
          setBox(
            last
              ? null
              : {
                  x: Math.min(held.x, p.x) - left,
                  y: Math.min(held.y, p.y),
                  width: Math.abs(p.x - held.x),
                  height: Math.abs(p.y - held.y),
                },
          );
          if (last) chooseKeys(tap ? new Map() : keysWithin(space, held, p));
          if (tap) onFrame(Math.floor(p.x / space.cell + (0 - space.zero) / space.cell));
          return;
        }
        if (tap) {
          if (held.kind === 'key') onFrame(held.frame + held.lane.facts.origin);
          return;
        }
        const made = changeOf(space, held, dx, dy, p, altKey);
        if (made === null) {
          if (!last) onPreview(() => undefined);
          return;
        }
        const [name, change] = made;
        if (!last) return onPreview(change);
        store.edit(name, change);
        // what was chosen goes along
        if (held.kind === 'key') {
          const by = framesBy(space, held, dx);
          chooseKeys(new Map([...held.keys].map(([k, frames]) => [k, new Set([...frames].map((f) => f + by))])));
        } else if (held.kind === 'stretch') chooseKeys(new Map());
      },
    },
    { drag: { filterTaps: true, pointer: { keys: false } } },
  );
  return { bind, box };
}

/** The channels under the weave, on its very cells: values, handles and speed, all to be dragged. */
export function Lanes({ joinId, lanes, marks, frame, x, from, to, onFrame, onPreview }: LanesProps) {
  const { store } = useTools();
  const { cell } = useSizes();
  const keys = useBench((s) => s.keys);
  const svg = useRef<SVGSVGElement>(null);
  const height = heightOf(lanes);
  const left = x(from);
  const width = Math.max(1, x(to) - left);
  const laneAt = (y: number): Lane | undefined => lanes.find((l) => y >= l.top && y < l.top + l.height);
  const at = (clientX: number, clientY: number): { x: number; y: number } => {
    const bounds = svg.current!.getBoundingClientRect();
    return { x: clientX - bounds.left + left, y: clientY - bounds.top };
  };
  const space: LaneSpace = { joinId, lanes, marks, cell, zero: x(0) };
  const toX =
    (lane: Lane) =>
    (time: number): number =>
      x(0) + (time + lane.facts.origin + 0.5) * cell - left;

  const { bind, box } = useLaneDrag(space, at, left, onFrame, onPreview);
  const reach = reachOf(lanes, keys);
  return (
    <svg
      ref={svg}
      {...bind()}
      role="application"
      aria-label="Curves"
      data-lanes
      width={width}
      height={Math.max(1, height)}
      className="absolute touch-none"
      style={{ left }}
      onDoubleClick={(e) => {
        const p = at(e.clientX, e.clientY);
        const lane = laneAt(p.y);
        if (lane === undefined || (e.target as SVGElement).dataset.key !== undefined) return;
        store.edit(`Keyframe of ${lane.facts.name}`, withKey(joinId, lane, Math.round(timeAt(space, lane, p.x))));
      }}
    >
      {lanes.map((lane) => (
        <LaneDrawing
          key={lane.key}
          lane={lane}
          joinId={joinId}
          keys={keys}
          toX={toX(lane)}
          from={from - lane.facts.origin}
          to={to - lane.facts.origin}
          cell={cell}
          width={width}
          lanes={lanes}
          onFrame={onFrame}
        />
      ))}
      {reach !== null &&
        reach.map((f, i) => {
          const at = x(f) + cell / 2 - left;
          return (
            <g key={i} data-stretch={i === 0 ? 'from' : 'to'} className="cursor-ew-resize">
              <rect
                data-stretch={i === 0 ? 'from' : 'to'}
                x={at + (i === 0 ? -14 : 8)}
                y={0}
                width={6}
                height={Math.max(10, height)}
                className="fill-ink/10"
              />
              <rect data-stretch={i === 0 ? 'from' : 'to'} x={at + (i === 0 ? -14 : 8)} y={2} width={6} height={10} className="fill-ink" />
            </g>
          );
        })}
      <Playhead frame={frame} x={(at) => x(at) + cell / 2 - left} height={height} />
      {box !== null && <rect {...box} className="fill-ink/10 stroke-ink" strokeDasharray="3 3" />}
    </svg>
  );
}

interface PlayheadProps {
  readonly frame: number;
  readonly x: (frame: number) => number;
  readonly height: number;
}

function Playhead({ frame, x, height }: PlayheadProps) {
  const at = x(useLiveFrame(frame));
  return <line x1={at} x2={at} y1={0} y2={height} className="pointer-events-none stroke-ink" strokeWidth={1.5} />;
}

interface LaneDrawingProps {
  readonly lane: Lane;
  readonly lanes: readonly Lane[];
  readonly joinId: string;
  readonly keys: KeyChoice;
  readonly toX: (time: number) => number;
  readonly from: number;
  readonly to: number;
  readonly cell: number;
  readonly width: number;
  readonly onFrame: (frame: number) => void;
}

const inkOf = ({ facts }: Lane): string => INK[facts.side ?? 'seam'];

/** One lane: a thin line with pips, or value with handles and speed under it. */
function LaneDrawing({ lane, lanes, joinId, keys, toX, from, to, cell, width, onFrame }: LaneDrawingProps) {
  const { store } = useTools();
  const { channel, facts, isOpen, top } = lane;
  const chosen = keys.get(lane.key);
  const scale = valueScale(channel, facts.spacing);
  const ink = inkOf(lane);
  const list = keysOf(channel);
  const inSight = list.map((k, i) => ({ k, i })).filter(({ k }) => k.frame >= from - 1 && k.frame <= to + 1);
  const yOf = (value: number): number => (isOpen ? scale.y(value) : CLOSED / 2);
  const onKey = (event: React.KeyboardEvent, frame: number): void => {
    const only: KeyChoice = new Map([[lane.key, new Set([frame])]]);
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const up = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (by !== undefined) {
      store.edit('Moved keyframes', movedBy(joinId, lanes, only, by, event.altKey));
      chooseKeys(new Map([[lane.key, new Set([frame + by])]]));
    } else if (up !== undefined)
      store.edit(`Raised a keyframe of ${facts.name}`, raisedBy(joinId, lane, only, (up * facts.step) / facts.factor));
    else if (event.key === 'Delete' || event.key === 'Backspace') store.edit('Deleted keyframes', deleted(joinId, lanes, only));
    else if (event.key === 'Enter') onFrame(frame + facts.origin);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <g transform={`translate(0 ${top})`} data-lane-of={`${facts.owner} ${facts.name}`}>
      <line x1={0} x2={width} y1={0.5} y2={0.5} className="pointer-events-none stroke-rule" />
      {isOpen ? (
        <>
          <path
            d={valuePath(channel, facts.spacing, scale, toX, from - 1, to + 1, cell)}
            fill="none"
            stroke={ink}
            strokeWidth={1.8}
            className="pointer-events-none"
          />
          <line
            x1={0}
            x2={width}
            y1={VALUE + RIBBON / 2}
            y2={VALUE + RIBBON / 2}
            stroke={ink}
            opacity={0.35}
            className="pointer-events-none"
          />
          <path
            d={ribbonPath(channel, facts.spacing, toX, from - 1, to + 1, cell)}
            fill={ink}
            opacity={0.3}
            className="pointer-events-none"
          />
          {/* wider than the ribbon, so that a slow part can be taken hold of too */}
          <rect
            data-ribbon
            data-lane={lane.key}
            x={0}
            y={VALUE}
            width={width}
            height={RIBBON}
            fill="transparent"
            className="cursor-ns-resize"
            aria-label={`Speed of ${facts.name}`}
          />
        </>
      ) : (
        <line x1={0} x2={width} y1={CLOSED / 2} y2={CLOSED / 2} stroke={ink} opacity={0.5} className="pointer-events-none" />
      )}
      {isOpen &&
        inSight
          .filter(({ k }) => chosen?.has(k.frame) === true)
          .flatMap(({ k, i }) =>
            handlesOf(channel, i, scale).map((h) => (
              <g key={`${i} ${h.side}`}>
                <line x1={toX(k.frame)} y1={scale.y(k.value)} x2={toX(h.time)} y2={h.y} stroke={ink} className="pointer-events-none" />
                <circle
                  data-handle={h.side}
                  data-index={i}
                  data-lane={lane.key}
                  cx={toX(h.time)}
                  cy={h.y}
                  r={4.5}
                  fill="var(--sheet)"
                  stroke={ink}
                  strokeWidth={1.5}
                  className="cursor-move"
                />
              </g>
            )),
          )}
      {inSight.map(({ k }) => (
        <g key={k.frame} transform={`translate(${toX(k.frame)} ${yOf(k.value)})`}>
          <Pip
            kind={k.out === 'hold' ? 'hold' : k.out === 'straight' ? 'straight' : 'eased'}
            ink={ink}
            isChosen={chosen?.has(k.frame) === true}
          />
          <circle
            data-key={k.frame}
            data-lane={lane.key}
            r={9}
            fill="transparent"
            className="cursor-grab"
            tabIndex={0}
            role="button"
            aria-label={`Keyframe of ${facts.owner}, ${facts.name} at ${k.frame + facts.origin}`}
            onKeyDown={(e) => onKey(e, k.frame)}
            onFocus={() => chosen?.has(k.frame) !== true && chooseKeys(new Map([[lane.key, new Set([k.frame])]]))}
          />
        </g>
      ))}
    </g>
  );
}

/** Round for an eased key, a bar for a straight one, square for one that holds. */
function Pip({ kind, ink, isChosen }: { readonly kind: 'eased' | 'straight' | 'hold'; readonly ink: string; readonly isChosen: boolean }) {
  const look = { fill: isChosen ? 'var(--sheet)' : ink, stroke: ink, strokeWidth: 2, className: 'pointer-events-none' };
  if (kind === 'hold') return <rect x={-4} y={-4} width={8} height={8} {...look} />;
  if (kind === 'straight') return <rect x={-2.5} y={-5.5} width={5} height={11} rx={1} {...look} />;
  return <circle r={4.5} {...look} />;
}
