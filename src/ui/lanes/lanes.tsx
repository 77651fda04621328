'use client';
import { useGesture } from '@use-gesture/react';
import { useRef, useState } from 'react';
import type { FilmMark } from '../../core/film/edits/marks';
import { keysOf } from '../../core/motion/key-edits';
import { useTools } from '../store/film-context';
import { chooseKeys, useBench, type KeyChoice } from '../store/bench-state';
import type { PreviewChange } from '../store/preview';
import { frameBy } from '../weave/weave-marks';
import { useSizes } from '../weave/weave-sizes';
import { CLOSED, handleAt, handlesOf, RIBBON, ribbonPath, VALUE, valuePath, valueScale } from './lane-geometry';
import { deleted, movedBy, raisedBy, stretchedBy, withFactor, withHandle, withKey } from './lane-edits';
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

/** What a drag has hold of. */
type Hold =
  | { readonly kind: 'key'; readonly lane: Lane; readonly frame: number; readonly keys: KeyChoice }
  | { readonly kind: 'handle'; readonly lane: Lane; readonly index: number; readonly side: 'into' | 'out' }
  | { readonly kind: 'ribbon'; readonly lane: Lane; readonly time: number }
  | { readonly kind: 'stretch'; readonly end: 'from' | 'to'; readonly keys: KeyChoice }
  | { readonly kind: 'box'; readonly x: number; readonly y: number; readonly base: KeyChoice };

const INK: Record<'leaving' | 'entering' | 'seam', string> = {
  leaving: 'var(--leaving)',
  entering: 'var(--entering)',
  seam: 'var(--seam)',
};

/** Pixels of a sideways drag on a ribbon that double or halve its speed. */
const DOUBLE_PX = 40;
/** A drag that goes further down than this, and further than sideways, changes the value. */
const VALUE_PX = 4;

/** The film frames of the first and the last chosen key; null with fewer than two. */
function reachOf(lanes: readonly Lane[], keys: KeyChoice): readonly [number, number] | null {
  const frames = lanes.flatMap((l) => [...(keys.get(l.key) ?? [])].map((f) => f + l.facts.origin));
  const [first, last] = [Math.min(...frames), Math.max(...frames)];
  return frames.length < 2 || first === last ? null : [first, last];
}

function chosenWith(keys: KeyChoice, laneKey: string, frame: number, adds: boolean): KeyChoice {
  const next = new Map(adds ? [...keys].map(([k, v]) => [k, new Set(v)] as const) : []);
  const own = new Set(next.get(laneKey) ?? []);
  if (adds && own.has(frame)) own.delete(frame);
  else own.add(frame);
  next.set(laneKey, own);
  return next;
}

