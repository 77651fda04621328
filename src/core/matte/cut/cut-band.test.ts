import { describe, expect, it } from 'vitest';
import { contrastOf, cutBand, WholeCut } from './cut-band';
import { neighbourDifferences } from './features';
import { NEIGHBOUR_X, NEIGHBOUR_Y } from './min-cut';

const [W, H] = [4, 3];
/** Grey pictures as features. */
const featuresOf = (values: readonly number[]): Float32Array => Float32Array.from(values.flatMap((v) => [v, 0, 0]));

/** Numbers -1..1 that look random, the same on every run. */
function numbers(seed: number, count: number): number[] {
  let s = seed;
  return Array.from({ length: count }, () => ((s = (s * 48271) % 2147483647) / 2147483647) * 2 - 1);
}

/** What a division costs: every pixel that lies against its lean, and every pair of neighbours that it cuts apart. */
function costOf(inside: ArrayLike<number>, lean: ArrayLike<number>, costs: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < W * H; i++) {
    if (inside[i] === 0) sum += Math.max(0, lean[i]!);
    else sum += Math.max(0, -lean[i]!);
    for (let n = 4; n < 8; n++) {
      const [x, y] = [(i % W) + NEIGHBOUR_X[n]!, Math.floor(i / W) + NEIGHBOUR_Y[n]!];
      if (x >= 0 && x < W && y < H && inside[i] !== inside[y * W + x]) sum += costs[4 * i + n - 4]!;
    }
  }
  return sum;
}

describe('WholeCut', () => {
  it.each([1, 2, 3, 4, 5, 6])('is as cheap as the cheapest of all 4096 divisions of a small picture (%i)', (seed) => {
    const contrast = contrastOf(neighbourDifferences(featuresOf(numbers(seed, W * H).map((v) => 120 + 60 * v)), W, H), 2);
    const lean = Float32Array.from(numbers(seed + 50, W * H), (v) => 3 * v);
    let best = Infinity;
    for (let bits = 0; bits < 1 << (W * H); bits++) {
      const inside = Array.from({ length: W * H }, (_, i) => (bits >> i) & 1);
      best = Math.min(best, costOf(inside, lean, contrast.costs));
    }
    expect(costOf(new WholeCut(contrast).cut(lean), lean, contrast.costs)).toBeCloseTo(best, 2);
  });

  it('lays the edge where neighbours differ', () => {
    const values = Array.from({ length: W * H }, (_, i) => (i % W < 2 ? 40 : 200));
    const contrast = contrastOf(neighbourDifferences(featuresOf(values), W, H), 3);
    const lean = new Float32Array(W * H);
    lean[0] = 5;
    lean[W * H - 1] = -5;
    expect([...new WholeCut(contrast).cut(lean)]).toEqual(values.map((v) => (v === 40 ? 1 : 0)));
  });

  it('costs less the more two neighbours differ, and diagonally by the length', () => {
    const { costs } = contrastOf(neighbourDifferences(featuresOf([10, 10, 90, 250, 10, 10, 90, 250, 10, 10, 90, 250]), W, H), 3);
    expect(costs[0]).toBeGreaterThan(costs[4]!);
    expect(costs[4]).toBeGreaterThan(costs[8]!);
    // 7 − k is opposite k: 4 right, 5 down left, 6 down, 7 down right
    expect(costs[3]! * Math.SQRT2).toBeCloseTo(costs[2]!, 5);
    expect(costs[4 * 3]).toBe(0);
  });
});

describe('cutBand', () => {
  it.each([1, 2, 3, 4])('is as cheap as the cheapest of all 4096 ways to divide its band (%i)', (seed) => {
    const [width, height] = [6, 5];
    const n = width * height;
    const isFree = (i: number): boolean => i % width > 0 && i % width < 5 && i >= width && i < n - width;
    const free = [...Array(n).keys()].filter(isFree);
    const features = featuresOf(numbers(seed, n).map((v) => 120 + 40 * v));
    const lean = Float32Array.from(numbers(seed + 90, n), (v) => 4 * v);
    const signed = Float32Array.from(numbers(seed + 7, n));
    const squared = (i: number, j: number): number => (features[3 * i]! - features[3 * j]!) ** 2;
    // an edge costs 3 at most, less the more neighbours differ against the mean of those in the band
    const pairs = free.flatMap((i) => [squared(i, i + 1), squared(i, i + width)]);
    const beta = 1 / Math.max(8, (1.4 * pairs.reduce((a, b) => a + b, 0)) / pairs.length);
    const costOf = (inside: ArrayLike<number>): number => {
      let sum = 0;
      for (const i of free) {
        sum += inside[i] === 1 ? Math.max(0, -lean[i]!) : Math.max(0, lean[i]!);
        for (let k = 0; k < 8; k++) {
          const j = i + NEIGHBOUR_Y[k]! * width + NEIGHBOUR_X[k]!;
          if (inside[i] === inside[j] || (isFree(j) && k < 4)) continue;
          const straight = NEIGHBOUR_X[k] === 0 || NEIGHBOUR_Y[k] === 0;
          sum += (3 * (0.04 + 0.96 * Math.exp(-beta * squared(i, j)))) / (straight ? 1 : Math.SQRT2);
        }
      }
      return sum;
    };
    const inside: number[] = Array.from(signed, (d) => (d > 0 ? 1 : 0));
    let best = Infinity;
    for (let bits = 0; bits < 1 << free.length; bits++) {
      free.forEach((i, k) => (inside[i] = (bits >> k) & 1));
      best = Math.min(best, costOf(inside));
    }
    const band = Uint8Array.from(signed, (_, i) => (isFree(i) ? 1 : 0));
    const found = cutBand(features, band, signed, lean, width, height);
    expect(costOf(found)).toBeCloseTo(best, 2);
    for (let i = 0; i < n; i++) if (!isFree(i)) expect(found[i]).toBe(signed[i]! > 0 ? 1 : 0);
  });

  it('leaves what lies outside the band where it was, and moves the edge within it to the contrast', () => {
    const [width, height] = [12, 3];
    const values = Array.from({ length: width * height }, (_, i) => (i % width < 7 ? 60 : 190));
    const signed = Float32Array.from({ length: width * height }, (_, i) => 5 - (i % width));
    const band = Uint8Array.from({ length: width * height }, (_, i) => (Math.abs(5 - (i % width)) <= 3 ? 1 : 0));
    const found = cutBand(featuresOf(values), band, signed, new Float32Array(width * height), width, height);
    expect([...found]).toEqual(values.map((v) => (v === 60 ? 1 : 0)));
  });

  it('is the sign of the distance where there is no band', () => {
    const signed = Float32Array.of(2, -1, 0.5, -3);
    expect([...cutBand(featuresOf([1, 2, 3, 4]), new Uint8Array(4), signed, new Float32Array(4), 2, 2)]).toEqual([1, 0, 1, 0]);
  });
});
