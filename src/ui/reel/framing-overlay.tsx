'use client';
import { useDrag } from '@use-gesture/react';
import { useRef } from 'react';
import { setFraming } from '../../core/film/edits/shots';
import type { Film, Medium, OwnFraming, Shot } from '../../core/film/film';
import { apply, compose, cornersOf, IDENTITY, invert, type Matrix, type Point } from '../../core/geometry/matrix';
import { draggedPose, type Grip } from '../../core/motion/gestures';
import { poseAt, STILL } from '../../core/motion/motion';
import { shotFraming } from '../../core/plan/shot-framing';
import { useTools } from '../store/film-context';
import type { PreviewChange } from '../store/preview';

interface FramingOverlayProps {
  readonly film: Film;
  readonly shot: Shot;
  readonly medium: Medium;
  readonly own: OwnFraming;
  readonly toStage: Matrix;
  readonly size: { readonly width: number; readonly height: number };
  readonly onPreview: (change: PreviewChange) => void;
}

const NAMES: Partial<Record<Grip, string>> = { move: 'Placed', scale: 'Sized', turn: 'Turned' };

/** The box of a shot that is placed by hand, to be dragged, sized and turned on the stage. */
export function FramingOverlay({ film, shot, medium, own, toStage, size, onPreview }: FramingOverlayProps) {
  const { store } = useTools();
  const svg = useRef<SVGSVGElement>(null);
  const begun = useRef<OwnFraming | null>(null);
  const bind = useDrag<PointerEvent>(
    ({ args: [grip], first, last, tap, canceled, xy: [x, y], initial: [x0, y0] }) => {
      if (first) begun.current = own;
      const from = begun.current;
      if (from === null || tap || canceled) return onPreview(() => undefined);
      const bounds = svg.current!.getBoundingClientRect();
      const back = invert(toStage);
      const at = (px: number, py: number): Point => apply(back, { x: px - bounds.left, y: py - bounds.top });
      const pose = { ...poseAt(STILL, 0), x: from.x, y: from.y, scale: from.scale, turn: from.turn };
      const next = draggedPose(pose, grip as Grip, at(x0, y0), at(x, y), IDENTITY, IDENTITY);
      const round = (v: number, step: number): number => Math.round(v / step) * step;
      const framing: OwnFraming = {
        ...from,
        x: round(next.x ?? from.x, 1),
        y: round(next.y ?? from.y, 1),
        scale: Math.max(0.01, round(next.scale ?? from.scale, 0.001)),
        turn: round(next.turn ?? from.turn, 0.1),
      };
      const change: PreviewChange = (d) => setFraming(d, shot.id, framing);
      if (last) store.edit(`${NAMES[grip as Grip]} ${shot.name} in the frame`, change);
      else onPreview(change);
    },
    { filterTaps: true },
  );
  const map = compose(shotFraming(film, medium, shot, Math.floor(shot.inFrame)), toStage);
  const corners = cornersOf(medium.width, medium.height).map((p) => apply(map, p));
  const middle = apply(map, { x: 0, y: 0 });
  const top = { x: (corners[0]!.x + corners[1]!.x) / 2, y: (corners[0]!.y + corners[1]!.y) / 2 };
  const away = Math.hypot(top.x - middle.x, top.y - middle.y) || 1;
  const turn = { x: top.x + ((top.x - middle.x) / away) * 24, y: top.y + ((top.y - middle.y) / away) * 24 };
  const path = `M${corners.map((p) => `${p.x} ${p.y}`).join('L')}Z`;
  return (
    <svg
      ref={svg}
      width={size.width}
      height={size.height}
      className="absolute inset-0"
      role="application"
      aria-label={`${shot.name} in the frame`}
      data-framing-overlay
    >
      <path
        {...bind('move')}
        d={path}
        className="cursor-move touch-none fill-transparent stroke-[#23211c]"
        strokeWidth={3}
        data-grip="move"
      />
      <path d={path} className="pointer-events-none fill-none stroke-[#fbf7ec]" strokeWidth={1.3} />
      {corners.map((c, i) => (
        <rect
          key={i}
          {...bind('scale')}
          x={c.x - 5}
          y={c.y - 5}
          width={10}
          height={10}
          className="cursor-nwse-resize touch-none fill-[#fbf7ec] stroke-[#23211c]"
          data-grip="scale"
        />
      ))}
      <circle
        {...bind('turn')}
        cx={turn.x}
        cy={turn.y}
        r={6}
        className="cursor-alias touch-none fill-[#fbf7ec] stroke-[#23211c]"
        data-grip="turn"
      />
    </svg>
  );
}
