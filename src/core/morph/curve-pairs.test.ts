import { describe, expect, it } from 'vitest';
import type { Point } from '../geometry/matrix';
import { corner } from '../matte/outline/outline';
import { matchedPlaces, type DrawnLine } from './curve-pairs';

const line = (closed: boolean, ...points: readonly (readonly [number, number])[]): DrawnLine => ({
  closed,
  points: points.map(([x, y]) => corner(x, y)),
});
const most = (a: readonly Point[], b: readonly Point[]): number => Math.max(...a.map((p, i) => Math.hypot(p.x - b[i]!.x, p.y - b[i]!.y)));
const SQUARE = [
  [-10, -10],
  [10, -10],
  [10, 10],
  [-10, 10],
] as const;

describe('places along two lines', () => {
  it('go point for point where both have as many', () => {
    const { from, to } = matchedPlaces(line(false, [0, 0], [10, 0], [10, 30]), line(false, [0, 0], [50, 0], [50, 5]))!;
    const at = from.findIndex((p) => p.x === 10 && p.y === 0);
    expect(to[at]).toEqual({ x: 50, y: 0 });
    expect(from[0]).toMatchObject({ x: 0, y: 0 });
    expect(to.at(-1)).toMatchObject({ x: 50, y: 5 });
  });

  it('go by length where they have not', () => {
    const { from, to } = matchedPlaces(line(false, [0, 0], [100, 0]), line(false, [0, 10], [90, 10], [100, 10]))!;
    expect(
      most(
        from,
        to.map((p) => ({ x: p.x, y: 0 })),
      ),
    ).toBeLessThan(1e-6);
  });

  it('walk closed lines the same way round, whichever way they were drawn', () => {
    const other = line(true, SQUARE[0], SQUARE[3], SQUARE[2], SQUARE[1]);
    const { from, to } = matchedPlaces(line(true, ...SQUARE), other)!;
    expect(most(from, to)).toBeLessThan(1e-9);
  });

  it('begin closed lines of unlike numbers of points where they lie best over each other', () => {
    const fine = Array.from({ length: 40 }, (_, i): [number, number] => {
      const t = ((i + 13) % 40) / 10;
      const [a, b] = [SQUARE[Math.floor(t)]!, SQUARE[(Math.floor(t) + 1) % 4]!];
      return [3 * (a[0] + (t % 1) * (b[0] - a[0])) + 100, 3 * (a[1] + (t % 1) * (b[1] - a[1]))];
    });
    const { from, to } = matchedPlaces(line(true, ...SQUARE), line(true, ...fine))!;
    expect(
      most(
        from,
        to.map((p) => ({ x: (p.x - 100) / 3, y: p.y / 3 })),
      ),
    ).toBeLessThan(1.3);
  });

  it('are none of unlike lines or of lines that are not drawn yet', () => {
    expect(matchedPlaces(line(true, ...SQUARE), line(false, ...SQUARE))).toBeNull();
    expect(matchedPlaces(line(false, [0, 0]), line(false, [0, 0], [1, 1]))).toBeNull();
  });
});
