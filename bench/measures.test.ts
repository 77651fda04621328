import { describe, expect, it } from 'vitest';
import { edgeError, edgeFlicker, regionAndContour } from './measures';

const [W, H] = [40, 30];
const box = (left: number, top: number, right: number, bottom: number, value = 255): Uint8Array =>
  Uint8Array.from({ length: W * H }, (_, i) => {
    const [x, y] = [i % W, Math.floor(i / W)];
    return x >= left && x < right && y >= top && y < bottom ? value : 0;
  });

describe('regionAndContour', () => {
  const truth = box(10, 8, 30, 22);

  it('is one for the same, and for nothing where nothing is', () => {
    expect(regionAndContour(truth, truth, W, H)).toEqual({ j: 1, f: 1 });
    expect(regionAndContour(box(0, 0, 0, 0), box(0, 0, 0, 0), W, H)).toEqual({ j: 1, f: 1 });
  });

  it('is intersection over union, worked by hand', () => {
    // 20 × 14, moved by 5: 15 × 14 in both, 25 × 14 in either
    expect(regionAndContour(box(15, 8, 35, 22), truth, W, H).j).toBeCloseTo(15 / 25, 12);
    expect(regionAndContour(box(0, 0, 5, 5), truth, W, H).j).toBe(0);
  });

  it('forgives a contour its tolerance and no more', () => {
    expect(regionAndContour(box(12, 10, 28, 20), truth, W, H, 3).f).toBe(1);
    // the upright sides of a box 5 px narrower are too far, the others' middles are not
    const { f } = regionAndContour(box(15, 8, 25, 22), truth, W, H, 3);
    expect(f).toBeGreaterThan(0.3);
    expect(f).toBeLessThan(0.8);
    expect(regionAndContour(box(0, 0, 4, 3), truth, W, H, 3).f).toBe(0);
  });

  it('takes half coverage as the edge', () => {
    expect(regionAndContour(box(10, 8, 30, 22, 128), truth, W, H).j).toBe(1);
    expect(regionAndContour(box(10, 8, 30, 22, 127), truth, W, H).j).toBe(0);
  });
});

describe('edgeError', () => {
  it('is the mean difference in the band alone', () => {
    const truth = box(10, 8, 30, 22);
    expect(edgeError(truth, truth, W, H)).toBe(0);
    const far = truth.slice();
    far[0] = 255;
    expect(edgeError(far, truth, W, H, 3)).toBe(0);
    const half = Uint8Array.from(truth, (v) => (v === 0 ? 0 : 204));
    // inside the band a fifth is missing of what is inside, nothing of what is outside
    const error = edgeError(half, truth, W, H, 2);
    expect(error).toBeGreaterThan(0.08);
    expect(error).toBeLessThan(0.12);
  });

  it('is nothing where there is no edge', () => {
    expect(edgeError(new Uint8Array(W * H), new Uint8Array(W * H), W, H)).toBe(0);
  });
});

describe('edgeFlicker', () => {
  const truth = box(10, 8, 30, 22);
  const wide = box(9, 7, 31, 23);

  it('is nothing for an error that stays, also where the truth moves', () => {
    expect(edgeFlicker({ found: wide, truth }, { found: wide, truth }, W, H)).toBe(0);
    const moved = box(12, 8, 32, 22);
    expect(edgeFlicker({ found: truth, truth }, { found: moved, truth: moved }, W, H)).toBe(0);
  });

  it('is the error itself where it comes or goes', () => {
    expect(edgeFlicker({ found: truth, truth }, { found: wide, truth }, W, H, 3)).toBeCloseTo(edgeError(wide, truth, W, H, 3), 12);
    expect(edgeFlicker({ found: wide, truth }, { found: truth, truth }, W, H, 3)).toBeGreaterThan(0.1);
  });

  it('counts a change of sides twice', () => {
    const narrow = box(11, 9, 29, 21);
    const sum = edgeError(wide, truth, W, H, 3) + edgeError(narrow, truth, W, H, 3);
    expect(edgeFlicker({ found: wide, truth }, { found: narrow, truth }, W, H, 3)).toBeCloseTo(sum, 12);
  });
});
