import { lerp } from '../../geometry/lerp';
import { apply, type Matrix, type Point } from '../../geometry/matrix';
import { keysAround, type Keyed } from '../../motion/curve';

/** An outline point with its two curve handles, relative to it; zero handles make a corner. Medium pixels, origin at the picture's centre. */
export interface OutlinePoint extends Point {
  readonly inX: number;
  readonly inY: number;
  readonly outX: number;
  readonly outY: number;
}

/** The whole shape at one medium frame. */
export interface OutlineKey extends Keyed {
  readonly points: readonly OutlinePoint[];
}

/**
 * A drawn shape, animated by shape keyframes. All keyframes have the same number of points, in the same order,
 * and their frames rise strictly. An outline that is not closed is still being drawn and covers nothing.
 */
export interface Outline {
  readonly closed: boolean;
  readonly keys: readonly OutlineKey[];
}

const LEAST_POINTS = 3;

export const corner = (x: number, y: number): OutlinePoint => ({ x, y, inX: 0, inY: 0, outX: 0, outY: 0 });

function mixPoints(a: OutlinePoint, b: OutlinePoint, t: number): OutlinePoint {
  return {
    x: lerp(a.x, b.x, t),
    y: lerp(a.y, b.y, t),
    inX: lerp(a.inX, b.inX, t),
    inY: lerp(a.inY, b.inY, t),
    outX: lerp(a.outX, b.outX, t),
    outY: lerp(a.outY, b.outY, t),
  };
}

/** The outline's points at `frame`; empty before anything is drawn. */
export function pointsAt(outline: Outline, frame: number): readonly OutlinePoint[] {
  const around = keysAround(outline.keys, frame);
  if (around === null) return [];
  const { from, to, share } = around;
  if (share === 0 || from === to) return from.points;
  return from.points.map((p, i) => mixPoints(p, to.points[i]!, share));
}

export const keyAt = (outline: Outline, frame: number): OutlineKey | undefined => outline.keys.find((k) => k.frame === frame);

function withKey(outline: Outline, key: OutlineKey): Outline {
  const others = outline.keys.filter((k) => k.frame !== key.frame);
  return { ...outline, keys: [...others, key].sort((a, b) => a.frame - b.frame) };
}

/** Sets the shape at `frame`: changes the key there or makes one. */
export function setPoints(outline: Outline, frame: number, points: readonly OutlinePoint[]): Outline {
  const ease = keyAt(outline, frame)?.ease ?? keysAround(outline.keys, frame)?.from.ease ?? 'straight';
  return withKey(outline, { frame, ease, points });
}

/** Appends a point while the outline is being drawn. The first point makes the first key at `frame`. */
export function appendPoint(outline: Outline, frame: number, point: OutlinePoint): Outline {
  if (outline.keys.length === 0) return { ...outline, keys: [{ frame, ease: 'straight', points: [point] }] };
  return { ...outline, keys: outline.keys.map((k) => ({ ...k, points: [...k.points, point] })) };
}

/** @throws RangeError with fewer than three points: such a shape encloses nothing. */
export function closeOutline(outline: Outline): Outline {
  if ((outline.keys[0]?.points.length ?? 0) < LEAST_POINTS) throw new RangeError('closeOutline: an outline needs three points');
  return { ...outline, closed: true };
}

/** Splits the side from point `side` to the next at `t` in every key, so that no key changes its shape. */
export function insertPoint(outline: Outline, side: number, t: number): Outline {
  return {
    ...outline,
    keys: outline.keys.map((key) => {
      const next = (side + 1) % key.points.length;
      const a = key.points[side]!;
      const b = key.points[next]!;
      // de Casteljau
      const p0 = a;
      const p1 = { x: a.x + a.outX, y: a.y + a.outY };
      const p2 = { x: b.x + b.inX, y: b.y + b.inY };
      const between = (p: Point, q: Point): Point => ({ x: lerp(p.x, q.x, t), y: lerp(p.y, q.y, t) });
      const q0 = between(p0, p1);
      const q1 = between(p1, p2);
      const q2 = between(p2, b);
      const r0 = between(q0, q1);
      const r1 = between(q1, q2);
      const at = between(r0, r1);
      const straight = a.outX === 0 && a.outY === 0 && b.inX === 0 && b.inY === 0;
      if (straight) return { ...key, points: key.points.toSpliced(side + 1, 0, corner(lerp(a.x, b.x, t), lerp(a.y, b.y, t))) };
      const points = [...key.points];
      points[side] = { ...a, outX: q0.x - a.x, outY: q0.y - a.y };
      points[next] = { ...b, inX: q2.x - b.x, inY: q2.y - b.y };
      points.splice(side + 1, 0, { ...at, inX: r0.x - at.x, inY: r0.y - at.y, outX: r1.x - at.x, outY: r1.y - at.y });
      return { ...key, points };
    }),
  };
}

