import { apply, invert, type Matrix, type Point } from '../geometry/matrix';
import type { Pose } from './transform';

/** What of a pose a pointer changes on the stage. */
export type Grip = 'move' | 'scale' | 'turn' | 'pivot';

/**
 * The numbers of a pose after the pointer went from `from` to `to`, places of the frame in film pixels. `carried` is the map of all that carries the
 * thing (frame of its carrier to the frame), `own` its own whole map. Scaling and turning go about the pivot as it shows.
 */
export function draggedPose(pose: Pose, grip: Grip, from: Point, to: Point, carried: Matrix, own: Matrix): Partial<Pose> {
  const back = invert(carried);
  const [a, b] = [apply(back, from), apply(back, to)];
  if (grip === 'move') return { x: pose.x + b.x - a.x, y: pose.y + b.y - a.y };
  if (grip === 'pivot') {
    // the pivot moves in the thing itself; what it shows stays where it is
    const inside = invert(own);
    const [p, q] = [apply(inside, from), apply(inside, to)];
    const [dx, dy] = [q.x - p.x, q.y - p.y];
    return { pivotX: pose.pivotX + dx, pivotY: pose.pivotY + dy, x: pose.x + b.x - a.x - dx, y: pose.y + b.y - a.y - dy };
  }
  const centre = { x: pose.pivotX + pose.x, y: pose.pivotY + pose.y };
  const [u, v] = [
    { x: a.x - centre.x, y: a.y - centre.y },
    { x: b.x - centre.x, y: b.y - centre.y },
  ];
  const [r, s] = [Math.sqrt(u.x * u.x + u.y * u.y), Math.sqrt(v.x * v.x + v.y * v.y)];
  if (r < 1e-6) return {};
  if (grip === 'scale') return { scale: Math.max(0.001, (pose.scale * s) / r) };
  const turn = ((Math.atan2(v.y, v.x) - Math.atan2(u.y, u.x)) * 180) / Math.PI;
  return { turn: pose.turn + (turn > 180 ? turn - 360 : turn < -180 ? turn + 360 : turn) };
}
