import type { Matrix, Point } from '../../core/geometry/matrix';
import { sideAt, transformPoint, type OutlinePoint } from '../../core/matte/outline/outline';

/** SVG path of an outline whose points go through `m`; open ones stay open. */
export function outlinePath(points: readonly OutlinePoint[], m: Matrix, closed: boolean): string {
  const placed = points.map((p) => transformPoint(p, m));
  const first = placed[0];
  if (first === undefined) return '';
  let d = `M${first.x} ${first.y}`;
  const sides = closed ? placed.length : placed.length - 1;
  for (let i = 0; i < sides; i++) {
    const a = placed[i]!;
    const b = placed[(i + 1) % placed.length]!;
    d += `C${a.x + a.outX} ${a.y + a.outY} ${b.x + b.inX} ${b.y + b.inY} ${b.x} ${b.y}`;
  }
  return closed ? `${d}Z` : d;
}

/** The side and the place on it that are nearest to `at`; points and `at` in the same space. */
export function nearestOnOutline(points: readonly OutlinePoint[], at: Point): { readonly side: number; readonly t: number } {
  let best = { side: 0, t: 0.5, squared: Infinity };
  for (let side = 0; side < points.length; side++) {
    for (let i = 1; i < 64; i++) {
      const p = sideAt(points[side]!, points[(side + 1) % points.length]!, i / 64);
      const squared = (p.x - at.x) ** 2 + (p.y - at.y) ** 2;
      if (squared < best.squared) best = { side, t: i / 64, squared };
    }
  }
  return best;
}

/** Gives point `index` handles along the line between its neighbours, or takes its handles away. */
export function toggleCurve(points: readonly OutlinePoint[], index: number): OutlinePoint[] {
  const p = points[index]!;
  const isCorner = p.inX === 0 && p.inY === 0 && p.outX === 0 && p.outY === 0;
  const before = points[(index + points.length - 1) % points.length]!;
  const after = points[(index + 1) % points.length]!;
  const x = isCorner ? (after.x - before.x) / 6 : 0;
  const y = isCorner ? (after.y - before.y) / 6 : 0;
  return points.with(index, { ...p, inX: -x, inY: -y, outX: x, outY: y });
}
