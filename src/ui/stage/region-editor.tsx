import { useRef, useState, type PointerEvent } from 'react';
import { apply, invert, lengthScale, type Matrix, type Point } from '../../core/geometry/matrix';
import type { Corner } from '../../core/track/plane-template';
import { centreOf } from '../../core/track/track';

interface RegionEditorProps {
  /** Null while nothing is marked here: a drag makes a box. */
  readonly corners: readonly Corner[] | null;
  readonly confidence: number;
  /** The region is the patch around a point, which is what shows. */
  readonly isPoint: boolean;
  /** A box may be dragged even though a region exists elsewhere in time. */
  readonly toStage: Matrix;
  readonly size: { readonly width: number; readonly height: number };
  readonly onBegin: (corners: readonly Corner[]) => void;
  /** A click where nothing is marked. */
  readonly onPoint: (at: Corner) => void;
  readonly onPreview: (corners: readonly Corner[] | null) => void;
  readonly onPlace: (corners: readonly Corner[]) => void;
}

type Grip = { readonly kind: 'corner'; readonly index: number } | { readonly kind: 'all' | 'new' };

const LEAST_BOX_PX = 8;

/** What is followed, over the picture: drag a box or click a point to mark it, its corners or itself to correct it. */
export function RegionEditor({ corners, confidence, isPoint, toStage, size, onBegin, onPoint, onPreview, onPlace }: RegionEditorProps) {
  const svg = useRef<SVGSVGElement>(null);
  const drag = useRef<{ grip: Grip; from: Point; base: readonly Corner[] } | null>(null);
  const [box, setBox] = useState<readonly Corner[] | null>(null);
  const fromStage = invert(toStage);
  const at = (event: PointerEvent): Point => {
    const bounds = svg.current!.getBoundingClientRect();
    return apply(fromStage, { x: event.clientX - bounds.left, y: event.clientY - bounds.top });
  };
  const moved = (event: PointerEvent): readonly Corner[] => {
    const { grip, from, base } = drag.current!;
    const p = at(event);
    const [dx, dy] = [p.x - from.x, p.y - from.y];
    if (grip.kind === 'new')
      return [
        [Math.min(from.x, p.x), Math.min(from.y, p.y)],
        [Math.max(from.x, p.x), Math.min(from.y, p.y)],
        [Math.max(from.x, p.x), Math.max(from.y, p.y)],
        [Math.min(from.x, p.x), Math.max(from.y, p.y)],
      ];
    return base.map(([x, y], i) => (grip.kind === 'all' || (grip.kind === 'corner' && grip.index === i) ? [x + dx, y + dy] : [x, y]));
  };
  const onPointerDown = (event: PointerEvent): void => {
    if (event.button !== 0) return;
    const { corner, region } = (event.target as SVGElement).dataset;
    const grip: Grip | null =
      corner !== undefined
        ? { kind: 'corner', index: Number(corner) }
        : region !== undefined
          ? { kind: 'all' }
          : corners === null
            ? { kind: 'new' }
            : null;
    if (grip === null) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = { grip, from: at(event), base: corners ?? [] };
  };
  const onPointerMove = (event: PointerEvent): void => {
    if (drag.current === null) return;
    if (drag.current.grip.kind === 'new') setBox(moved(event));
    else onPreview(moved(event));
  };
  const onPointerUp = (event: PointerEvent): void => {
    if (drag.current === null) return;
    const next = moved(event);
    const { grip, from } = drag.current;
    drag.current = null;
    setBox(null);
    const p = at(event);
    if (grip.kind === 'new') {
      if (Math.abs(p.x - from.x) * lengthScale(toStage) > LEAST_BOX_PX && Math.abs(p.y - from.y) * lengthScale(toStage) > LEAST_BOX_PX)
        onBegin(next);
      else onPoint([p.x, p.y]);
    } else if (p.x === from.x && p.y === from.y) onPreview(null);
    else onPlace(next);
  };
  const onPointerCancel = (): void => {
    drag.current = null;
    setBox(null);
    onPreview(null);
  };
  const shown = box ?? corners;
  const placed = shown?.map(([x, y]) => apply(toStage, { x, y })) ?? [];
  const path = placed.map((p, i) => `${i === 0 ? 'M' : 'L'}${p.x} ${p.y}`).join('') + (placed.length > 0 ? 'Z' : '');
  const sure = confidence >= 0.6;
  return (
    <svg
      ref={svg}
      role="application"
      aria-label="Region to follow"
      data-region-editor
      width={size.width}
      height={size.height}
      className={`absolute inset-0 ${corners === null ? 'cursor-crosshair' : ''}`}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={onPointerCancel}
    >
      {isPoint && corners !== null && box === null ? (
        <PointMark at={apply(toStage, pointOf(centreOf(corners)))} sure={sure} />
      ) : (
        <>
          <path
            d={path}
            fill="transparent"
            data-region={corners === null ? undefined : ''}
            className={corners === null ? '' : 'cursor-move'}
          />
          <path d={path} fill="none" stroke="#23211c" strokeWidth="4" pointerEvents="none" />
          <path d={path} fill="none" stroke="#fffaf0" strokeWidth="1.6" strokeDasharray={sure ? undefined : '5 4'} pointerEvents="none" />
          {corners !== null &&
            placed.map((p, i) => (
              <g key={i}>
                <Cross at={p} />
                <circle cx={p.x} cy={p.y} r="10" fill="transparent" data-corner={i} className="cursor-pointer" />
              </g>
            ))}
        </>
      )}
    </svg>
  );
}

const pointOf = ([x, y]: Corner): Point => ({ x, y });

function Cross({ at }: { readonly at: Point }) {
  const d = `M${at.x - 6} ${at.y}h12M${at.x} ${at.y - 6}v12`;
  return (
    <>
      <path d={d} stroke="#23211c" strokeWidth="4" pointerEvents="none" />
      <path d={d} stroke="#fffaf0" strokeWidth="1.6" pointerEvents="none" />
    </>
  );
}

/** A followed point: a cross in a ring that can be dragged; the ring is broken where the point is in doubt. */
function PointMark({ at, sure }: { readonly at: Point; readonly sure: boolean }) {
  return (
    <g data-point>
      <Cross at={at} />
      <circle cx={at.x} cy={at.y} r="11" fill="none" stroke="#23211c" strokeWidth="4" pointerEvents="none" />
      <circle
        cx={at.x}
        cy={at.y}
        r="11"
        fill="transparent"
        stroke="#fffaf0"
        strokeWidth="1.6"
        strokeDasharray={sure ? undefined : '5 4'}
        data-region=""
        className="cursor-move"
      />
    </g>
  );
}
