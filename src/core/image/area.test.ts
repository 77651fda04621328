import { describe, expect, it } from 'vitest';
import { averagePicture, averagePlane } from './area';
import { createImage, createPlane } from './pixels';

const scaled = (values: readonly number[], width: number, height: number, outWidth: number, outHeight: number): number[] => {
  const [from, out] = [createPlane(width, height), createPlane(outWidth, outHeight)];
  from.data.set(values);
  averagePlane(from, out);
  return [...out.data].map((v) => Math.round(1e4 * v) / 1e4);
};

describe('averaging areas', () => {
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

  it('keeps four channels apart, and rounds', () => {
    const from = createImage(2, 1);
    const out = createImage(1, 1);
    from.data.set([10, 20, 30, 255, 30, 41, 50, 255]);
    averagePicture(from, out);
    expect([...out.data]).toEqual([20, 30, 40, 255]);
  });

  it.each([
    [7, 5],
    [23, 17],
    [1, 1],
    [22, 3],
  ])('makes of a picture in each channel what it makes of that as a plane (%i×%i)', (width, height) => {
    const from = createImage(23, 17);
    for (let i = 0; i < from.data.length; i++) from.data[i] = (i * 7919) % 251;
    const out = createImage(width, height);
    averagePicture(from, out);
    for (let c = 0; c < 4; c++) {
      const [plane, small] = [createPlane(23, 17), createPlane(width, height)];
      for (let i = 0; i < plane.data.length; i++) plane.data[i] = from.data[4 * i + c]!;
      averagePlane(plane, small);
      for (let i = 0; i < small.data.length; i++) expect(Math.abs(out.data[4 * i + c]! - small.data[i]!)).toBeLessThan(0.501);
    }
  });
});
