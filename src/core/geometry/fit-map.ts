/** A plane projective map as nine numbers, row by row; the last is 1. */
export type Homography = Float64Array<ArrayBuffer>;

/** The map that does `first`, then `second`. */
export function multiply(second: Homography, first: Homography): Homography {
  const out = new Float64Array(9);
  for (let r = 0; r < 3; r++)
    for (let c = 0; c < 3; c++)
      out[3 * r + c] = second[3 * r]! * first[c]! + second[3 * r + 1]! * first[3 + c]! + second[3 * r + 2]! * first[6 + c]!;
  const last = out[8]!;
  return out.map((v) => v / last);
}

/** @throws RangeError when the map has no inverse. */
export function invertMap(m: Homography): Homography {
  const [a, b, c, d, e, f, g, h, i] = m as unknown as [number, number, number, number, number, number, number, number, number];
  const [ca, cb, cc] = [e * i - f * h, f * g - d * i, d * h - e * g];
  const determinant = a * ca + b * cb + c * cc;
  if (Math.abs(determinant) < 1e-15) throw new RangeError('invertMap: the map is singular');
  const out = Float64Array.of(ca, c * h - b * i, b * f - c * e, cb, a * i - c * g, c * d - a * f, cc, b * g - a * h, a * e - b * d);
  const last = out[8]!;
  if (Math.abs(last) < 1e-15) throw new RangeError('invertMap: the inverse sends the origin to infinity');
  return out.map((v) => v / last);
}

export function mapPoint(m: Homography, x: number, y: number): [number, number] {
  const w = m[6]! * x + m[7]! * y + m[8]!;
  return [(m[0]! * x + m[1]! * y + m[2]!) / w, (m[3]! * x + m[4]! * y + m[5]!) / w];
}

/** How much lengths grow around (x, y): the square root of the area factor. */
export function scaleAt(m: Homography, x: number, y: number): number {
  const w = m[6]! * x + m[7]! * y + m[8]!;
  const [px, py] = mapPoint(m, x, y);
  const a = (m[0]! - px * m[6]!) / w;
  const b = (m[1]! - px * m[7]!) / w;
  const c = (m[3]! - py * m[6]!) / w;
  const d = (m[4]! - py * m[7]!) / w;
  return Math.sqrt(Math.abs(a * d - b * c));
}

/** Solves the symmetric positive system in place by Cholesky; false when it is singular. `n` rows of `a`, right side `b`. */
export function solveSymmetric(a: Float64Array, b: Float64Array, n: number): boolean {
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = a[i * n + j]!;
      for (let k = 0; k < j; k++) sum -= a[i * n + k]! * a[j * n + k]!;
      if (i === j) {
        if (sum <= 1e-12) return false;
        a[i * n + i] = Math.sqrt(sum);
      } else a[i * n + j] = sum / a[j * n + j]!;
    }
  }
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < i; k++) b[i]! -= a[i * n + k]! * b[k]!;
    b[i]! /= a[i * n + i]!;
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let k = i + 1; k < n; k++) b[i]! -= a[k * n + i]! * b[k]!;
    b[i]! /= a[i * n + i]!;
  }
  return true;
}

export type MotionModel = 'similarity' | 'affine' | 'perspective';

export const parametersOf = (model: MotionModel): number => ({ similarity: 4, affine: 6, perspective: 8 })[model];

/** The small map that parameters `p` of a model stand for; all zero is the identity. */
export function smallMap(model: MotionModel, p: ArrayLike<number>): Homography {
  if (model === 'similarity') return Float64Array.of(1 + p[0]!, -p[1]!, p[2]!, p[1]!, 1 + p[0]!, p[3]!, 0, 0, 1);
  const perspective = model === 'perspective';
  return Float64Array.of(1 + p[0]!, p[1]!, p[2]!, p[3]!, 1 + p[4]!, p[5]!, perspective ? p[6]! : 0, perspective ? p[7]! : 0, 1);
}

/** Derivatives of a model at the identity for a gradient (gx, gy) at (x, y), written to `out`. */
export function steepest(model: MotionModel, x: number, y: number, gx: number, gy: number, out: Float32Array, at: number): void {
  if (model === 'similarity') {
    out[at] = gx * x + gy * y;
    out[at + 1] = -gx * y + gy * x;
    out[at + 2] = gx;
    out[at + 3] = gy;
    return;
  }
  out[at] = gx * x;
  out[at + 1] = gx * y;
  out[at + 2] = gx;
  out[at + 3] = gy * x;
  out[at + 4] = gy * y;
  out[at + 5] = gy;
  if (model === 'affine') return;
  const along = gx * x + gy * y;
  out[at + 6] = -along * x;
  out[at + 7] = -along * y;
}

/**
 * The map of `model` that takes each (x, y) to (u, v) with the least weighted squared error, or for perspective the
 * least algebraic one, re-weighted `rounds` times against outliers of more than about `scalePx`.
 * `pairs` holds x, y, u, v, weight. @returns null when the pairs do not determine it.
 */
export function fitMap(model: MotionModel, pairs: Float64Array, scalePx: number, rounds = 8): Homography | null {
  const n = parametersOf(model);
  const count = pairs.length / 5;
  let m: Homography | null = null;
  const a = new Float64Array(n * n);
  const b = new Float64Array(n);
  const row = new Float64Array(n);
  for (let round = 0; round < rounds; round++) {
    a.fill(0);
    b.fill(0);
    for (let i = 0; i < count; i++) {
      const [x, y, u, v] = [pairs[5 * i]!, pairs[5 * i + 1]!, pairs[5 * i + 2]!, pairs[5 * i + 3]!];
      let w = pairs[5 * i + 4]!;
      let depth = 1;
      if (m !== null) {
        const [px, py] = mapPoint(m, x, y);
        const error = ((px - u) ** 2 + (py - v) ** 2) / (scalePx * scalePx);
        w /= (1 + error) * (1 + error);
        depth = m[6]! * x + m[7]! * y + 1;
      }
      w /= depth * depth;
      for (let axis = 0; axis < 2; axis++) {
        row.fill(0);
        const target = axis === 0 ? u : v;
        if (model === 'similarity') {
          row[0] = axis === 0 ? x : y;
          row[1] = axis === 0 ? -y : x;
          row[2 + axis] = 1;
        } else {
          row[3 * axis] = x;
          row[3 * axis + 1] = y;
          row[3 * axis + 2] = 1;
          if (model === 'perspective') {
            row[6] = -x * target;
            row[7] = -y * target;
          }
        }
        for (let p = 0; p < n; p++) {
          if (row[p] === 0) continue;
          for (let q = 0; q <= p; q++) a[p * n + q]! += w * row[p]! * row[q]!;
          b[p]! += w * row[p]! * target;
        }
      }
    }
    for (let p = 0; p < n; p++) a[p * n + p]! += 1e-9;
    if (!solveSymmetric(a, b, n)) return m;
    m =
      model === 'similarity'
        ? Float64Array.of(b[0]!, -b[1]!, b[2]!, b[1]!, b[0]!, b[3]!, 0, 0, 1)
        : Float64Array.of(
            b[0]!,
            b[1]!,
            b[2]!,
            b[3]!,
            b[4]!,
            b[5]!,
            model === 'perspective' ? b[6]! : 0,
            model === 'perspective' ? b[7]! : 0,
            1,
          );
  }
  return m;
}
