/**
 * A map of the plane as nine numbers, row by row: (x, y) goes to ((m0·x + m1·y + m2) / w, (m3·x + m4·y + m5) / w) with
 * w = m6·x + m7·y + m8. The last row of an affine one is 0 0 1. Where w is not above 0, a point lies behind the eye.
 */
export type Matrix = readonly [number, number, number, number, number, number, number, number, number];

export interface Point {
  readonly x: number;
  readonly y: number;
}

export const IDENTITY: Matrix = [1, 0, 0, 0, 1, 0, 0, 0, 1];

export const translation = (x: number, y: number): Matrix => [1, 0, x, 0, 1, y, 0, 0, 1];

export const scaling = (x: number, y: number = x): Matrix => [x, 0, 0, 0, y, 0, 0, 0, 1];

/** Clockwise on screen, since y points down. */
export function rotation(degrees: number): Matrix {
  const angle = (degrees * Math.PI) / 180;
  const cos = Math.cos(angle);
  const sin = Math.sin(angle);
  return [cos, -sin, 0, sin, cos, 0, 0, 0, 1];
}

/** The map that does `first`, then `second`. */
export function compose(first: Matrix, second: Matrix): Matrix {
  const [a, b, c, d, e, f, g, h, i] = first;
  const [p, q, r, s, t, u, v, w, z] = second;
  return [
    p * a + q * d + r * g,
    p * b + q * e + r * h,
    p * c + q * f + r * i,
    s * a + t * d + u * g,
    s * b + t * e + u * h,
    s * c + t * f + u * i,
    v * a + w * d + z * g,
    v * b + w * e + z * h,
    v * c + w * f + z * i,
  ];
}

/** The maps one after the other, the first first. */
export const chain = (...maps: readonly Matrix[]): Matrix => maps.reduce(compose, IDENTITY);

const determinant = ([a, b, c, d, e, f, g, h, i]: Matrix): number => a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);

/** Whether the map squeezes the plane flat, so that nothing of it can be seen. */
export const isFlat = (m: Matrix): boolean => Math.abs(determinant(m)) < 1e-12;

/** @throws RangeError when `m` squeezes the plane flat and so has no inverse. */
export function invert(m: Matrix): Matrix {
  const det = determinant(m);
  if (Math.abs(det) < 1e-12) throw new RangeError('invert: the matrix is singular');
  const [a, b, c, d, e, f, g, h, i] = m;
  const out = [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ].map((v) => v / det);
  return out as unknown as Matrix;
}

/** Where a point lands. One on the eye's own plane lands at infinity. */
export function apply(m: Matrix, { x, y }: Point): Point {
  const w = m[6] * x + m[7] * y + m[8];
  return { x: (m[0] * x + m[1] * y + m[2]) / w, y: (m[3] * x + m[4] * y + m[5]) / w };
}

/** Above 0 for a point in front of the eye. */
export const depthAt = (m: Matrix, { x, y }: Point): number => m[6] * x + m[7] * y + m[8];

export const isAffine = (m: Matrix): boolean => Math.abs(m[6]) < 1e-12 && Math.abs(m[7]) < 1e-12;

/** How much lengths grow around `at`, on average: the square root of the area factor. */
export function lengthScale(m: Matrix, at: Point = { x: 0, y: 0 }): number {
  const w = depthAt(m, at);
  return Math.sqrt(Math.abs(determinant(m) / (w * w * w)));
}

/** The corners of a picture of this size about its centre, clockwise from the top left. */
export const cornersOf = (width: number, height: number): readonly Point[] => [
  { x: -width / 2, y: -height / 2 },
  { x: width / 2, y: -height / 2 },
  { x: width / 2, y: height / 2 },
  { x: -width / 2, y: height / 2 },
];
