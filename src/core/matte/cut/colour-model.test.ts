import { describe, expect, it } from 'vitest';
import { ColourModel, colourRatios } from './colour-model';

/** Numbers that look random and are the same every time, −1..1. */
function noise(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2147483648 - 1;
  };
}

const every = (n: number): number[] => Array.from({ length: n }, (_, i) => i);

const FITTING = { count: 4, most: 2500, rounds: 4 };

describe('ColourModel', () => {
  it('with one component is the Gaussian of its pixels: log densities differ by half the squared Mahalanobis distance', () => {
    const next = noise(7);
    const n = 900;
    const features = new Float32Array(3 * n);
    for (let i = 0; i < n; i++) {
      const [a, b, c] = [next(), next(), next()];
      features.set([100 + 30 * a, 50 + 12 * a + 9 * b, -20 - 8 * a + 5 * b + 6 * c], 3 * i);
    }
    const model = ColourModel.fit(features, every(n), { count: 1, most: n, rounds: 0, leastVariance: 2 })!;
    // mean and covariance by hand
    const mean = [0, 1, 2].map((d) => every(n).reduce((sum, i) => sum + features[3 * i + d]!, 0) / n);
    const cov = (d: number, e: number): number =>
      every(n).reduce((sum, i) => sum + (features[3 * i + d]! - mean[d]!) * (features[3 * i + e]! - mean[e]!), 0) / n + (d === e ? 2 : 0);
    const [xx, xy, xz, yy, yz, zz] = [cov(0, 0), cov(0, 1), cov(0, 2), cov(1, 1), cov(1, 2), cov(2, 2)];
    const det = xx * (yy * zz - yz * yz) - xy * (xy * zz - yz * xz) + xz * (xy * yz - yy * xz);
    const mahalanobis = (p: readonly [number, number, number]): number => {
      const [x, y, z] = [p[0] - mean[0]!, p[1] - mean[1]!, p[2] - mean[2]!];
      return (
        ((yy * zz - yz * yz) * x * x +
          (xx * zz - xz * xz) * y * y +
          (xx * yy - xy * xy) * z * z +
          2 * (xz * yz - xy * zz) * x * y +
          2 * (xy * yz - xz * yy) * x * z +
          2 * (xy * xz - xx * yz) * y * z) /
        det
      );
    };
    const centre = model.logDensity(mean[0]!, mean[1]!, mean[2]!);
    for (const p of [
      [130, 60, -20],
      [90, 41, -10],
      [100, 50, 12],
    ] as const)
      expect(centre - model.logDensity(p[0], p[1], p[2])).toBeCloseTo(0.5 * mahalanobis(p), 3);
  });

  it('keeps two colours apart and thinks little of what lies between them', () => {
    const next = noise(3);
    const n = 400;
    const features = new Float32Array(3 * n);
    for (let i = 0; i < n; i++) {
      const base = i % 2 === 0 ? [40, 30, -10] : [180, -20, 40];
      features.set(
        base.map((v) => v + 3 * next()),
        3 * i,
      );
    }
    const model = ColourModel.fit(features, every(n), FITTING)!;
    const between = model.logDensity(110, 5, 15);
    expect(model.logDensity(40, 30, -10)).toBeGreaterThan(between + 20);
    expect(model.logDensity(180, -20, 40)).toBeGreaterThan(between + 20);
  });

  it('is steady where all pixels are one colour, and gives none for fewer than four', () => {
    const features = new Float32Array(300).fill(9);
    const model = ColourModel.fit(features, every(100), FITTING)!;
    expect(Number.isFinite(model.logDensity(9, 9, 9))).toBe(true);
    expect(model.logDensity(9, 9, 9)).toBeGreaterThan(model.logDensity(30, 9, 9));
    expect(ColourModel.fit(features, every(3), FITTING)).toBeNull();
  });

  it('speaks for one mixture against another by the difference of their densities, up to the most it may', () => {
    const next = noise(5);
    const colours = (a: number, b: number): Float32Array =>
      Float32Array.from({ length: 600 }, (_, i) => (i % 3 === 0 ? a : b) + 8 * next());
    const inside = ColourModel.fit(colours(90, 20), every(200), FITTING)!;
    const outside = ColourModel.fit(colours(95, 40), every(200), FITTING)!;
    const asked = Float32Array.of(92, 30, 29, 90, 20, 20, 95, 40, 40, 92, 30, 29);
    const ratio = (i: number): number => {
      const [a, b, c] = asked.subarray(3 * i, 3 * i + 3);
      return inside.logDensity(a!, b!, c!) - outside.logDensity(a!, b!, c!);
    };
    const found = colourRatios(inside, outside, asked, Uint8Array.of(1, 1, 1, 0), 5);
    expect(found[0]).toBeCloseTo(ratio(0), 4);
    expect([ratio(1) > 5, ratio(2) < -5]).toEqual([true, true]);
    expect([...found.subarray(1)]).toEqual([5, -5, 0]);
  });
});
