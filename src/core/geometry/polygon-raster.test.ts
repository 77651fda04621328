import { describe, expect, it } from 'vitest';
import { fillPolygon, HARD_EDGE as HARD, polygonArea } from './polygon-raster';

function fill(width: number, height: number, polygon: readonly number[], edge = HARD): Uint8Array {
  const out = new Uint8Array(width * height);
  fillPolygon(Float64Array.from(polygon), edge, width, height, out);
  return out;
}

const regular = (cx: number, cy: number, r: number, sides: number, turn = 0.3): number[] =>
  Array.from({ length: sides }, (_, i) => [
    cx + r * Math.cos(turn + (2 * Math.PI * i) / sides),
    cy + r * Math.sin(turn + (2 * Math.PI * i) / sides),
  ]).flat();

/** Even coverage by many samples a pixel: slow and obvious. */
function sampled(width: number, height: number, polygon: readonly number[], n = 32): Uint8Array {
  const out = new Uint8Array(width * height);
  const inside = (x: number, y: number): boolean => {
    let winding = 0;
    for (let i = 0; i < polygon.length; i += 2) {
      const j = (i + 2) % polygon.length;
      const [x0, y0, x1, y1] = [polygon[i]!, polygon[i + 1]!, polygon[j]!, polygon[j + 1]!];
      if (y0 <= y !== y1 <= y && x0 + ((y - y0) / (y1 - y0)) * (x1 - x0) < x) winding += y1 > y0 ? 1 : -1;
    }
    return winding !== 0;
  };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let hits = 0;
      for (let v = 0; v < n; v++) for (let u = 0; u < n; u++) if (inside(x + (u + 0.5) / n, y + (v + 0.5) / n)) hits++;
      out[y * width + x] = Math.round((255 * hits) / (n * n));
    }
  return out;
}

describe('a hard edge', () => {
  it('covers each pixel by the area inside, worked by hand', () => {
    // from x = 0.5 to 2.25, y = 0 to 1.5
    expect([...fill(3, 2, [0.5, 0, 2.25, 0, 2.25, 1.5, 0.5, 1.5])]).toEqual([128, 255, 64, 64, 128, 32]);
  });

  it('covers a triangle by its area, whichever way round it is drawn', () => {
    const triangle = [0, 0, 2, 0, 0, 2];
    expect([...fill(2, 2, triangle)]).toEqual([255, 128, 128, 0]);
    expect([...fill(2, 2, [0, 2, 2, 0, 0, 0])]).toEqual([255, 128, 128, 0]);
  });

  it('agrees with many samples a pixel on odd shapes and sizes', () => {
    for (const polygon of [
      regular(8.3, 6.1, 5.4, 5),
      regular(3, 3, 9, 7),
      [-4, 2.2, 19, 5.7, 6.5, 14.9],
      [1, 1, 14, 1.2, 2.5, 8, 15, 9.4, 3, 12.7, 0.2, 5],
    ]) {
      const exact = fill(17, 13, polygon);
      const slow = sampled(17, 13, polygon);
      const worst = Math.max(...exact.map((v, i) => Math.abs(v - slow[i]!)));
      expect(worst).toBeLessThanOrEqual(10);
      const mean = exact.reduce((sum, v, i) => sum + Math.abs(v - slow[i]!), 0) / exact.length;
      expect(mean).toBeLessThan(0.8);
    }
  });

  it('gives a polygon its exact area', () => {
    const sides = 9;
    const area = (sides / 2) * 20 * 20 * Math.sin((2 * Math.PI) / sides);
    expect(polygonArea(Float64Array.from(regular(31.7, 30.2, 20, sides)), 64, 64)).toBeCloseTo(area, 8);
  });

  it('lets shapes reach far beyond the raster', () => {
    expect(fill(5, 4, [-1e6, -1e6, 1e6, -1e6, 1e6, 1e6, -1e6, 1e6]).every((v) => v === 255)).toBe(true);
    expect(fill(5, 4, [9, 9, 99, 9, 99, 99]).every((v) => v === 0)).toBe(true);
    expect([...fill(4, 1, [2, -50, 500, -50, 500, 50, 2, 50])]).toEqual([0, 0, 255, 255]);
    expect([...fill(4, 1, [-500, -50, 2, -50, 2, 50, -500, 50])]).toEqual([255, 255, 0, 0]);
  });

  it('covers nothing with fewer than three points', () => {
    expect(fill(3, 3, [0, 0, 3, 3]).every((v) => v === 0)).toBe(true);
  });

  it('draws the same again after another shape', () => {
    const out = new Uint8Array(81);
    fillPolygon(Float64Array.from([0, 0, 9, 0, 9, 9]), { growPx: 2, featherPx: 5 }, 9, 9, out);
    fillPolygon(Float64Array.from([2, 2, 7, 2, 7, 7, 2, 7]), HARD, 9, 9, out);
    expect(out).toEqual(fill(9, 9, [2, 2, 7, 2, 7, 7, 2, 7]));
  });
});

