import type { Plane } from '../../image/pixels';
import { setPoints, type Outline, type OutlinePoint } from './outline';
import { denseFlow, prepareFlow } from '../../flow/dense-flow';
import { flowAt } from '../../flow/flow-field';

/**
 * Points of an outline taken along by the motion from one luma plane to the next. Points are medium pixels from the centre; `perPixel` of
 * them are one pixel of the planes. Handles go where their ends go.
 */
export function carriedPoints(points: readonly OutlinePoint[], from: Plane, to: Plane, perPixel: number): OutlinePoint[] {
  const flow = denseFlow(prepareFlow(from), prepareFlow(to), 'fine');
  const motion = new Float64Array(2);
  const moved = (x: number, y: number): readonly [number, number] => {
    flowAt(flow, x / perPixel + from.width / 2, y / perPixel + from.height / 2, motion);
    return [x + motion[0]! * perPixel, y + motion[1]! * perPixel];
  };
  const handle = (p: OutlinePoint, dx: number, dy: number, x: number, y: number): readonly [number, number] => {
    if (dx === 0 && dy === 0) return [0, 0];
    const [ex, ey] = moved(p.x + dx, p.y + dy);
    return [ex - x, ey - y];
  };
  return points.map((p) => {
    const [x, y] = moved(p.x, p.y);
    const [inX, inY] = handle(p, p.inX, p.inY, x, y);
    const [outX, outY] = handle(p, p.outX, p.outY, x, y);
    return { x, y, inX, inY, outX, outY };
  });
}

/** How far, medium pixels, a point may be from where it was carried to when keys are left out. */
const NEAR = 0.6;

const apart = (a: readonly OutlinePoint[], b: readonly OutlinePoint[]): number =>
  Math.max(...a.map((p, i) => Math.hypot(p.x - b[i]!.x, p.y - b[i]!.y)));

/** An outline's points on one medium frame. */
export interface CarriedShape {
  readonly frame: number;
  readonly points: readonly OutlinePoint[];
}

/** An outline with the shapes it was carried to, `shapes[0]` being the one it was carried from: as few keys as say them all. */
export function withCarried(outline: Outline, shapes: readonly CarriedShape[]): Outline {
  const [first, last] = [shapes[0]!.frame, shapes.at(-1)!.frame];
  const [low, high] = [Math.min(first, last), Math.max(first, last)];
  const cleared: Outline = { ...outline, keys: outline.keys.filter((k) => k.frame < low || k.frame > high) };
  const kept = [0];
  for (let from = 0; from < shapes.length - 1;) {
    let to = from + 1;
    while (to + 1 < shapes.length && isStraight(shapes, from, to + 1)) to++;
    kept.push(to);
    from = to;
  }
  return kept.reduce((made, i) => setPoints(made, shapes[i]!.frame, shapes[i]!.points), cleared);
}

/** Whether the shapes between two of them lie on straight ways from one to the other. */
function isStraight(shapes: readonly CarriedShape[], from: number, to: number): boolean {
  const [a, b] = [shapes[from]!, shapes[to]!];
  for (let i = from + 1; i < to; i++) {
    const t = (i - from) / (to - from);
    const between = a.points.map((p, k) => ({ ...p, x: p.x + t * (b.points[k]!.x - p.x), y: p.y + t * (b.points[k]!.y - p.y) }));
    if (apart(between, shapes[i]!.points) > NEAR) return false;
  }
  return true;
}
