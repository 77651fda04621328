import { describe, expect, it } from 'vitest';
import type { StoredCoverage } from '../coverage/stored-coverage';
import { crispenTo, softnessOf } from './softness';

const [W, H] = [80, 60];
/** An upright edge at x = 40 over `ramp` pixels; between two of its pixels where the ramp is even. */
const edge = (ramp: number, from = 40): StoredCoverage => ({
  width: W,
  height: H,
  data: Uint8Array.from({ length: W * H }, (_, i) => 255 * Math.max(0, Math.min(1, 0.5 + ((i % W) + 0.5 - from) / ramp)) + 0.5),
});
const disc = (radius: number, ramp: number): StoredCoverage => ({
  width: W,
  height: H,
  data: Uint8Array.from({ length: W * H }, (_, i) => {
    const d = radius - Math.hypot((i % W) - W / 2, Math.floor(i / W) - H / 2);
    return 255 * Math.max(0, Math.min(1, 0.5 + d / ramp)) + 0.5;
  }),
});

describe('softnessOf', () => {
  it('is a sixth of the width of a ramp', () => {
    for (const ramp of [6, 10, 16]) expect(softnessOf(edge(ramp))).toBeCloseTo(ramp / 6, 1);
  });

  it('is nothing for a hard edge, and without one', () => {
    expect(softnessOf(edge(0.01))).toBe(0);
    expect(softnessOf({ width: W, height: H, data: new Uint8Array(W * H) })).toBe(0);
  });

  it('hardly depends on how large or how round a shape is', () => {
    const small = softnessOf(disc(9, 6));
    expect(softnessOf(disc(25, 6)) / small).toBeCloseTo(1, 1);
    expect(softnessOf(edge(6)) / small).toBeCloseTo(1, 1);
  });
});

describe('crispenTo', () => {
  it('gives a wider ramp the softness wanted, and leaves its middle where it is', () => {
    const soft = edge(6, 40.3);
    crispenTo(softnessOf(edge(4)), soft);
    expect(softnessOf(soft)).toBeCloseTo(4 / 6, 1);
    const truth = edge(4, 40.3);
    let most = 0;
    soft.data.forEach((v, i) => (most = Math.max(most, Math.abs(v - truth.data[i]!))));
    expect(most).toBeLessThan(12);
  });

  it('leaves what is crisp enough', () => {
    const crisp = disc(20, 3);
    const before = crisp.data.slice();
    crispenTo(softnessOf(disc(20, 5)), crisp);
    expect(crisp.data).toEqual(before);
  });

  it('makes nothing more than twice as steep', () => {
    const soft = edge(12);
    crispenTo(0, soft);
    expect(softnessOf(soft)).toBeGreaterThan(0.9);
    expect(softnessOf(soft)).toBeLessThan(1.1);
  });
});