describe('a feathered edge', () => {
  const half = [30, -100, 200, -100, 200, 200, 30, 200]; // everything right of x = 30

  it('is a linear ramp of the distance to the side', () => {
    const out = fill(60, 1, half, { growPx: 0, featherPx: 20 });
    for (let x = 0; x < 60; x++)
      expect(Math.abs(out[x]! - 255 * Math.max(0, Math.min(1, 0.5 + (x + 0.5 - 30) / 20)))).toBeLessThanOrEqual(0.51);
  });

  it('moves outwards when grown and inwards when shrunk', () => {
    for (const growPx of [-7, 4.5]) {
      const out = fill(60, 1, half, { growPx, featherPx: 6 });
      for (let x = 0; x < 60; x++)
        expect(Math.abs(out[x]! - 255 * Math.max(0, Math.min(1, 0.5 + (x + 0.5 - 30 + growPx) / 6)))).toBeLessThanOrEqual(0.51);
    }
  });

  it('runs round a corner by true distance', () => {
    const out = fill(40, 40, [20, 20, 90, 20, 90, 90, 20, 90], { growPx: 0, featherPx: 16 });
    const distance = Math.hypot(20 - 15.5, 20 - 14.5);
    expect(Math.abs(out[14 * 40 + 15]! - 255 * (0.5 - distance / 16))).toBeLessThanOrEqual(0.51);
  });

  it('makes a disc from a point-like shape grown by a radius', () => {
    const out = fill(41, 41, regular(20.5, 20.5, 0.01, 8), { growPx: 12, featherPx: 0 });
    const area = out.reduce((sum, v) => sum + v / 255, 0);
    expect(Math.abs(area - Math.PI * 12 * 12)).toBeLessThan(1.5);
  });

  it('is the same seen through any part of the plane', () => {
    const shape = regular(40, 30, 22, 6);
    const whole = fill(80, 60, shape, { growPx: -2, featherPx: 9 });
    const shifted = fill(
      50,
      40,
      shape.map((v, i) => v - (i % 2 === 0 ? 13 : 11)),
      { growPx: -2, featherPx: 9 },
    );
    for (let y = 0; y < 40; y++)
      for (let x = 0; x < 50; x++) expect(Math.abs(shifted[y * 50 + x]! - whole[(y + 11) * 80 + x + 13]!)).toBeLessThanOrEqual(1);
  });
});

it('refuses wrong sizes and coordinates that are no numbers', () => {
  expect(() => fillPolygon(Float64Array.of(0, 0, 1, 1, 2, 0), HARD, 0, 4, new Uint8Array(0))).toThrow(RangeError);
  expect(() => fillPolygon(Float64Array.of(0, 0, 1, 1, 2, 0), HARD, 4, 4, new Uint8Array(3))).toThrow(RangeError);
  expect(() => fill(2, 2, [0, 0, NaN, 0, 1, 1])).toThrow(RangeError);
});
