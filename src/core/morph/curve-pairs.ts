import type { Point } from '../geometry/matrix';
import { sideAt, type OutlinePoint } from '../matte/outline/outline';

/** A line as it stands on a frame; closed ones come back to their first point. */
export interface DrawnLine {
  readonly points: readonly OutlinePoint[];
  readonly closed: boolean;
}

/** Places along two lines that belong together, one for one. */
export interface MatchedPlaces {
  readonly from: readonly Point[];
  readonly to: readonly Point[];
  readonly closed: boolean;
}

/** Places that are taken of a pair of lines, about. */
const PLACES = 32;
/** Steps in which a side is walked to tell its length. */
const STEPS = 16;

const sidesOf = ({ points, closed }: DrawnLine): number => (closed ? points.length : points.length - 1);

const onSide = ({ points }: DrawnLine, side: number, t: number): Point => sideAt(points[side]!, points[(side + 1) % points.length]!, t);

/** Twice the area within a line's points, negative where they go round the other way. */
const turnOf = (points: readonly Point[]): number =>
  points.reduce((sum, p, i) => {
    const q = points[(i + 1) % points.length]!;
    return sum + p.x * q.y - q.x * p.y;
  }, 0);

/** The same line walked the other way, a closed one from the same point. */
function reversed({ points, closed }: DrawnLine): DrawnLine {
  const order = closed ? [points[0]!, ...points.slice(1).reverse()] : [...points].reverse();
  return { closed, points: order.map((p) => ({ ...p, inX: p.outX, inY: p.outY, outX: p.inX, outY: p.inY })) };
}

/** Equally many places on each side: points of the same number belong together. */
function bySides(line: DrawnLine, perSide: number): Point[] {
  const places = Array.from({ length: sidesOf(line) * perSide }, (_, i) => onSide(line, Math.floor(i / perSide), (i % perSide) / perSide));
  return line.closed ? places : [...places, line.points.at(-1)!];
}

/** `count` places in equal distances along a line, its first point first. */
function byLength(line: DrawnLine, count: number): Point[] {
  const walked = bySides(line, STEPS);
  if (line.closed) walked.push(walked[0]!);
  const lengths = [0];
  for (let i = 1; i < walked.length; i++) {
    const [p, q] = [walked[i - 1]!, walked[i]!];
    lengths.push(lengths[i - 1]! + Math.hypot(q.x - p.x, q.y - p.y));
  }
  const whole = lengths.at(-1)!;
  let at = 0;
  return Array.from({ length: count }, (_, i) => {
    const goal = (whole * i) / (line.closed ? count : count - 1);
    while (at < walked.length - 2 && lengths[at + 1]! < goal) at++;
    const [p, q] = [walked[at]!, walked[at + 1]!];
    const step = lengths[at + 1]! - lengths[at]!;
    const t = step === 0 ? 0 : (goal - lengths[at]!) / step;
    return { x: p.x + t * (q.x - p.x), y: p.y + t * (q.y - p.y) };
  });
}

/** The places of a closed line, begun where they lie best over others once both are laid middle over middle at one size. */
function turnedTo(places: readonly Point[], others: readonly Point[]): Point[] {
  const centred = (list: readonly Point[]): Point[] => {
    const [mx, my] = [list.reduce((s, p) => s + p.x, 0) / list.length, list.reduce((s, p) => s + p.y, 0) / list.length];
    const size = Math.max(1e-9, Math.sqrt(list.reduce((s, p) => s + (p.x - mx) ** 2 + (p.y - my) ** 2, 0) / list.length));
    return list.map((p) => ({ x: (p.x - mx) / size, y: (p.y - my) / size }));
  };
  const [a, b] = [centred(others), centred(places)];
  const apart = (shift: number): number =>
    a.reduce((sum, p, i) => {
      const q = b[(i + shift) % b.length]!;
      return sum + (p.x - q.x) ** 2 + (p.y - q.y) ** 2;
    }, 0);
  const shifts = places.map((_, shift) => apart(shift));
  const best = shifts.indexOf(Math.min(...shifts));
  return places.map((_, i) => places[(i + best) % places.length]!);
}

/**
 * Places along two lines that belong together: point for point where both have as many points, else by length along them. Closed lines are
 * walked the same way round.
 * @returns null while one of them has no two points, or only one is closed
 */
export function matchedPlaces(from: DrawnLine, to: DrawnLine): MatchedPlaces | null {
  if (from.points.length < 2 || to.points.length < 2 || from.closed !== to.closed) return null;
  const other = from.closed && turnOf(from.points) * turnOf(to.points) < 0 ? reversed(to) : to;
  if (from.points.length === other.points.length) {
    const perSide = Math.max(2, Math.ceil(PLACES / sidesOf(from)));
    return { from: bySides(from, perSide), to: bySides(other, perSide), closed: from.closed };
  }
  const [a, b] = [byLength(from, PLACES), byLength(other, PLACES)];
  return { from: a, to: from.closed ? turnedTo(b, a) : b, closed: from.closed };
}
