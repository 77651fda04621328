'use client';
import { useRef, useState, type PointerEvent } from 'react';
import { apply, invert, lengthScale, type Matrix, type Point } from '../../core/geometry/matrix';
import { corner, type OutlinePoint } from '../../core/matte/outline/outline';
import { nearestOnOutline, toggleCurve } from './outline-geometry';

export interface OutlineDragProps {
  readonly points: readonly OutlinePoint[];
  readonly closed: boolean;
  /** Medium pixels from the centre to pixels of the stage. */
  readonly toStage: Matrix;
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

/** What the pointer does to an outline: points, handles and the whole are dragged, points are chosen by a box, or added while it is open. */
export function useOutlineDrag(props: OutlineDragProps) {
  const { points, closed, toStage, selection, onSelect } = props;
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<Drag | null>(null);
  const [pending, setPending] = useState<OutlinePoint | null>(null);
  const [box, setBox] = useState<{ from: Point; to: Point } | null>(null);
  const [cursor, setCursor] = useState<Point | null>(null);
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

  return {
    svg,
    pending,
    box,
    cursor,
    handlers: { onPointerDown, onPointerMove, onPointerUp, onPointerCancel, onPointerLeave: () => setCursor(null), onDoubleClick },
  };
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
