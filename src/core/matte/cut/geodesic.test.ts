import { describe, expect, it } from 'vitest';
import { neighbourDifferences } from './features';
import { geodesicDistances, stepsOf, type Steps } from './geodesic';
import { NEIGHBOUR_X, NEIGHBOUR_Y } from './min-cut';

const [W, H] = [13, 9];

/** Features whose first number is `value(x, y)`, the others 0. */
function featuresOf(value: (x: number, y: number) => number): Float32Array {
  const out = new Float32Array(3 * W * H);
  for (let i = 0; i < W * H; i++) out[3 * i] = value(i % W, Math.floor(i / W));
  return out;
}

const stepsFor = (features: Float32Array, steepness: number): Steps => stepsOf(neighbourDifferences(features, W, H), steepness);

/** By relaxing every step until nothing changes. */
function slowly(features: Float32Array, seeds: Uint8Array, steepness: number): number[] {
  const out = [...seeds].map((s) => (s === 1 ? 0 : Infinity));
  for (let changed = true; changed;) {
    changed = false;
    for (let i = 0; i < out.length; i++) {
      for (let k = 0; k < 8; k++) {
        const [x, y] = [(i % W) + NEIGHBOUR_X[k]!, Math.floor(i / W) + NEIGHBOUR_Y[k]!];
        if (x < 0 || y < 0 || x >= W || y >= H) continue;
        const j = y * W + x;
        const cost = Math.hypot(NEIGHBOUR_X[k]!, NEIGHBOUR_Y[k]!) + steepness * Math.abs(features[3 * i]! - features[3 * j]!);
        if (out[j]! + cost < out[i]! - 1e-9) {
          out[i] = out[j]! + cost;
          changed = true;
        }
      }
    }
  }
  return out;
}

const seedAt = (x: number, y: number): Uint8Array => {
  const seeds = new Uint8Array(W * H);
  seeds[y * W + x] = 1;
  return seeds;
};

describe('geodesic distances', () => {
  it('are lengths of ways along rows, columns and diagonals on an even picture', () => {
    const out = geodesicDistances(
      stepsFor(
        featuresOf(() => 50),
        0.1,
      ),
      seedAt(2, 3),
      1,
    );
    expect(out[3 * W + 9]).toBeCloseTo(7, 4);
    expect(out[8 * W + 7]).toBeCloseTo(5 * Math.SQRT2, 4);
    expect(out[0]).toBeCloseTo(2 * Math.SQRT2 + 1, 4);
  });

  it('go around what it would cost more to cross', () => {
    // a wall from the top down to the last row but one
    const features = featuresOf((x, y) => (x === 6 && y < H - 1 ? 200 : 0));
    const seeds = seedAt(3, 1);
    const out = geodesicDistances(stepsFor(features, 1), seeds, 1);
    expect(out[1 * W + 9]).toBeLessThan(40);
    expect(out[1 * W + 6]).toBeGreaterThan(190);
    slowly(features, seeds, 1).forEach((d, i) => expect(out[i]).toBeCloseTo(d, 2));
  });

  it('agree with relaxing every step on a rough picture', () => {
    const features = featuresOf((x, y) => (x * 37 + y * 61 + x * y * 13) % 97);
    const seeds = seedAt(11, 7);
    const out = geodesicDistances(stepsFor(features, 0.1), seeds, 1);
    slowly(features, seeds, 0.1).forEach((d, i) => expect(out[i]).toBeLessThan(1.02 * d + 1e-3));
  });

  it('are infinite where there is nothing to go to', () => {
    expect(
      geodesicDistances(
        stepsFor(
          featuresOf(() => 0),
          1,
        ),
        new Uint8Array(W * H),
        1,
      ).every((d) => d === Infinity),
    ).toBe(true);
  });
});
