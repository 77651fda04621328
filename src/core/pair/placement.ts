import type { Point } from '../geometry/matrix';

/**
 * How one picture lies over another: mirrored left to right first if `flip`, then scaled by `scale`, turned clockwise on screen by `turn`
 * radians, and shifted. Positions count from the centre of each picture, y down.
 */
export interface Placement {
  readonly scale: number;
  readonly turn: number;
  readonly dx: number;
  readonly dy: number;
  readonly flip: boolean;
}

export const IN_PLACE: Placement = { scale: 1, turn: 0, dx: 0, dy: 0, flip: false };

export function placed({ scale, turn, dx, dy, flip }: Placement, { x, y }: Point): Point {
  const [c, s] = [scale * Math.cos(turn), scale * Math.sin(turn)];
  const mirrored = flip ? -x : x;
  return { x: c * mirrored - s * y + dx, y: s * mirrored + c * y + dy };
}

/** The placement that does `first`, then `second`. */
export function placedTwice(first: Placement, second: Placement): Placement {
  const { x: dx, y: dy } = placed(second, { x: first.dx, y: first.dy });
  return {
    scale: first.scale * second.scale,
    // a mirror turns what was turned before it the other way
    turn: turnWithin((second.flip ? -first.turn : first.turn) + second.turn),
    dx,
    dy,
    flip: first.flip !== second.flip,
  };
}

export function placedBack(p: Placement): Placement {
  const turn = p.flip ? p.turn : -p.turn;
  const still = { scale: 1 / p.scale, turn, dx: 0, dy: 0, flip: p.flip };
  const { x, y } = placed(still, { x: p.dx, y: p.dy });
  return { ...still, dx: -x, dy: -y };
}

/** The same angle between −π and π. */
export const turnWithin = (turn: number): number => turn - 2 * Math.PI * Math.round(turn / (2 * Math.PI));

export interface PointPair {
  readonly a: Point;
  readonly b: Point;
}

/** The placement of b over a that brings pairs of points together best (Umeyama 1991); null where they do not tell, with `flip` given. */
export function placementOf(pairs: readonly PointPair[], flip: boolean): Placement | null {
  if (pairs.length < 2) return null;
  const n = pairs.length;
  let [ax, ay, bx, by] = [0, 0, 0, 0];
  for (const { a, b } of pairs) {
    ax += a.x / n;
    ay += a.y / n;
    bx += (flip ? -b.x : b.x) / n;
    by += b.y / n;
  }
  let [along, across, spread] = [0, 0, 0];
  for (const { a, b } of pairs) {
    const [px, py] = [(flip ? -b.x : b.x) - bx, b.y - by];
    const [qx, qy] = [a.x - ax, a.y - ay];
    along += px * qx + py * qy;
    across += px * qy - py * qx;
    spread += px * px + py * py;
  }
  const length = Math.hypot(along, across);
  if (spread < 1e-9 || length < 1e-9) return null;
  const [c, s] = [along / spread, across / spread];
  return { scale: length / spread, turn: Math.atan2(across, along), dx: ax - c * bx + s * by, dy: ay - s * bx - c * by, flip };
}
