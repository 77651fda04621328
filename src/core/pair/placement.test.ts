import { describe, expect, it } from 'vitest';
import { IN_PLACE, placed, placedBack, placedTwice, placementOf, type Placement } from './placement';

const PLACES: readonly Placement[] = [
  { scale: 1.3, turn: 0.4, dx: 12, dy: -7, flip: false },
  { scale: 0.6, turn: -1.2, dx: -30, dy: 4, flip: true },
];
const POINTS = [
  { x: 0, y: 0 },
  { x: 10, y: 3 },
  { x: -4, y: 25 },
];

describe('a placement', () => {
  it('mirrors first, then scales, turns clockwise on screen and shifts', () => {
    const { x, y } = placed({ scale: 2, turn: Math.PI / 2, dx: 5, dy: 0, flip: true }, { x: 1, y: 0 });
    expect([x, y].map((v) => Math.round(1e6 * v) / 1e6)).toEqual([5, -2]);
  });

  it('is undone by its inverse, and two make one', () => {
    for (const first of PLACES)
      for (const second of [...PLACES, IN_PLACE])
        for (const point of POINTS) {
          const back = placed(placedBack(first), placed(first, point));
          expect(Math.hypot(back.x - point.x, back.y - point.y)).toBeLessThan(1e-9);
          const [once, twice] = [placed(placedTwice(first, second), point), placed(second, placed(first, point))];
          expect(Math.hypot(once.x - twice.x, once.y - twice.y)).toBeLessThan(1e-9);
        }
  });

  it('is found from pairs of points', () => {
    for (const truth of PLACES) {
      const found = placementOf(
        POINTS.map((b) => ({ a: placed(truth, b), b })),
        truth.flip,
      )!;
      for (const key of ['scale', 'turn', 'dx', 'dy'] as const) expect(found[key]).toBeCloseTo(truth[key], 9);
    }
    expect(placementOf([{ a: { x: 0, y: 0 }, b: { x: 1, y: 1 } }], false)).toBeNull();
  });
});
