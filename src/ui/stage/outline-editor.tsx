'use client';
import { useId } from 'react';
import { apply, type Point } from '../../core/geometry/matrix';
import { transformPoint, type OutlinePoint } from '../../core/matte/outline/outline';
import { outlinePath } from './outline-geometry';
import { useOutlineDrag, type OutlineDragProps } from './use-outline-drag';

export interface Ghost {
  readonly frame: number;
  readonly points: readonly OutlinePoint[];
}

interface OutlineEditorProps extends OutlineDragProps {
  readonly ghosts: readonly Ghost[];
  /** Which side of the outline is taken out; it gets the hatch. */
  readonly hides: 'inside' | 'outside';
  /** Share of the hatch's full strength, 0..1. */
  readonly hatch: number;
  readonly size: { readonly width: number; readonly height: number };
}

/** Outline points and handles over the picture; everything it does goes out as values. */
export function OutlineEditor(props: OutlineEditorProps) {
  const { points, closed, ghosts, hides, hatch, toStage, size, selection } = props;
  const { svg, pending, box, cursor, handlers } = useOutlineDrag(props);
  const patternId = useId();
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
      {...handlers}
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
        <PointMark key={i} point={p} index={i} isSelected={selection.has(i)} />
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

/** A point of an outline with its handles, to be taken hold of. */
function PointMark({
  point: p,
  index,
  isSelected,
}: {
  readonly point: OutlinePoint;
  readonly index: number;
  readonly isSelected: boolean;
}) {
  return (
    <g>
      {isSelected &&
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
                data-index={index}
                className="cursor-pointer"
              />
            </g>
          );
        })}
      <circle
        cx={p.x}
        cy={p.y}
        r={isSelected ? 5.5 : 4.5}
        fill={isSelected ? '#23211c' : '#fffaf0'}
        stroke={isSelected ? '#fffaf0' : '#23211c'}
        strokeWidth="1.6"
        pointerEvents="none"
      />
      <circle cx={p.x} cy={p.y} r="9" fill="transparent" data-grip="point" data-index={index} className="cursor-pointer" />
    </g>
  );
}
