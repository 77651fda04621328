'use client';
import { useDrag } from '@use-gesture/react';
import { useRef } from 'react';
import { setMotion, type MoverRef } from '../../../core/film/edits/layers';
import type { Film, Join } from '../../../core/film/film';
import { moverName } from '../../../core/lanes/lanes';
import type { PlacedJoin } from '../../../core/film/timing';
import { apply, compose, cornersOf, depthAt, IDENTITY, invert, type Matrix, type Point } from '../../../core/geometry/matrix';
import { draggedPose, type Grip } from '../../../core/motion/gestures';
import { withValueAt } from '../../../core/motion/key-edits';
import { poseAt, spacingOf, type Motion } from '../../../core/motion/motion';
import { clippedBehindEye, type Pose } from '../../../core/motion/transform';
import { channelAt } from '../../../core/motion/curve';
import { carrierMap, planeMap } from '../../../core/plan/layer-place';
import { useTools } from '../../store/film-context';
import { useBench } from '../../store/bench-state';
import type { PreviewChange } from '../../store/preview';

interface MoveOverlayProps {
  readonly film: Film;
  readonly placed: PlacedJoin;
  readonly frame: number;
  readonly toStage: Matrix;
  readonly size: { readonly width: number; readonly height: number };
  readonly onPreview: (change: PreviewChange) => void;
}

/** Frames ahead whose outline is drawn dashed. */
const AHEAD = 6;
const TURN_GRIP_PX = 26;

/** The map of all that carries a thing, and its whole map with its own motion. */
function mapsOf(
  film: Film,
  join: Join,
  of: MoverRef,
  time: number,
): { readonly carried: Matrix; readonly own: Matrix; readonly motion: Motion } | null {
  if (of.kind === 'camera') return null;
  const thing = of.kind === 'layer' ? join.layers.find((l) => l.id === of.id) : join.carriers.find((c) => c.id === of.id);
  if (thing === undefined) return null;
  const carried = thing.ridesOn === undefined ? carrierMap(film, join, '', time) : carrierMap(film, join, thing.ridesOn, time);
  const layer = of.kind === 'layer' ? join.layers.find((l) => l.id === of.id)! : null;
  const own = layer === null ? carrierMap(film, join, of.id, time) : planeMap(film, join, layer, time);
  return { carried, own, motion: thing.motion };
}

