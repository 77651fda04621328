import type { Carrier } from '../../film/composition';
import { channelAt, type Channel } from '../../motion/curve';
import { easedKeys } from '../../motion/eases';
import { fittedKeys } from '../../motion/fitted-keys';
import { STILL } from '../../motion/motion';
import { apply, type Point } from '../../geometry/matrix';
import type { Made, Measured } from '../kind';
import { zoomMap } from '../zoom-through/cover-solver';
import { held, otherOf, trimmings, type Parts } from './cut-out-parts';
import type { HoleShape } from '../hole-shape';
import { idOf, madeLayer } from '../made-layers';

/** A hole is enlarged at most so much until it fills the frame. */
export const MOST_ENLARGED = 16;

/** The hole's zoom on a frame: `share` 1 where it fills the frame, 0 where the frozen picture stands in its place. */
export function zoomAt(
  { inner }: HoleShape,
  share: number,
  room: number,
): { readonly scale: number; readonly x: number; readonly y: number } {
  const full = Math.max(1, (1 + room) / Math.max(inner.scale, 1 / MOST_ENLARGED));
  // the place that stays: what is enlarged about it brings the hole's middle to that of the frame
  const away = full > 1 + 1e-9 ? full / (full - 1) : 0;
  return { scale: full ** share, x: inner.x * away, y: inner.y * away };
}

/** The hole's border as it lies on a zoomed frame, no further than the frame. */
function holeOn(
  shape: HoleShape,
  zoom: { readonly scale: number; readonly x: number; readonly y: number },
  width: number,
  height: number,
): [Point, Point] {
  const map = zoomMap(zoom);
  const [a, b] = [apply(map, { x: shape.left, y: shape.top }), apply(map, { x: shape.right, y: shape.bottom })];
  const within = (v: number, size: number): number => Math.max(-size / 2, Math.min(size / 2, v));
  return [
    { x: within(a.x, width), y: within(a.y, height) },
    { x: within(b.x, width), y: within(b.y, height) },
  ];
}

/** Where the moving shot lies so that it covers the hole and, as far as it may, its subject is in the middle of it. */
export function behindHole(
  [a, b]: readonly [Point, Point],
  subject: Point,
  share: number,
  room: number,
  width: number,
  height: number,
): { readonly scale: number; readonly x: number; readonly y: number } {
  const covers = Math.max((b.x - a.x) / width, (b.y - a.y) / height);
  const scale = Math.max(0.01, Math.min(1, covers * (1 + room)));
  const along = (low: number, high: number, size: number, at: number): number => {
    const [least, most] = [high - (scale * size) / 2, low + (scale * size) / 2];
    const wanted = (1 - share) * ((low + high) / 2 - scale * at);
    return least > most ? (least + most) / 2 : Math.max(least, Math.min(most, wanted));
  };
  return { scale, x: along(a.x, b.x, width, subject.x), y: along(a.y, b.y, height, subject.y) };
}

/** Values smoothed over some frames; the first and the last stay. */
function steadied(values: readonly number[]): readonly number[] {
  const reach = 2;
  return values.map((_, i) => {
    const r = Math.min(reach, i, values.length - 1 - i);
    const near = values.slice(i - r, i + r + 1);
    return near.reduce((sum, v) => sum + v, 0) / near.length;
  });
}

/** A shot is seen through a hole in the frozen picture, which pulls back from it, or goes into it where the leaving shot is frozen. */
export function pullingBack(parts: Parts): Made {
  const { film, join, placed, settings, measured } = parts.making;
  const { side, room, ease, closes, matteId } = settings;
  const other = otherOf(side);
  const moving = madeLayer(join, 'moving', placed[other].name, { kind: other });
  if (matteId === null || parts.shape === null) return { layers: [moving] };
  const first = -join.before;
  // the entering shot is itself from the cut on, the leaving one until the overlap begins
  const last = side === 'entering' ? join.after : Math.max(first + 1, join.after - 1);
  const { scale: full, x, y } = zoomAt(parts.shape, 1, room);
  // how far the hole is open, 1 to 0; the other way round where the leaving shot is frozen
  const way = easedKeys(
    ease,
    ...(side === 'entering'
      ? ([
          [first, 1],
          [last, 0],
        ] as const)
      : ([
          [first, 0],
          [last, 1],
        ] as const)),
  );
  const pullId = idOf(join, 'pull');
  const pull: Carrier = {
    id: pullId,
    name: side === 'entering' ? 'Pull back' : 'Go in',
    motion: { ...STILL, scale: way.map((k) => ({ ...k, value: k.value === 1 ? full : 1 })), pivotX: x, pivotY: y },
  };
  const shares = Array.from({ length: join.before + join.after }, (_, i) => channelAt(way, first + i));
  const subjects = subjectPlaces(measured, shares.length);
  const places = shares.map((share, i) => {
    const hole = holeOn(parts.shape!, zoomAt(parts.shape!, share, room), film.width, film.height);
    return behindHole(hole, subjects[i]!, share, room, film.width, film.height);
  });
  const placeKeys = (axis: 'x' | 'y'): Channel =>
    fittedKeys(
      places.map((p) => p[axis]),
      first,
      { below: 0.2, above: 0.2 },
    );
  const size = fittedKeys(
    places.map((p) => Math.log(p.scale)),
    first,
    { below: 0.002, above: 0.002 },
    Math.exp,
  );
  const closed =
    side === 'entering'
      ? ([
          [last - closes, 0],
          [last, 1],
        ] as const)
      : ([
          [first, 1],
          [first + closes, 0],
        ] as const);
  const around = { ...held(parts, 'around', 'Around the hole', 'outside'), ridesOn: pullId, effects: trimmings(parts) };
  const piece = { ...held(parts, 'piece', 'What closes it', 'inside'), ridesOn: pullId, opacity: easedKeys('soft both', ...closed) };
  return {
    layers: [
      piece,
      around,
      {
        ...moving,
        blur: settings.motionBlur,
        // its border lies in sight nowhere; a curve fitted a little short of it shows what is mirrored there
        edges: 'mirrored',
        motion: { ...STILL, x: placeKeys('x'), y: placeKeys('y'), scale: size },
      },
    ],
    carriers: [pull],
  };
}

/** Where the moving shot's subject is on each frame; in its middle where nothing is known. */
function subjectPlaces(measured: Measured | undefined, length: number): readonly Point[] {
  const shapes = (measured ?? []).slice(1);
  const known = shapes.findIndex((s) => s !== null);
  if (known < 0) return Array.from({ length }, () => ({ x: 0, y: 0 }));
  let latest = shapes[known]!;
  const filled = Array.from({ length }, (_, i) => {
    latest = shapes[i] ?? latest;
    return latest;
  });
  const [xs, ys] = [steadied(filled.map((s) => s.x)), steadied(filled.map((s) => s.y))];
  return xs.map((x, i) => ({ x, y: ys[i]! }));
}
