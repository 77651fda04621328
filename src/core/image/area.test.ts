import { describe, expect, it } from 'vitest';
import { averageArea } from './area';

const scaled = (
  values: readonly number[],
  width: number,
  height: number,
  outWidth: number,
  outHeight: number,
  channels: 1 | 4 = 1,
): number[] => {
  const out = new Float32Array(outWidth * outHeight * channels);
  averageArea(Float32Array.from(values), channels, width, height, out, outWidth, outHeight);
  return [...out].map((v) => Math.round(1e4 * v) / 1e4);
};

describe('averageArea', () => {
  it('averages whole pixels, and parts of them, worked by hand', () => {
    expect(scaled([0, 4, 6, 2], 4, 1, 2, 1)).toEqual([2, 4]);
    // three into two: each takes one and a half
    expect(scaled([0, 3, 9], 3, 1, 2, 1)).toEqual([1, 7]);
    expect(scaled([0, 0, 9, 0, 0, 9, 0, 0, 9], 3, 3, 1, 1)).toEqual([3]);
  });

  it('changes nothing at the same size, and repeats where it grows by whole steps', () => {
    const values = [1, 5, 2, 8, 3, 9];
    expect(scaled(values, 3, 2, 3, 2)).toEqual(values);
    expect(scaled([2, 6], 2, 1, 4, 2)).toEqual([2, 2, 6, 6, 2, 2, 6, 6]);
  });

  it('keeps the mean at any ratio', () => {
    const values = Array.from({ length: 23 * 17 }, (_, i) => (i * 37) % 101);
    const mean = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0) / list.length;
    for (const [w, h] of [
      [7, 5],
      [22, 16],
      [1, 1],
    ] as const)
      expect(mean(scaled(values, 23, 17, w, h))).toBeCloseTo(mean(values), 2);
  });

  it('keeps four channels apart', () => {
    expect(scaled([10, 20, 30, 255, 30, 40, 50, 255], 2, 1, 1, 1, 4)).toEqual([20, 30, 40, 255]);
  });
});