/** What is selected, on the stage: its box, pivot and path with a dot a frame, all to be dragged, and where it is a few frames on. */
export function MoveOverlay({ film, placed, frame, toStage, size, onPreview }: MoveOverlayProps) {
  const { store } = useTools();
  const selected = useBench((s) => s.selected);
  const svg = useRef<SVGSVGElement>(null);
  const { join, cut } = placed;
  const time = frame - cut;
  const maps = selected === null ? null : mapsOf(film, join, selected, time);
  const started = useRef<{ readonly maps: NonNullable<typeof maps>; readonly toStage: Matrix } | null>(null);
  const bind = useDrag<PointerEvent>(
    ({ args: [grip], first, last, tap, canceled, xy: [x, y], initial: [x0, y0] }) => {
      if (selected === null || maps === null) return;
      if (first) started.current = { maps, toStage };
      const begun = started.current;
      if (begun === null || tap || canceled) return onPreview(() => undefined);
      const bounds = svg.current!.getBoundingClientRect();
      const back = invert(begun.toStage);
      const at = (px: number, py: number): Point => apply(back, { x: px - bounds.left, y: py - bounds.top });
      const pose = poseAt(begun.maps.motion, time);
      const next = draggedPose(pose, grip as Grip, at(x0, y0), at(x, y), begun.maps.carried, begun.maps.own);
      const change: PreviewChange = (d) => setMotion(d, join.id, selected, withPose(begun.maps.motion, time, next));
      if (last) store.edit(`${NAMES[grip as Grip]} ${moverName(join, selected)}`, change);
      else onPreview(change);
    },
    { filterTaps: true },
  );
  if (maps === null || selected === null) return null;
  const stage = (map: Matrix): Matrix => compose(map, toStage);
  const box = (map: Matrix): readonly Point[] => clippedBehindEye(cornersOf(film.width, film.height), map).map((p) => apply(stage(map), p));
  const corners = box(maps.own);
  const pose = poseAt(maps.motion, time);
  const pivot = apply(stage(maps.own), { x: pose.pivotX, y: pose.pivotY });
  const top = corners.length === 4 ? { x: (corners[0]!.x + corners[1]!.x) / 2, y: (corners[0]!.y + corners[1]!.y) / 2 } : pivot;
  const away = Math.hypot(top.x - pivot.x, top.y - pivot.y) || 1;
  const turnGrip = { x: top.x + ((top.x - pivot.x) / away) * TURN_GRIP_PX, y: top.y + ((top.y - pivot.y) / away) * TURN_GRIP_PX };
  const later = mapsOf(film, join, selected, time + AHEAD)?.own ?? IDENTITY;
  const path = pathOf(film, placed, selected, { x: pose.pivotX, y: pose.pivotY }, toStage);
  const line = (points: readonly Point[], close: boolean): string =>
    points.map((p, i) => `${i === 0 ? 'M' : 'L'}${p.x} ${p.y}`).join('') + (close ? 'Z' : '');
  return (
    <svg
      ref={svg}
      width={size.width}
      height={size.height}
      className="absolute inset-0"
      role="application"
      aria-label={`Motion of ${moverName(join, selected)}`}
      data-move-overlay
    >
      <path d={line(box(later), true)} className="fill-none stroke-[#fbf7ec]/80" strokeDasharray="4 4" />
      <path
        d={line(
          path.map((p) => p.at),
          false,
        )}
        className="fill-none stroke-[#23211c]"
        strokeWidth={3}
        opacity={0.6}
      />
      <path
        d={line(
          path.map((p) => p.at),
          false,
        )}
        className="fill-none stroke-[#fbf7ec]"
        strokeWidth={1.2}
      />
      {path.map((p) => (
        <circle
          key={p.frame}
          cx={p.at.x}
          cy={p.at.y}
          r={p.isKey ? 4 : 1.8}
          className="fill-[#fbf7ec] stroke-[#23211c]"
          strokeWidth={p.isKey ? 1.5 : 0.6}
        />
      ))}
      <path
        {...bind('move')}
        d={line(corners, true)}
        className="cursor-move touch-none fill-transparent stroke-[#23211c]"
        strokeWidth={3}
        data-grip="move"
      />
      <path d={line(corners, true)} className="pointer-events-none fill-none stroke-[#fbf7ec]" strokeWidth={1.3} />
      {corners.length === 4 &&
        corners.map((c, i) => (
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
      <line x1={top.x} y1={top.y} x2={turnGrip.x} y2={turnGrip.y} className="stroke-[#fbf7ec]" />
      <circle
        {...bind('turn')}
        cx={turnGrip.x}
        cy={turnGrip.y}
        r={6}
        className="cursor-alias touch-none fill-[#fbf7ec] stroke-[#23211c]"
        data-grip="turn"
      />
      <g {...bind('pivot')} className="cursor-crosshair touch-none" data-grip="pivot">
        <circle cx={pivot.x} cy={pivot.y} r={8} className="fill-transparent stroke-[#23211c]" strokeWidth={3} />
        <circle cx={pivot.x} cy={pivot.y} r={8} className="fill-transparent stroke-[#fbf7ec]" strokeWidth={1.3} />
        <path d={`M${pivot.x - 5} ${pivot.y}h10M${pivot.x} ${pivot.y - 5}v10`} className="stroke-[#fbf7ec]" />
      </g>
    </svg>
  );
}

const NAMES: Record<Grip, string> = { move: 'Moved', scale: 'Scaled', turn: 'Turned', pivot: 'Moved the pivot of' };

/** The channels that a drag changed: constants stay constant, keyed ones get a key here. */
function withPose(motion: Motion, time: number, next: Partial<Pose>): Partial<Motion> {
  const changed = Object.entries(next) as [keyof Pose, number][];
  return Object.fromEntries(
    changed
      .filter(([name, value]) => Math.abs(channelAt(motion[name], time, 0, spacingOf(name)) - value) > 1e-6)
      .map(([name, value]) => [name, withValueAt(motion[name], time, Math.round(value * 1000) / 1000)]),
  );
}

/** Where a point of the selected thing goes, frame by frame over the overlap. */
function pathOf(
  film: Film,
  { join, cut, from, to }: PlacedJoin,
  of: MoverRef,
  point: Point,
  toStage: Matrix,
): { frame: number; at: Point; isKey: boolean }[] {
  const thing =
    of.kind === 'layer' ? join.layers.find((l) => l.id === of.id) : join.carriers.find((c) => of.kind === 'carrier' && c.id === of.id);
  const keys = new Set([thing?.motion.x, thing?.motion.y].flatMap((c) => (typeof c === 'object' ? c.map((k) => k.frame) : [])));
  const path: { frame: number; at: Point; isKey: boolean }[] = [];
  for (let frame = from; frame < to; frame++) {
    const own = mapsOf(film, join, of, frame - cut)?.own;
    if (own !== undefined && depthAt(own, point) > 1e-3)
      path.push({ frame, at: apply(compose(own, toStage), point), isKey: keys.has(frame - cut) });
  }
  return path;
}