/** The channels under the weave, on its very cells: values, handles and speed, all to be dragged. */
export function Lanes({ joinId, lanes, marks, frame, x, from, to, onFrame, onPreview }: LanesProps) {
  const { store } = useTools();
  const { cell } = useSizes();
  const keys = useBench((s) => s.keys);
  const svg = useRef<SVGSVGElement>(null);
  const hold = useRef<Hold | null>(null);
  const [box, setBox] = useState<{ x: number; y: number; width: number; height: number } | null>(null);
  const height = heightOf(lanes);
  const left = x(from);
  const width = Math.max(1, x(to) - left);
  const laneAt = (y: number): Lane | undefined => lanes.find((l) => y >= l.top && y < l.top + l.height);
  const at = (clientX: number, clientY: number): { x: number; y: number } => {
    const bounds = svg.current!.getBoundingClientRect();
    return { x: clientX - bounds.left + left, y: clientY - bounds.top };
  };
  /** The time on a lane's own clock under a place; keys lie in the middle of their cells. */
  const timeAt = (lane: Lane, px: number): number => (px - x(0)) / cell - 0.5 - lane.facts.origin;
  const toX =
    (lane: Lane) =>
    (time: number): number =>
      x(0) + (time + lane.facts.origin + 0.5) * cell - left;

  const take = (target: EventTarget | null, p: { x: number; y: number }, adds: boolean): Hold | null => {
    const { dataset } = target as SVGElement;
    if (dataset.stretch !== undefined) return { kind: 'stretch', end: dataset.stretch as 'from' | 'to', keys };
    const lane = lanes.find((l) => l.key === dataset.lane) ?? laneAt(p.y);
    if (lane === undefined) return null;
    if (dataset.key !== undefined) {
      const at = Number(dataset.key);
      const isChosen = keys.get(lane.key)?.has(at) === true;
      const next = isChosen && !adds ? keys : chosenWith(keys, lane.key, at, adds);
      if (next !== keys) chooseKeys(next);
      return { kind: 'key', lane, frame: at, keys: next };
    }
    if (dataset.handle !== undefined) return { kind: 'handle', lane, index: Number(dataset.index), side: dataset.handle as 'into' | 'out' };
    if (dataset.ribbon !== undefined) return { kind: 'ribbon', lane, time: timeAt(lane, p.x) };
    return { kind: 'box', x: p.x, y: p.y, base: adds ? keys : new Map() };
  };

  /** Whole frames by which a drag moves a key. */
  const framesBy = (held: Extract<Hold, { kind: 'key' }>, dx: number): number => {
    const stands = held.frame + held.lane.facts.origin;
    return frameBy(stands + dx / cell, marks, cell) - stands;
  };

  /** What a drag has made of what it holds: a change and what it is called. */
  const changeOf = (
    held: Hold,
    dx: number,
    dy: number,
    p: { x: number; y: number },
    copies: boolean,
  ): readonly [string, PreviewChange] | null => {
    switch (held.kind) {
      case 'key': {
        const by = framesBy(held, dx);
        const rises = held.lane.isOpen && Math.abs(dy) > VALUE_PX && Math.abs(dy) > Math.abs(dx) / 2;
        const scale = valueScale(held.lane.channel, held.lane.facts.spacing);
        const up = scale.value(0) - scale.value(dy);
        const move = movedBy(joinId, lanes, held.keys, by, copies);
        const raise = raisedBy(joinId, held.lane, held.keys, -up);
        if (!rises && by === 0) return null;
        return [
          rises ? `Raised a keyframe of ${held.lane.facts.name}` : copies ? 'Copied keyframes' : 'Moved keyframes',
          (d) => {
            if (rises) raise(d);
            if (by !== 0) move(d);
          },
        ];
      }
      case 'handle': {
        const { lane, index, side } = held;
        const scale = valueScale(lane.channel, lane.facts.spacing);
        const handle = handleAt(lane.channel, index, side, timeAt(lane, p.x), p.y - lane.top, scale);
        const key = keysOf(lane.channel)[index];
        return handle === null || key === undefined
          ? null
          : [`Bent ${lane.facts.name} of ${lane.facts.owner}`, withHandle(joinId, lane, key.frame, side, handle)];
      }
      case 'ribbon':
        return [
          `Speed of ${held.lane.facts.name} of ${held.lane.facts.owner}`,
          withFactor(joinId, held.lane, held.time, 2 ** (-dy / DOUBLE_PX)),
        ];
      case 'stretch': {
        const reach = reachOf(lanes, held.keys);
        if (reach === null) return null;
        const [first, last] = reach;
        const by = dx / cell;
        const factor = held.end === 'to' ? (last - first + by) / (last - first) : (last - first - by) / (last - first);
        return ['Stretched keyframes', stretchedBy(joinId, lanes, held.keys, held.end === 'to' ? first : last, Math.max(0.05, factor))];
      }
      case 'box':
        return null;
    }
  };

  const within = (held: Extract<Hold, { kind: 'box' }>, p: { x: number; y: number }): KeyChoice => {
    const [x0, x1] = [Math.min(held.x, p.x), Math.max(held.x, p.x)];
    const [y0, y1] = [Math.min(held.y, p.y), Math.max(held.y, p.y)];
    const next = new Map([...held.base].map(([k, v]) => [k, new Set(v)]));
    for (const lane of lanes) {
      if (lane.top + lane.height < y0 || lane.top > y1) continue;
      const [t0, t1] = [timeAt(lane, x0), timeAt(lane, x1)];
      const found = keysOf(lane.channel).filter((k) => k.frame >= t0 && k.frame <= t1);
      if (found.length > 0) next.set(lane.key, new Set([...(next.get(lane.key) ?? []), ...found.map((k) => k.frame)]));
    }
    return next;
  };

  const bind = useGesture(
    {
      onDragStart: ({ event, xy: [cx, cy], shiftKey }) => {
        hold.current = take(event.target, at(cx, cy), shiftKey);
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
          if (last) chooseKeys(tap ? new Map() : within(held, p));
          if (tap) onFrame(Math.floor(p.x / cell + (0 - x(0)) / cell));
          return;
        }
        if (tap) {
          if (held.kind === 'key') onFrame(held.frame + held.lane.facts.origin);
          return;
        }
        const made = changeOf(held, dx, dy, p, altKey);
        if (made === null) {
          if (!last) onPreview(() => undefined);
          return;
        }
        const [name, change] = made;
        if (!last) return onPreview(change);
        store.edit(name, change);
        // what was chosen goes along
        if (held.kind === 'key') {
          const by = framesBy(held, dx);
          chooseKeys(new Map([...held.keys].map(([k, frames]) => [k, new Set([...frames].map((f) => f + by))])));
        } else if (held.kind === 'stretch') chooseKeys(new Map());
      },
    },
    { drag: { filterTaps: true, pointer: { keys: false } } },
  );

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
        store.edit(`Keyframe of ${lane.facts.name}`, withKey(joinId, lane, Math.round(timeAt(lane, p.x))));
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
      <line
        x1={x(frame) + cell / 2 - left}
        x2={x(frame) + cell / 2 - left}
        y1={0}
        y2={height}
        className="pointer-events-none stroke-ink"
        strokeWidth={1.5}
      />
      {box !== null && <rect {...box} className="fill-ink/10 stroke-ink" strokeDasharray="3 3" />}
    </svg>
  );
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
