'use client';
import { useId, useRef, useState, type PointerEvent } from 'react';
import { apply, invert, lengthScale, type Matrix, type Point } from '../../core/geometry/matrix';
import { corner, transformPoint, type OutlinePoint } from '../../core/matte/outline/outline';
import { nearestOnOutline, outlinePath, toggleCurve } from './outline-geometry';

export interface Ghost {
  readonly frame: number;
  readonly points: readonly OutlinePoint[];
}

interface OutlineEditorProps {
  readonly points: readonly OutlinePoint[];
  readonly closed: boolean;
  readonly ghosts: readonly Ghost[];
  /** Which side of the outline is taken out; it gets the hatch. */
  readonly hides: 'inside' | 'outside';
  /** Share of the hatch's full strength, 0..1. */
  readonly hatch: number;
  /** Medium pixels from the centre to pixels of the stage. */
  readonly toStage: Matrix;
  readonly size: { readonly width: number; readonly height: number };
  readonly selection: ReadonlySet<number>;
  readonly onSelect: (selection: ReadonlySet<number>) => void;
  /** While dragging; null when the drag was given up. */
  readonly onPreview: (points: readonly OutlinePoint[] | null) => void;
  readonly onCommit: (name: string, points: readonly OutlinePoint[]) => void;
  readonly onAppend: (point: OutlinePoint) => void;
  readonly onClose: () => void;
  readonly onInsert: (side: number, t: number) => void;
}

type Grip = { readonly kind: 'point' | 'in' | 'out'; readonly index: number } | { readonly kind: 'shape' | 'new' | 'box' };

interface Drag {
  readonly grip: Grip;
  readonly from: Point;
  readonly base: readonly OutlinePoint[];
  readonly selection: ReadonlySet<number>;
  moved: boolean;
}

const DRAG_THRESHOLD_PX = 2;

/** A point whose handles a drag has drawn out, to both sides alike. */
const handled = ({ x, y }: Point, dx: number, dy: number): OutlinePoint => ({ x, y, inX: -dx, inY: -dy, outX: dx, outY: dy });

