'use client';
import { useRef, useState, type PointerEvent } from 'react';
import { apply, invert, type Matrix, type Point } from '../../core/geometry/matrix';

interface WayDrawerProps {
  readonly toStage: Matrix;
  readonly size: { readonly width: number; readonly height: number };
  /** Takes the way of the drag from its start, film pixels, while it goes and when it ends. */
  readonly onDraw: (way: readonly Point[], final: boolean) => void;
}

/** Takes a drag over the stage as the way of a camera, all of it, and shows it as a line with an arrow's head. */
export function WayDrawer({ toStage, size, onDraw }: WayDrawerProps) {
  const [way, setWay] = useState<readonly Point[] | null>(null);
  // all of the drag, also what came before the page was drawn again
  const points = useRef<readonly Point[] | null>(null);
  const placeOf = (event: PointerEvent<SVGSVGElement>): Point => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const told = (points: readonly Point[], final: boolean): void => {
    const back = invert(toStage);
    const start = apply(back, points[0]!);
    onDraw(
      points.map((p) => {
        const { x, y } = apply(back, p);
        return { x: Math.round(x - start.x), y: Math.round(y - start.y) };
      }),
      final,
    );
  };
  return (
    <svg
      width={size.width}
      height={size.height}
      className="absolute inset-0 cursor-crosshair touch-none"
      data-way-drawer
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        points.current = [placeOf(event)];
        setWay(points.current);
      }}
      onPointerMove={(event) => {
        if (points.current === null) return;
        points.current = [...points.current, placeOf(event)];
        setWay(points.current);
        told(points.current, false);
      }}
      onPointerUp={(event) => {
        if (points.current === null) return;
        told([...points.current, placeOf(event)], true);
        points.current = null;
        setWay(null);
      }}
      onPointerCancel={() => {
        points.current = null;
        setWay(null);
      }}
    >
      {way !== null && (
        <g strokeLinecap="round">
          {(['white', 'var(--ink)'] as const).map((ink, i) => (
            <g key={ink} stroke={ink} strokeWidth={i === 0 ? 5 : 2} fill="none">
              <path d={`M ${way.map((p) => `${p.x} ${p.y}`).join(' L ')}`} />
              <circle cx={way[0]!.x} cy={way[0]!.y} r="4" />
              {way.length > 4 && <path d={headOf(way.at(-5)!, way.at(-1)!)} />}
            </g>
          ))}
        </g>
      )}
    </svg>
  );
}

/** The two strokes of an arrow's head. */
function headOf(from: Point, to: Point): string {
  const angle = Math.atan2(to.y - from.y, to.x - from.x);
  const end = (turn: number): string => `${to.x - 12 * Math.cos(angle + turn)} ${to.y - 12 * Math.sin(angle + turn)}`;
  return `M ${end(0.45)} L ${to.x} ${to.y} L ${end(-0.45)}`;
}