/** Takes the points away in every key; a closed outline left with fewer than three points becomes empty and open. */
export function removePoints(outline: Outline, indices: ReadonlySet<number>): Outline {
  const left = (outline.keys[0]?.points.length ?? 0) - indices.size;
  if (left <= 0 || (outline.closed && left < LEAST_POINTS)) return { closed: false, keys: [] };
  return { ...outline, keys: outline.keys.map((k) => ({ ...k, points: k.points.filter((_, i) => !indices.has(i)) })) };
}

/** Moves the key at `from` to `to`, replacing a key that stands there. */
export function moveKey(outline: Outline, from: number, to: number): Outline {
  const key = keyAt(outline, from);
  if (key === undefined || from === to) return outline;
  return withKey({ ...outline, keys: outline.keys.filter((k) => k.frame !== from) }, { ...key, frame: to });
}

/** Copies the key at `from` to `to`, replacing a key that stands there. */
export function copyKey(outline: Outline, from: number, to: number): Outline {
  const key = keyAt(outline, from);
  return key === undefined ? outline : withKey(outline, { ...key, frame: to });
}

/** Deletes the key at `frame`; the last key stays, since the shape would go with it. */
export function deleteKey(outline: Outline, frame: number): Outline {
  return outline.keys.length < 2 ? outline : { ...outline, keys: outline.keys.filter((k) => k.frame !== frame) };
}

/** The point with its handles under a map; under perspective a handle goes where its end goes. */
export function transformPoint(p: OutlinePoint, m: Matrix): OutlinePoint {
  const at = apply(m, p);
  const handle = (x: number, y: number): Point => {
    const end = apply(m, { x: p.x + x, y: p.y + y });
    return { x: end.x - at.x, y: end.y - at.y };
  };
  const into = handle(p.inX, p.inY);
  const out = handle(p.outX, p.outY);
  return { ...at, inX: into.x, inY: into.y, outX: out.x, outY: out.y };
}

/** Position on the side from `a` to `b` at `t` in 0..1. */
export function sideAt(a: OutlinePoint, b: OutlinePoint, t: number): Point {
  const s = 1 - t;
  const w0 = s * s * s;
  const w1 = 3 * s * s * t;
  const w2 = 3 * s * t * t;
  const w3 = t * t * t;
  return {
    x: w0 * a.x + w1 * (a.x + a.outX) + w2 * (b.x + b.inX) + w3 * b.x,
    y: w0 * a.y + w1 * (a.y + a.outY) + w2 * (b.y + b.inY) + w3 * b.y,
  };
}

/**
 * The closed outline through `points` as a polygon [x0, y0, x1, y1, …] whose sides stay within about
 * `tolerancePx` of the curve: a cubic cut into n equal steps leaves its chord by at most |B''|/(8·n²).
 */
export function flattenOutline(points: readonly OutlinePoint[], tolerancePx = 0.05): Float64Array {
  const out: number[] = [];
  for (let i = 0; i < points.length; i++) {
    const a = points[i]!;
    const b = points[(i + 1) % points.length]!;
    const x1 = a.x + a.outX;
    const y1 = a.y + a.outY;
    const x2 = b.x + b.inX;
    const y2 = b.y + b.inY;
    const ddx = Math.max(Math.abs(a.x - 2 * x1 + x2), Math.abs(x1 - 2 * x2 + b.x));
    const ddy = Math.max(Math.abs(a.y - 2 * y1 + y2), Math.abs(y1 - 2 * y2 + b.y));
    const straight = a.outX === 0 && a.outY === 0 && b.inX === 0 && b.inY === 0;
    // |B''| is at most six times the second difference
    const steps = straight ? 1 : Math.min(400, Math.max(2, Math.ceil(Math.sqrt((0.75 * Math.sqrt(ddx * ddx + ddy * ddy)) / tolerancePx))));
    out.push(a.x, a.y);
    for (let s = 1; s < steps; s++) {
      const p = sideAt(a, b, s / steps);
      out.push(p.x, p.y);
    }
  }
  return Float64Array.from(out);
}
