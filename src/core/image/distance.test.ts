import { describe, expect, it } from 'vitest';
import { FAR, signedDistance, signedEdgeDistance, squaredDistances } from './distance';

/** A few blots, different on every call with another `seed`. */
function blots(width: number, height: number, seed: number): Uint8Array {
  return Uint8Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return Math.sin(x * 0.9 + seed) + Math.cos(y * 0.7 - 2 * seed) + Math.sin((x + y) * 0.5) > 0.9 ? 1 : 0;
  });
}

function slow(inside: Uint8Array, value: number, width: number, height: number): number[] {
  return Array.from({ length: width * height }, (_, i) => {
    let best = FAR;
    for (let j = 0; j < inside.length; j++)
      if (inside[j] === value)
        best = Math.min(best, ((i % width) - (j % width)) ** 2 + (Math.floor(i / width) - Math.floor(j / width)) ** 2);
    return best;
  });
}

describe('squaredDistances', () => {
  it.each([
    [17, 11, 1],
    [1, 9, 2],
    [23, 1, 3],
    [12, 12, 4],
  ])('agrees with looking at every pixel, %i × %i', (width, height, seed) => {
    const inside = blots(width, height, seed);
    inside[0] = 1;
    inside[inside.length - 1] = 0;
    const out = new Float32Array(inside.length);
    for (const value of [0, 1]) {
      squaredDistances(inside, value, width, height, out);
      expect([...out]).toEqual(slow(inside, value, width, height));
    }
  });

  it('is as far as can be where there is none', () => {
    const out = new Float32Array(12);
    squaredDistances(new Uint8Array(12), 1, 4, 3, out);
    expect([...out].every((d) => d === Math.fround(FAR))).toBe(true);
  });
});

describe('signedDistance', () => {
  it('is half a pixel at the edge, positive inside, and grows by one', () => {
    const out = new Float32Array(7);
    signedDistance(Uint8Array.of(0, 0, 0, 1, 1, 1, 1), 7, 1, out);
    expect([...out]).toEqual([-2.5, -1.5, -0.5, 0.5, 1.5, 2.5, 3.5]);
  });

  it('is at most 8 % and half a pixel longer than the straight way', () => {
    const [width, height] = [41, 33];
    const inside = blots(width, height, 5);
    const out = new Float32Array(inside.length);
    signedDistance(inside, width, height, out);
    const [toIn, toOut] = [slow(inside, 1, width, height), slow(inside, 0, width, height)];
    for (let i = 0; i < out.length; i++) {
      expect(out[i]! > 0).toBe(inside[i] === 1);
      const straight = Math.sqrt(inside[i] === 1 ? toOut[i]! : toIn[i]!);
      expect(Math.abs(out[i]!) + 0.5).toBeLessThanOrEqual(1.083 * straight + 0.5);
      expect(Math.abs(out[i]!) + 0.5).toBeGreaterThan(straight - 0.5);
    }
  });

  it('takes half coverage as the edge', () => {
    const found = signedEdgeDistance({ width: 4, height: 1, data: Float32Array.of(0, 0.4, 0.5, 1) });
    expect([...found]).toEqual([-1.5, -0.5, 0.5, 1.5]);
  });
});
