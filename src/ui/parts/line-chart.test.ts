import { describe, expect, it } from 'vitest';
import { markedPoints } from './line-chart';

describe('markedPoints', () => {
  it('marks every point under the floor while they are few', () => {
    expect([...markedPoints([0.9, 0.4, 0.6, 0.2, 0.5], 0.5)]).toEqual([1, 3]);
    expect(markedPoints([], 0.5).size).toBe(0);
  });

  it('marks the lowest of each stretch when they are many', () => {
    const ys = Array.from({ length: 3200 }, (_, i) => (i % 100 === 37 ? 0.1 : 0.3));
    const marks = [...markedPoints(ys, 0.5)];
    expect(marks).toEqual(Array.from({ length: 32 }, (_, k) => 100 * k + 37));
    expect(
      markedPoints(
        ys.map((y) => y + 0.5),
        0.5,
      ).size,
    ).toBe(0);
  });
});
