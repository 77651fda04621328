/** A plane affine map: x' = a·x + c·y + e, y' = b·x + d·y + f. */
export interface Matrix {
  readonly a: number;
  readonly b: number;
  readonly c: number;
  readonly d: number;
  readonly e: number;
  readonly f: number;
}

export interface Point {
  readonly x: number;
  readonly y: number;
}

export const IDENTITY: Matrix = { a: 1, b: 0, c: 0, d: 1, e: 0, f: 0 };

export const translation = (x: number, y: number): Matrix => ({ ...IDENTITY, e: x, f: y });

export const scaling = (x: number, y: number = x): Matrix => ({ ...IDENTITY, a: x, d: y });

/** Clockwise on screen, since y points down. */
export function rotation(degrees: number): Matrix {
  const angle = (degrees * Math.PI) / 180;
  const cos = Math.cos(angle);
  const sin = Math.sin(angle);
  return { a: cos, b: sin, c: -sin, d: cos, e: 0, f: 0 };
}

/** The map that does `first`, then `second`. */
export function compose(first: Matrix, second: Matrix): Matrix {
  return {
    a: second.a * first.a + second.c * first.b,
    b: second.b * first.a + second.d * first.b,
    c: second.a * first.c + second.c * first.d,
    d: second.b * first.c + second.d * first.d,
    e: second.a * first.e + second.c * first.f + second.e,
    f: second.b * first.e + second.d * first.f + second.f,
  };
}

/** @throws RangeError when `m` squeezes the plane flat and so has no inverse. */
export function invert(m: Matrix): Matrix {
  const determinant = m.a * m.d - m.b * m.c;
  if (Math.abs(determinant) < 1e-12) throw new RangeError('invert: the matrix is singular');
  const a = m.d / determinant;
  const b = -m.b / determinant;
  const c = -m.c / determinant;
  const d = m.a / determinant;
  return { a, b, c, d, e: -(a * m.e + c * m.f), f: -(b * m.e + d * m.f) };
}

export const apply = (m: Matrix, p: Point): Point => ({ x: m.a * p.x + m.c * p.y + m.e, y: m.b * p.x + m.d * p.y + m.f });

/** How much lengths grow on average: the square root of the area factor. */
export const lengthScale = (m: Matrix): number => Math.sqrt(Math.abs(m.a * m.d - m.b * m.c));
