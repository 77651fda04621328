import { describe, expect, it } from 'vitest';
import { createImage, createPlane } from '../../image/pixels';
import { analysisSize, bytesOf, carrySize, coverageOf, paintingSize, planeOf, resized } from './resize';

/** A matte with a box of `side` pixels in it. */
function boxed(width: number, height: number, side: number) {
  const alpha = createPlane(width, height);
  for (let y = 10; y < 10 + side; y++) for (let x = 10; x < 10 + side; x++) alpha.data[y * width + x] = 1;
  return alpha;
}

describe('sizes', () => {
  it('keep proportions, never grow a picture, and are never too small to work on', () => {
    expect(analysisSize(3840, 2160)).toEqual({ width: 720, height: 405 });
    expect(analysisSize(1080, 1920)).toEqual({ width: 405, height: 720 });
    expect(analysisSize(320, 180)).toEqual({ width: 320, height: 180 });
    expect(analysisSize(4000, 10)).toEqual({ width: 720, height: 16 });
    expect(paintingSize(960, 540)).toEqual({ width: 480, height: 270 });
  });

  it('are larger for a small subject that is carried, up to the size of analysis', () => {
    expect(carrySize(boxed(720, 405, 300)).width).toBe(400);
    // 110 pixels of a subject of 150: at 110/150 of the size
    expect(carrySize(boxed(720, 405, 150)).width).toBe(528);
    expect(carrySize(boxed(720, 405, 20)).width).toBe(720);
    expect(carrySize(createPlane(720, 405)).width).toBe(400);
  });
});

describe('coverage', () => {
  it('is the red of a picture, or its alpha', () => {
    const image = createImage(2, 1);
    image.data.set([255, 0, 0, 51, 102, 255, 255, 255]);
    expect([...coverageOf(image, 2, 1).data].map((v) => Math.round(100 * v))).toEqual([100, 40]);
    expect([...coverageOf(image, 2, 1, 'alpha').data].map((v) => Math.round(100 * v))).toEqual([20, 100]);
    expect(coverageOf(image, 1, 1).data[0]).toBeCloseTo(0.7, 6);
  });

  it('goes to bytes and back within half a step, cut at both ends', () => {
    const alpha = { width: 5, height: 1, data: Float32Array.of(-0.2, 0, 0.5, 1, 1.7) };
    expect([...bytesOf(alpha)]).toEqual([0, 0, 128, 255, 255]);
    const back = planeOf({ width: 5, height: 1, data: bytesOf(alpha) });
    expect(back.data[2]).toBeCloseTo(0.5, 2);
  });

  it('keeps its area when it shrinks, and is the same plane at the same size', () => {
    const alpha = boxed(90, 60, 30);
    const half = resized(alpha, 45, 30);
    const sum = (data: Float32Array): number => data.reduce((a, b) => a + b, 0);
    expect(4 * sum(half.data)).toBeCloseTo(900, 3);
    expect(resized(alpha, 90, 60)).toBe(alpha);
    expect(Math.max(...resized(half, 90, 60).data)).toBeCloseTo(1, 5);
  });
});
