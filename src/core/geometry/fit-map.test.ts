import { describe, expect, it } from 'vitest';
import {
  fitMap,
  invertMap,
  mapPoint,
  multiply,
  parametersOf,
  scaleAt,
  smallMap,
  solveSymmetric,
  steepest,
  type Homography,
  type MotionModel,
} from './fit-map';

const MODELS: readonly MotionModel[] = ['similarity', 'affine', 'perspective'];
const tilted: Homography = Float64Array.of(0.9, -0.2, 30, 0.15, 1.1, -12, 0.0006, -0.0004, 1);

const pairsOf = (map: Homography, places: readonly (readonly [number, number])[]): number[] =>
  places.flatMap(([x, y]) => [x, y, ...mapPoint(map, x, y), 1]);
const grid = [-2, -1, 0, 1, 2].flatMap((x) => [-2, -1, 0, 1, 2].map((y) => [x, y] as const));

describe('maps', () => {
  it('undo each other, and go one after the other', () => {
    const [x, y] = mapPoint(multiply(invertMap(tilted), tilted), 31, 17);
    expect(x).toBeCloseTo(31, 9);
    expect(y).toBeCloseTo(17, 9);
    const shift = Float64Array.of(1, 0, 5, 0, 1, -3, 0, 0, 1);
    const [u, v] = mapPoint(multiply(shift, tilted), 8, 9);
    const [p, q] = mapPoint(tilted, 8, 9);
    expect(u).toBeCloseTo(p + 5, 9);
    expect(v).toBeCloseTo(q - 3, 9);
  });

  it('that flatten the plane have no inverse', () => {
    expect(() => invertMap(Float64Array.of(1, 2, 0, 2, 4, 0, 0, 0, 1))).toThrow('singular');
  });

  it('tell how much they enlarge: the area of a small square', () => {
    expect(scaleAt(Float64Array.of(2, 0, 5, 0, 2, 1, 0, 0, 1), 10, 10)).toBeCloseTo(2, 9);
    const d = 1e-4;
    const [a, b, c] = [mapPoint(tilted, 40, 20), mapPoint(tilted, 40 + d, 20), mapPoint(tilted, 40, 20 + d)];
    const area = (b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1]);
    expect(scaleAt(tilted, 40, 20)).toBeCloseTo(Math.sqrt(area) / d, 4);
  });
});

describe('steepest', () => {
  it.each(MODELS)('is how a picture with an even slope changes with each parameter of a %s', (model) => {
    const [gx, gy] = [3, -2];
    const n = parametersOf(model);
    const slopes = new Float32Array(n);
    const [x, y] = [0.7, -0.4];
    steepest(model, x, y, gx, gy, slopes, 0);
    for (let p = 0; p < n; p++) {
      const step = 1e-6;
      const parameters = Array.from({ length: n }, (_, k) => (k === p ? step : 0));
      const [u, v] = mapPoint(smallMap(model, parameters), x, y);
      expect(slopes[p]).toBeCloseTo((gx * (u - x) + gy * (v - y)) / step, 3);
    }
  });
});

describe('solveSymmetric', () => {
  it('solves a system worked by hand', () => {
    // 4x + 2y = 10, 2x + 3y = 9
    const right = Float64Array.of(10, 9);
    expect(solveSymmetric(Float64Array.of(4, 2, 2, 3), right, 2)).toBe(true);
    expect(right[0]).toBeCloseTo(1.5, 12);
    expect(right[1]).toBeCloseTo(2, 12);
  });

  it('says when there is no single answer', () => {
    expect(solveSymmetric(Float64Array.of(1, 2, 2, 4), Float64Array.of(1, 2), 2)).toBe(false);
  });
});

describe('fitMap', () => {
  it.each(MODELS)('finds a %s from exact pairs', (model) => {
    const p = [0.05, -0.03, 0.4, 0.02, 0.06, -0.2, 0.03, -0.02];
    const truth = smallMap(model, p);
    const found = fitMap(model, Float64Array.from(pairsOf(truth, grid)), 0.1)!;
    for (const [x, y] of grid) {
      const [a, b] = [mapPoint(found, x, y), mapPoint(truth, x, y)];
      expect(a[0]).toBeCloseTo(b[0], 5);
      expect(a[1]).toBeCloseTo(b[1], 5);
    }
  });

  it('is not misled by a fifth of the pairs', () => {
    const pairs = pairsOf(smallMap('affine', [0.1, 0, 0.3, 0, 0.1, 0.2]), grid);
    for (let i = 0; i < grid.length; i += 5) pairs[5 * i + 2]! += 3;
    const [x, y] = mapPoint(fitMap('affine', Float64Array.from(pairs), 0.05)!, 1, 1);
    expect(x).toBeCloseTo(1.4, 2);
    expect(y).toBeCloseTo(1.3, 2);
  });

  it('leaves out pairs without weight', () => {
    const pairs = [...pairsOf(smallMap('similarity', [0, 0, 1, 2]), grid), 0, 0, 50, 50, 0];
    const [x, y] = mapPoint(fitMap('similarity', Float64Array.from(pairs), 1)!, 0, 0);
    expect(x).toBeCloseTo(1, 6);
    expect(y).toBeCloseTo(2, 6);
  });
});