/** Outline points and handles over the picture; everything it does goes out as values. */
export function OutlineEditor(props: OutlineEditorProps) {
  const { points, closed, ghosts, hides, hatch, toStage, size, selection, onSelect } = props;
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<Drag | null>(null);
  const [pending, setPending] = useState<OutlinePoint | null>(null);
  const [box, setBox] = useState<{ from: Point; to: Point } | null>(null);
  const [cursor, setCursor] = useState<Point | null>(null);
  const patternId = useId();
  const fromStage = invert(toStage);

  const stagePoint = (event: { clientX: number; clientY: number }): Point => {
    const bounds = svg.current!.getBoundingClientRect();
    return { x: event.clientX - bounds.left, y: event.clientY - bounds.top };
  };
  const mediumPoint = (event: { clientX: number; clientY: number }): Point => apply(fromStage, stagePoint(event));

  const gripOf = (target: Element): Grip => {
    const { grip, index } = (target as SVGElement).dataset;
    if (grip === 'point' || grip === 'in' || grip === 'out') return { kind: grip, index: Number(index) };
    return { kind: !closed ? 'new' : grip === 'shape' ? 'shape' : 'box' };
  };

  const onPointerDown = (event: PointerEvent): void => {
    if (event.button !== 0) return;
    const grip = gripOf(event.target as Element);
    if (!closed && grip.kind === 'point' && grip.index === 0 && points.length >= 3) {
      props.onClose();
      return;
    }
    event.currentTarget.setPointerCapture(event.pointerId);
    const from = mediumPoint(event);
    let chosen = selection;
    if (grip.kind === 'point') {
      if (event.shiftKey)
        chosen = new Set(selection.has(grip.index) ? [...selection].filter((i) => i !== grip.index) : [...selection, grip.index]);
      else if (!selection.has(grip.index)) chosen = new Set([grip.index]);
      onSelect(chosen);
    }
    if (grip.kind === 'new') setPending(corner(from.x, from.y));
    drag.current = { grip, from, base: points, selection: chosen, moved: false };
  };

  const onPointerMove = (event: PointerEvent): void => {
    const at = mediumPoint(event);
    if (!closed) setCursor(at);
    const current = drag.current;
    if (current === null) return;
    const dx = at.x - current.from.x;
    const dy = at.y - current.from.y;
    if (!current.moved && Math.hypot(dx, dy) * lengthScale(toStage) < DRAG_THRESHOLD_PX) return;
    current.moved = true;
    if (current.grip.kind === 'new') setPending(handled(current.from, dx, dy));
    else if (current.grip.kind === 'box') setBox({ from: current.from, to: at });
    else props.onPreview(movedPoints(current, dx, dy, event.altKey));
  };

  const onPointerUp = (event: PointerEvent): void => {
    const current = drag.current;
    drag.current = null;
    if (current === null) return;
    const at = mediumPoint(event);
    const dx = at.x - current.from.x;
    const dy = at.y - current.from.y;
    const { grip, moved } = current;
    if (grip.kind === 'new') {
      props.onAppend(moved ? handled(current.from, dx, dy) : corner(current.from.x, current.from.y));
      setPending(null);
    } else if (grip.kind === 'box') {
      setBox(null);
      onSelect(moved ? pointsInBox(points, current.from, at) : new Set());
    } else if (moved) {
      const names = {
        point: current.selection.size > 1 ? `Moved ${current.selection.size} outline points` : 'Moved an outline point',
        in: 'Bent the outline',
        out: 'Bent the outline',
        shape: 'Moved the outline',
      };
      props.onCommit(names[grip.kind], movedPoints(current, dx, dy, event.altKey));
    } else if (grip.kind === 'shape') onSelect(new Set());
  };

  const onPointerCancel = (): void => {
    drag.current = null;
    setPending(null);
    setBox(null);
    props.onPreview(null);
  };

  const onDoubleClick = (event: React.MouseEvent): void => {
    if (!closed) return;
    const { grip, index } = (event.target as SVGElement).dataset;
    if (grip === 'point') props.onCommit('Changed between corner and curve', toggleCurve(points, Number(index)));
    else if (grip === 'side') {
      const { side, t } = nearestOnOutline(points, mediumPoint(event));
      props.onInsert(side, t);
    }
  };

  const path = outlinePath(points, toStage, closed);
  const placed = points.map((p) => transformPoint(p, toStage));
  const drawn = pending !== null ? transformPoint(pending, toStage) : null;
  const last = placed.at(-1);
  const hovering = cursor !== null && !closed && pending === null ? apply(toStage, cursor) : null;
  return (
    <svg
      ref={svg}
      width={size.width}
      height={size.height}
      className={`absolute inset-0 touch-none ${closed ? '' : 'cursor-crosshair'}`}
      role="application"
      aria-label={
        closed
          ? 'Outline: drag points, double-click a side to add one'
          : 'Outline being drawn: click to add points, click the first to close'
      }
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={onPointerCancel}
      onPointerLeave={() => setCursor(null)}
      onDoubleClick={onDoubleClick}
    >
      <defs>
        <pattern id={patternId} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
          <rect width="7" height="7" fill="#1c1b18" opacity="0.28" />
          <line x1="0" y1="0" x2="7" y2="0" stroke="#f3ead2" strokeWidth="1.6" />
        </pattern>
      </defs>
      {closed && (
        <path
          d={hides === 'inside' ? path : `M-1e5 -1e5H1e5V1e5H-1e5Z${path}`}
          fillRule="evenodd"
          fill={`url(#${patternId})`}
          opacity={0.75 * hatch}
          data-grip={hides === 'inside' ? 'shape' : undefined}
          className={hides === 'inside' ? 'cursor-move' : ''}
        />
      )}
      {ghosts.map((ghost, i) => (
        <path
          key={ghost.frame}
          d={outlinePath(ghost.points, toStage, closed)}
          fill="none"
          stroke="#f3ead2"
          strokeWidth="1.2"
          strokeDasharray={i === 0 ? '1 4' : '7 4'}
          opacity="0.75"
          pointerEvents="none"
        />
      ))}
      <path d={path} fill="none" stroke="#1c1b18" strokeWidth="4" strokeLinejoin="round" pointerEvents="none" />
      <path d={path} fill="none" stroke="#fffaf0" strokeWidth="1.6" strokeLinejoin="round" pointerEvents="none" />
      {closed && <path d={path} fill="none" stroke="transparent" strokeWidth="11" pointerEvents="stroke" data-grip="side" />}
      {drawn !== null && (
        <line x1={drawn.x + drawn.inX} y1={drawn.y + drawn.inY} x2={drawn.x + drawn.outX} y2={drawn.y + drawn.outY} stroke="#fffaf0" />
      )}
      {hovering !== null && last !== undefined && (
        <line x1={last.x} y1={last.y} x2={hovering.x} y2={hovering.y} stroke="#fffaf0" strokeDasharray="3 3" pointerEvents="none" />
      )}
      {placed.map((p, i) => (
        <g key={i}>
          {selection.has(i) &&
            (['in', 'out'] as const).map((side) => {
              const x = side === 'in' ? p.inX : p.outX;
              const y = side === 'in' ? p.inY : p.outY;
              if (x === 0 && y === 0) return null;
              return (
                <g key={side}>
                  <line x1={p.x} y1={p.y} x2={p.x + x} y2={p.y + y} stroke="#fffaf0" strokeWidth="1" pointerEvents="none" />
                  <circle
                    cx={p.x + x}
                    cy={p.y + y}
                    r="4"
                    fill="#23211c"
                    stroke="#fffaf0"
                    strokeWidth="1.4"
                    data-grip={side}
                    data-index={i}
                    className="cursor-pointer"
                  />
                </g>
              );
            })}
          <circle
            cx={p.x}
            cy={p.y}
            r={selection.has(i) ? 5.5 : 4.5}
            fill={selection.has(i) ? '#23211c' : '#fffaf0'}
            stroke={selection.has(i) ? '#fffaf0' : '#23211c'}
            strokeWidth="1.6"
            pointerEvents="none"
          />
          <circle cx={p.x} cy={p.y} r="9" fill="transparent" data-grip="point" data-index={i} className="cursor-pointer" />
        </g>
      ))}
      {drawn !== null && <circle cx={drawn.x} cy={drawn.y} r="4.5" fill="#fffaf0" stroke="#23211c" />}
      {box !== null && <BoxLines from={apply(toStage, box.from)} to={apply(toStage, box.to)} />}
    </svg>
  );
}

