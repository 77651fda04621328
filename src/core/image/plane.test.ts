import { describe, expect, it } from 'vitest';
import { boundsOf, boxBlur, cropPlane, halvePlane, pastePlane, pyramidOf, sampleBilinear } from './plane';
import { createPlane, type Plane } from './pixels';
import { signedDistance, squaredDistances } from './distance';

const planeOf = (rows: number[][]): Plane => ({ width: rows[0]!.length, height: rows.length, data: Float32Array.from(rows.flat()) });

describe('planes', () => {
  it('tell where they hold something, with room around it inside the plane', () => {
    const plane = planeOf([
      [0, 0, 0, 0],
      [0, 0.2, 0.6, 0],
      [0, 0, 0.5, 0],
    ]);
    expect(boundsOf(plane, 0.5, 0)).toEqual({ left: 2, top: 1, right: 3, bottom: 3 });
    expect(boundsOf(plane, Number.MIN_VALUE, 1)).toEqual({ left: 0, top: 0, right: 4, bottom: 3 });
    expect(boundsOf(plane, 0.7, 5)).toBeNull();
  });

  it('count the odd last column twice when they are halved', () => {
    const out = createPlane(2, 1);
    halvePlane(
      planeOf([
        [0, 4, 6],
        [0, 4, 2],
      ]),
      out,
    );
    expect([...out.data]).toEqual([2, 4]);
  });

  it('give the pixel itself at its centre and repeat their edge outside', () => {
    const plane = planeOf([
      [1, 3],
      [5, 7],
    ]);
    expect(sampleBilinear(plane, 1.5, 0.5)).toBe(3);
    expect(sampleBilinear(plane, 1, 1)).toBe(4);
    expect(sampleBilinear(plane, -9, 99)).toBe(5);
  });

  it('blur to the mean of the box, near the border of the part inside', () => {
    const plane = planeOf([[1, 2, 6, 3, 8]]);
    const out = createPlane(5, 1);
    boxBlur(plane, 1, out);
    expect([...out.data].map((v) => Math.round(v * 1000) / 1000)).toEqual([1.5, 3, 3.667, 5.667, 5.5]);
  });

  it('blur like the slow way on a picture of odd size', () => {
    const plane = createPlane(13, 7);
    plane.data.forEach((_, i) => (plane.data[i] = (i * 37) % 101));
    const out = createPlane(13, 7);
    boxBlur(plane, 2, out);
    for (let y = 0; y < 7; y++) {
      for (let x = 0; x < 13; x++) {
        let [sum, n] = [0, 0];
        for (let v = Math.max(0, y - 2); v <= Math.min(6, y + 2); v++)
          for (let u = Math.max(0, x - 2); u <= Math.min(12, x + 2); u++, n++) sum += plane.data[v * 13 + u]!;
        expect(out.data[y * 13 + x]).toBeCloseTo(sum / n, 3);
      }
    }
  });

  it('come back from a crop where they were', () => {
    const plane = createPlane(6, 5);
    plane.data.forEach((_, i) => (plane.data[i] = i));
    const out = createPlane(6, 5);
    pastePlane(cropPlane(plane, { left: 2, top: 1, right: 5, bottom: 4 }), out, 2, 1);
    expect(out.data[2 * 6 + 3]).toBe(15);
    expect(out.data[0]).toBe(0);
  });

  it('make a pyramid that stops at its least side', () => {
    expect(pyramidOf(createPlane(100, 50), 9, 12).map((p) => p.width)).toEqual([100, 50, 25]);
  });
});

describe('distances', () => {
  const inside = Uint8Array.from({ length: 20 * 15 }, (_, i) => (((i % 20) - 10) ** 2 + (Math.floor(i / 20) - 7) ** 2 < 16 ? 1 : 0));

  it('agree with looking at every pixel', () => {
    const out = new Float32Array(inside.length);
    squaredDistances(inside, 1, 20, 15, out);
    for (let i = 0; i < out.length; i++) {
      let best = Infinity;
      inside.forEach((v, j) => {
        if (v === 1) best = Math.min(best, ((i % 20) - (j % 20)) ** 2 + (Math.floor(i / 20) - Math.floor(j / 20)) ** 2);
      });
      expect(out[i]).toBe(best);
    }
  });

  it('are positive inside, negative outside and half a pixel along the edge', () => {
    const out = new Float32Array(inside.length);
    signedDistance(inside, 20, 15, out);
    expect(out[7 * 20 + 10]).toBeGreaterThan(3);
    expect(out[0]).toBeLessThan(-6);
    expect(out[7 * 20 + 13]).toBe(0.5);
    expect(out[7 * 20 + 14]).toBe(-0.5);
  });
});
