import type { Matrix, Point } from '../geometry/matrix';

/** How a thing stands at one moment; see Motion for what the numbers mean. */
export interface Pose {
  readonly x: number;
  readonly y: number;
  readonly depth: number;
  readonly scale: number;
  readonly stretch: number;
  readonly turn: number;
  readonly tiltX: number;
  readonly tiltY: number;
  readonly pivotX: number;
  readonly pivotY: number;
}

/** An affine map of space, three rows of four; z goes away from the viewer. */
export type Placement = readonly [number, number, number, number, number, number, number, number, number, number, number, number];

export const IN_PLACE: Placement = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0];

const radians = (degrees: number): number => (degrees * Math.PI) / 180;

/** The placement that does `first`, then `second`. */
export function placeThen(first: Placement, second: Placement): Placement {
  const out = new Array<number>(12);
  for (let r = 0; r < 3; r++)
    for (let c = 0; c < 4; c++)
      out[4 * r + c] =
        second[4 * r]! * first[c]! +
        second[4 * r + 1]! * first[4 + c]! +
        second[4 * r + 2]! * first[8 + c]! +
        (c === 3 ? second[4 * r + 3]! : 0);
  return out as unknown as Placement;
}

/** Clockwise about the axis towards the viewer, then about the upright, then about the level axis. */
function turned(turn: number, tiltX: number, tiltY: number): Placement {
  const [c, s] = [Math.cos(radians(turn)), Math.sin(radians(turn))];
  const [cx, sx] = [Math.cos(radians(tiltX)), Math.sin(radians(tiltX))];
  const [cy, sy] = [Math.cos(radians(tiltY)), Math.sin(radians(tiltY))];
  const flat: Placement = [c, -s, 0, 0, s, c, 0, 0, 0, 0, 1, 0];
  if (tiltX === 0 && tiltY === 0) return flat;
  const upright: Placement = [cy, 0, sy, 0, 0, 1, 0, 0, -sy, 0, cy, 0];
  const level: Placement = [1, 0, 0, 0, 0, cx, -sx, 0, 0, sx, cx, 0];
  return placeThen(placeThen(flat, upright), level);
}

/** Where a plane and what rides on it goes: sized, mirrored and turned about its pivot, then moved. */
export function placementOf(pose: Pose, flip?: 'across' | 'down' | 'both'): Placement {
  const { pivotX, pivotY, scale, stretch } = pose;
  const across = scale * stretch * (flip === 'across' || flip === 'both' ? -1 : 1);
  const down = scale * (flip === 'down' || flip === 'both' ? -1 : 1);
  const sized: Placement = [across, 0, 0, -across * pivotX, 0, down, 0, -down * pivotY, 0, 0, scale, 0];
  const here = placeThen(sized, turned(pose.turn, pose.tiltX, pose.tiltY));
  const moved: Placement = [1, 0, 0, pivotX + pose.x, 0, 1, 0, pivotY + pose.y, 0, 0, 1, pose.depth];
  return placeThen(here, moved);
}

/** The inverse of a placement that neither grows nor bends: a camera's. */
export function undone(m: Placement): Placement {
  const [a, b, c, x, d, e, f, y, g, h, i, z] = m;
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  if (Math.abs(det) < 1e-12) throw new RangeError('undone: the placement has no inverse');
  const r = [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ];
  const [p, q, s, t, u, v, w, k, l] = r.map((n) => n / det) as unknown as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  return [p, q, s, -(p * x + q * y + s * z), t, u, v, -(t * x + u * y + v * z), w, k, l, -(w * x + k * y + l * z)];
}

/** How far before the plane of depth 0 the eye stands, film pixels: there a film-sized plane just fills the frame. */
export const eyeDistance = (filmWidth: number, focalMm: number): number => (filmWidth * focalMm) / 36;

/**
 * The map from a placed plane to the frame, seen by an eye `distance` pixels before depth 0. What lies behind the eye has no w above 0.
 */
export function seen(placed: Placement, distance: number): Matrix {
  const [a, b, , x, d, e, , y, g, h, , z] = placed;
  return [a, b, x, d, e, y, g / distance, h / distance, 1 + z / distance];
}

/** Nearest to the eye that is still drawn, as w. */
const NEAREST = 1e-3;

/** A polygon in its plane, without what lies behind the eye of `map`. */
export function clippedBehindEye(polygon: readonly Point[], map: Matrix): readonly Point[] {
  const depth = (p: Point): number => map[6] * p.x + map[7] * p.y + map[8] - NEAREST;
  const out: Point[] = [];
  polygon.forEach((p, i) => {
    const next = polygon[(i + 1) % polygon.length]!;
    const [here, there] = [depth(p), depth(next)];
    if (here >= 0) out.push(p);
    if (here >= 0 !== there >= 0) {
      const share = here / (here - there);
      out.push({ x: p.x + share * (next.x - p.x), y: p.y + share * (next.y - p.y) });
    }
  });
  return out;
}
