import { describe, expect, it } from 'vitest';
import { compose, scaling, translation } from '../../geometry/matrix';
import { createPlane } from '../../image/pixels';
import { regionAndContour, edgeError } from '../../../../bench/measures';
import { analysisSize, bytesOf, resized } from './resize';
import { placeCoverage, styleCoverage, type StoredCoverage } from './stored-coverage';

/** Left half covered. */
const half: StoredCoverage = { width: 8, height: 4, data: Uint8Array.from({ length: 32 }, (_, i) => (i % 8 < 4 ? 255 : 0)) };
const plain = { width: 8, height: 4, growPx: 0, featherPx: 0 };

describe('stored coverage', () => {
  it('lands where its medium lands', () => {
    const out = new Uint8Array(32);
    placeCoverage(half, plain, translation(4, 2), 8, 4, out);
    expect([...out]).toEqual([...half.data]);
    placeCoverage(half, plain, translation(6, 2), 8, 4, out);
    expect([...out.subarray(0, 8)]).toEqual([0, 0, 255, 255, 255, 255, 0, 0]);
  });

  it('may be stored smaller than its medium', () => {
    const out = new Uint8Array(16 * 8);
    placeCoverage(half, { ...plain, width: 16, height: 8 }, translation(8, 4), 16, 8, out);
    expect(out[0]).toBe(255);
    expect(out[15]).toBe(0);
  });

  it('grows by the pixels asked for and softens over the feather', () => {
    const row = (c: StoredCoverage): number[] => [...c.data.subarray(0, 8)];
    expect(row(styleCoverage(half, { growPx: 2, featherPx: 0 }))).toEqual([255, 255, 255, 255, 255, 255, 0, 0]);
    expect(row(styleCoverage(half, { growPx: -1, featherPx: 0 }))).toEqual([255, 255, 255, 0, 0, 0, 0, 0]);
    const soft = row(styleCoverage(half, { growPx: 0, featherPx: 4 }));
    expect(soft[0]).toBe(255);
    expect(soft[2]! > soft[3]! && soft[3]! > soft[4]! && soft[4]! > soft[5]!).toBe(true);
    expect(styleCoverage(half, { growPx: 0, featherPx: 0 })).toBe(half);
  });

  it('covers nothing beyond its medium', () => {
    const out = new Uint8Array(32).fill(9);
    placeCoverage(half, plain, compose(scaling(0.5), translation(4, 2)), 8, 4, out);
    expect(out[0]).toBe(0);
    expect(out[31]).toBe(0);
  });
});

describe('sizes', () => {
  it('are kept below the analysis size, in proportion', () => {
    expect(analysisSize(3840, 2160)).toEqual({ width: 720, height: 405 });
    expect(analysisSize(640, 360)).toEqual({ width: 640, height: 360 });
    expect(analysisSize(1080, 1920)).toEqual({ width: 405, height: 720 });
  });

  it('change without losing area', () => {
    const plane = createPlane(40, 20);
    plane.data.forEach((_, i) => (plane.data[i] = i % 40 < 20 ? 1 : 0));
    const share = (values: ArrayLike<number>, most: number): number => Array.from(values).reduce((a, b) => a + b, 0) / values.length / most;
    expect(share(resized(plane, 16, 8).data, 1)).toBeCloseTo(0.5, 3);
    expect(share(resized(plane, 120, 60).data, 1)).toBeCloseTo(0.5, 2);
    expect(bytesOf(plane)[0]).toBe(255);
  });
});

describe('measures', () => {
  const square = (x: number): Uint8Array =>
    Uint8Array.from({ length: 50 * 40 }, (_, i) => (i % 50 >= x && i % 50 < x + 20 && i >= 500 && i < 1500 ? 255 : 0));

  it('are perfect for equal mattes', () => {
    expect(regionAndContour(square(10), square(10), 50, 40)).toEqual({ j: 1, f: 1 });
    expect(edgeError(square(10), square(10), 50, 40)).toBe(0);
  });

  it('count what overlaps and forgive contours within the tolerance', () => {
    const { j, f } = regionAndContour(square(12), square(10), 50, 40);
    expect(j).toBeCloseTo(18 / 22, 6);
    expect(f).toBe(1);
    expect(regionAndContour(square(20), square(10), 50, 40).f).toBeLessThan(0.75);
  });

  it('agree that nothing equals nothing', () => {
    expect(regionAndContour(new Uint8Array(100), new Uint8Array(100), 10, 10)).toEqual({ j: 1, f: 1 });
  });
});
