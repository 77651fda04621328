/** Largest distance from the smooth curve, and the share of lines within it that make an edge a smooth one. */
const SMOOTH_REACH = 5;
const SMOOTH_SHARE = 0.7;

/**
 * Where most lines agree on a smooth curve, the others, which see nothing of the edge, take its place; a ragged edge stays
 * as it is. Lines at either end of the way say only that the edge is beyond.
 */
export function straightened(at: Float32Array, across: number): Float32Array {
  const lines = Array.from(at.keys()).filter((y) => at[y]! > 0 && at[y]! < across);
  if (lines.length < 0.3 * at.length) return at;
  const middle = [...lines.map((y) => at[y]!)].sort((a, b) => a - b)[lines.length >> 1]!;
  let near = lines.filter((y) => Math.abs(at[y]! - middle) < 0.15 * across);
  let curve = fitParabola(near, at);
  for (let round = 0; round < 4; round++) {
    near = lines.filter((y) => Math.abs(at[y]! - curve(y)) < SMOOTH_REACH);
    if (near.length < SMOOTH_SHARE * lines.length) return at;
    curve = fitParabola(near, at);
  }
  return at.map((e, y) => {
    const wanted = curve(y);
    const beyond = (e <= 0 && wanted <= 0) || (e >= across && wanted >= across);
    return beyond || Math.abs(e - wanted) >= SMOOTH_REACH ? wanted : e;
  });
}

/** The parabola through `lines` of `at` by least squares. */
function fitParabola(lines: readonly number[], at: Float32Array): (y: number) => number {
  const half = at.length / 2;
  const m = [0, 0, 0, 0, 0];
  const v = [0, 0, 0];
  for (const y of lines) {
    const t = (y - half) / half;
    for (let k = 0, power = 1; k < 5; k++, power *= t) {
      m[k]! += power;
      if (k < 3) v[k]! += power * at[y]!;
    }
  }
  m[2]! += 1e-3;
  m[4]! += 1e-3 * lines.length; // hardly bent unless the lines say so
  const [a, b, c] = solve3([m[0]!, m[1]!, m[2]!, m[1]!, m[2]!, m[3]!, m[2]!, m[3]!, m[4]!], v as [number, number, number]);
  return (y) => {
    const t = (y - half) / half;
    return a + t * (b + t * c);
  };
}

/** Solves a 3×3 system, rows first, by Cramer's rule. */
function solve3(m: readonly number[], [p, q, r]: readonly [number, number, number]): [number, number, number] {
  const [a, b, c, d, e, f, g, h, i] = m as [number, number, number, number, number, number, number, number, number];
  const det = (x: number, y: number, z: number, s: number, t: number, u: number, k: number, l: number, n: number): number =>
    x * (t * n - u * l) - y * (s * n - u * k) + z * (s * l - t * k);
  const whole = det(a, b, c, d, e, f, g, h, i) || 1e-12;
  return [det(p, b, c, q, e, f, r, h, i) / whole, det(a, p, c, d, q, f, g, r, i) / whole, det(a, b, p, d, e, q, g, h, r) / whole];
}
