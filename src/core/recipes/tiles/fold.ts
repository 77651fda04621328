import { corner, type OutlinePoint } from '../../matte/outline/outline';
import type { Point } from '../../geometry/matrix';

/** A frame and the shape it folds into, point by point: points of the frame may meet in one of the shape. */
export interface Fold {
  readonly open: readonly OutlinePoint[];
  readonly folded: readonly OutlinePoint[];
}

/** The corners of a regular shape about the middle, the first one upwards, `turn` degrees clockwise of that. */
export const regularShape = (corners: number, radius: number, turn: number): readonly OutlinePoint[] =>
  Array.from({ length: corners }, (_, i) => {
    const angle = ((turn - 90 + (360 * i) / corners) * Math.PI) / 180;
    return corner(radius * Math.cos(angle), radius * Math.sin(angle));
  });

/** Twice the area within a row of points, above 0 where they go clockwise (y down). */
const turning = (points: readonly Point[]): number =>
  points.reduce((sum, p, i) => {
    const q = points[(i + 1) % points.length]!;
    return sum + p.x * q.y - q.x * p.y;
  }, 0);

const reversed = (points: readonly OutlinePoint[]): readonly OutlinePoint[] =>
  [...points].reverse().map(({ x, y, inX, inY, outX, outY }) => ({ x, y, inX: outX, inY: outY, outX: inX, outY: inY }));

/** The place at a share 0..1 of the way around a frame, clockwise from its upper left corner. */
function aroundFrame(share: number, width: number, height: number): Point {
  const at = (share - Math.floor(share)) * 2 * (width + height);
  const [w, h] = [width / 2, height / 2];
  if (at < width) return { x: at - w, y: -h };
  if (at < width + height) return { x: w, y: at - width - h };
  if (at < 2 * width + height) return { x: w - (at - width - height), y: h };
  return { x: -w, y: h - (at - 2 * width - height) };
}

/** The share of the way around a frame at which a ray from its middle leaves it. */
function shareTowards({ x, y }: Point, width: number, height: number): number {
  const scale = 1 / Math.max(Math.abs(x) / (width / 2), Math.abs(y) / (height / 2), 1e-9);
  const [px, py] = [x * scale + width / 2, y * scale + height / 2];
  const eps = 1e-6 * width;
  const along =
    py < eps ? px : px > width - eps ? width + py : py > height - eps ? width + height + (width - px) : 2 * width + height + (height - py);
  return along / (2 * (width + height));
}

/**
 * Lets a frame of `width` × `height` fold into a shape. Each point of the shape comes from the frame's border, by its share of the way around; each
 * corner of the frame goes to the point of the shape next to it, where both meet. At least three points.
 */
export function foldInto(shape: readonly OutlinePoint[], width: number, height: number): Fold {
  const points = turning(shape) < 0 ? reversed(shape) : shape;
  const lengths = points.map((p, i) => {
    const q = points[(i + 1) % points.length]!;
    return Math.hypot(q.x - p.x, q.y - p.y);
  });
  const whole = lengths.reduce((a, b) => a + b, 0) || 1;
  const start = shareTowards(points[0]!, width, height);
  let passed = 0;
  const shares = lengths.map((length) => {
    const share = start + passed / whole;
    passed += length;
    return share;
  });
  const corners = [0, width, width + height, 2 * width + height].map((at) => {
    const share = at / (2 * (width + height));
    // within one turn from the first point on
    return share < start ? share + 1 : share;
  });
  const pairs = points.map((p, i) => ({ share: shares[i]!, open: aroundFrame(shares[i]!, width, height), folded: p, own: true }));
  for (const share of corners) {
    const near = shares.reduce((best, s, i) => (Math.abs(s - share) < Math.abs(shares[best]! - share) ? i : best), 0);
    // past the last point it may be nearer to the first one
    const to = Math.abs(start + 1 - share) < Math.abs(shares[near]! - share) ? 0 : near;
    pairs.push({ share, open: aroundFrame(share, width, height), folded: points[to]!, own: false });
  }
  pairs.sort((a, b) => a.share - b.share || Number(b.own) - Number(a.own));
  const same = (a: OutlinePoint, b: OutlinePoint): boolean => a.x === b.x && a.y === b.y;
  const at = (i: number): OutlinePoint => pairs[(i + pairs.length) % pairs.length]!.folded;
  // of points that meet, only the first keeps the way in and only the last the way out
  const folded = pairs.map(({ folded: p }, i) => ({
    ...p,
    ...(same(at(i - 1), p) ? { inX: 0, inY: 0 } : {}),
    ...(same(at(i + 1), p) ? { outX: 0, outY: 0 } : {}),
  }));
  return { open: pairs.map((p) => corner(p.open.x, p.open.y)), folded };
}
