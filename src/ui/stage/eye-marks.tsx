'use client';
import type { PointerEvent } from 'react';
import { apply, invert, type Matrix } from '../../core/geometry/matrix';

interface EyeMarksProps {
  /** Film pixels from the centre. */
  readonly points: readonly { readonly id: string; readonly x: number; readonly y: number; readonly side: 'leaving' | 'entering' }[];
  readonly toStage: Matrix;
  readonly size: { readonly width: number; readonly height: number };
  /** Takes a place in the frame, film pixels from the centre; null while no point is being marked. */
  readonly onMark: ((x: number, y: number) => void) | null;
}

/** Lines through the places where the eye is, over the whole stage; a click marks one. */
export function EyeMarks({ points, toStage, size, onMark }: EyeMarksProps) {
  const mark = (event: PointerEvent<SVGSVGElement>): void => {
    if (event.button !== 0 || onMark === null) return;
    const box = event.currentTarget.getBoundingClientRect();
    const { x, y } = apply(invert(toStage), { x: event.clientX - box.left, y: event.clientY - box.top });
    onMark(x, y);
  };
  return (
    <svg
      width={size.width}
      height={size.height}
      className={`absolute inset-0 ${onMark === null ? 'pointer-events-none' : 'cursor-crosshair'}`}
      data-eye-marks={onMark === null ? 'shown' : 'marking'}
      onPointerDown={mark}
    >
      {points.map(({ id, x, y, side }) => {
        const at = apply(toStage, { x, y });
        const ink = side === 'leaving' ? 'var(--leaving)' : 'var(--entering)';
        return (
          <g key={id} stroke={ink} data-eye={side}>
            <line x1={0} x2={size.width} y1={at.y} y2={at.y} strokeWidth="1" strokeDasharray="3 5" opacity="0.8" />
            <line x1={at.x} x2={at.x} y1={0} y2={size.height} strokeWidth="1" strokeDasharray="3 5" opacity="0.8" />
            <circle cx={at.x} cy={at.y} r="7" fill="none" stroke="white" strokeWidth="4" opacity="0.5" />
            <circle cx={at.x} cy={at.y} r="7" fill="none" strokeWidth="2" />
          </g>
        );
      })}
    </svg>
  );
}
