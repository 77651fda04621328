'use client';
import { useState, type PointerEvent } from 'react';
import { apply, invert, type Matrix, type Point } from '../../core/geometry/matrix';

interface WayDrawerProps {
  readonly toStage: Matrix;
  readonly size: { readonly width: number; readonly height: number };
  /** Takes how far the drag goes, film pixels, while it goes and when it ends. */
  readonly onDraw: (x: number, y: number, final: boolean) => void;
}

/** Takes a drag over the stage as the way of a camera, and shows it as an arrow. */
export function WayDrawer({ toStage, size, onDraw }: WayDrawerProps) {
  const [way, setWay] = useState<{ readonly from: Point; readonly to: Point } | null>(null);
  const placeOf = (event: PointerEvent<SVGSVGElement>): Point => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  const told = (from: Point, to: Point, final: boolean): void => {
    const back = invert(toStage);
    const [a, b] = [apply(back, from), apply(back, to)];
    onDraw(Math.round(b.x - a.x), Math.round(b.y - a.y), final);
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
        const at = placeOf(event);
        setWay({ from: at, to: at });
      }}
      onPointerMove={(event) => {
        if (way === null) return;
        const to = placeOf(event);
        setWay({ ...way, to });
        told(way.from, to, false);
      }}
      onPointerUp={(event) => {
        if (way === null) return;
        told(way.from, placeOf(event), true);
        setWay(null);
      }}
    >
      {way !== null && (
        <g strokeLinecap="round">
          {(['white', 'var(--ink)'] as const).map((ink, i) => (
            <g key={ink} stroke={ink} strokeWidth={i === 0 ? 5 : 2} fill="none">
              <line x1={way.from.x} y1={way.from.y} x2={way.to.x} y2={way.to.y} />
              <circle cx={way.from.x} cy={way.from.y} r="4" />
              <path d={headOf(way.from, way.to)} />
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