function BoxLines({ from, to }: { readonly from: Point; readonly to: Point }) {
  return (
    <rect
      x={Math.min(from.x, to.x)}
      y={Math.min(from.y, to.y)}
      width={Math.abs(to.x - from.x)}
      height={Math.abs(to.y - from.y)}
      fill="#fffaf0"
      fillOpacity="0.1"
      stroke="#fffaf0"
      strokeDasharray="3 3"
    />
  );
}

function pointsInBox(points: readonly OutlinePoint[], a: Point, b: Point): ReadonlySet<number> {
  const inside = (v: number, p: number, q: number): boolean => v >= Math.min(p, q) && v <= Math.max(p, q);
  return new Set(points.flatMap((p, i) => (inside(p.x, a.x, b.x) && inside(p.y, a.y, b.y) ? [i] : [])));
}

/** The points after a drag by (dx, dy). A handle takes its twin along unless `alone`. */
function movedPoints({ grip, base, selection }: Drag, dx: number, dy: number, alone: boolean): OutlinePoint[] {
  switch (grip.kind) {
    case 'shape':
      return base.map((p) => ({ ...p, x: p.x + dx, y: p.y + dy }));
    case 'point':
      return base.map((p, i) => (selection.has(i) ? { ...p, x: p.x + dx, y: p.y + dy } : p));
    case 'in':
    case 'out': {
      const p = base[grip.index]!;
      const x = (grip.kind === 'in' ? p.inX : p.outX) + dx;
      const y = (grip.kind === 'in' ? p.inY : p.outY) + dy;
      const twin =
        grip.kind === 'in'
          ? { outX: alone ? p.outX : -x, outY: alone ? p.outY : -y }
          : { inX: alone ? p.inX : -x, inY: alone ? p.inY : -y };
      const own = grip.kind === 'in' ? { inX: x, inY: y } : { outX: x, outY: y };
      return base.with(grip.index, { ...p, ...own, ...twin });
    }
    default:
      return [...base];
  }
}
