import { describe, expect, it } from 'vitest';
import { brushed, sparse } from './brush';
import type { Stroke, Strokes } from './strokes';

const NONE: Strokes = { keep: [], drop: [] };
const line = (...points: [number, number][]): Stroke => ({ radius: 6, points });

describe('the brush', () => {
  it('adds keep and drop strokes, each in a turn of its own', () => {
    const one = brushed(NONE, 'keep', line([0, 0]));
    const two = brushed(one, 'drop', line([50, 0]));
    const three = brushed(two, 'keep', line([9, 9]));
    expect(three).toEqual({
      keep: [
        { radius: 6, points: [[0, 0]], turn: 1 },
        { radius: 6, points: [[9, 9]], turn: 3 },
      ],
      drop: [{ radius: 6, points: [[50, 0]], turn: 2 }],
    });
    // what was there is not changed
    expect(one.keep).toHaveLength(1);
  });

  it('keeps well inside a box and drops along it, in one turn', () => {
    const box = line([0, 0], [100, 0], [100, 40], [0, 40]);
    const { keep, drop } = brushed(brushed(NONE, 'keep', line([5, 5])), 'box', box);
    expect(drop).toEqual([{ radius: 3, points: [...box.points, [0, 0]], turn: 2 }]);
    const inner = keep[1]!;
    expect(inner.turn).toBe(2);
    expect(inner.points[0]).toEqual(inner.points.at(-1));
    for (const [x, y] of inner.points) {
      expect(Math.abs(x - 50)).toBeCloseTo(17.5);
      expect(Math.abs(y - 20)).toBeCloseTo(7);
    }
  });

  it('draws a visible line around a loop even with the finest brush', () => {
    const { drop } = brushed(NONE, 'loop', { radius: 1, points: [[0, 0], [10, 0], [5, 8]] }); // prettier-ignore
    expect(drop[0]!.radius).toBe(2);
  });

  it('paints on the matte itself without a turn', () => {
    const painted = brushed(brushed(NONE, 'paint in', line([1, 1])), 'paint out', line([2, 2]));
    expect(painted.touches).toEqual([
      { radius: 6, points: [[1, 1]], covers: true },
      { radius: 6, points: [[2, 2]], covers: false },
    ]);
    expect(painted.keep).toEqual([]);
  });

  it('erases the strokes it touches, of all kinds, and leaves the others as they are', () => {
    let strokes = brushed(NONE, 'keep', line([0, 0], [20, 0]));
    strokes = brushed(strokes, 'keep', line([0, 100]));
    strokes = brushed(strokes, 'drop', line([26, 0]));
    strokes = brushed(strokes, 'paint in', line([24, 8]));
    strokes = brushed(brushed(strokes, 'hair', line([22, 3])), 'hair', line([80, 80]));
    const left = brushed(strokes, 'erase', line([20, 5]));
    expect(left).toEqual({ keep: [strokes.keep[1]], drop: [], hair: [line([80, 80])], touches: [] });
  });

  it('erases nothing where it only comes near', () => {
    const strokes = brushed(NONE, 'keep', line([0, 0]));
    expect(brushed(strokes, 'erase', line([12, 0])).keep).toHaveLength(1);
    expect(brushed(strokes, 'erase', line([11.9, 0])).keep).toHaveLength(0);
  });
});

describe('a stroke as it is kept', () => {
  const curve = Array.from({ length: 300 }, (_, i): [number, number] => [i + 0.123456, 80 * Math.sin(i / 40)]);

  it('has few points, none of those left out more than a quarter of a pixel away', () => {
    const kept = sparse(curve);
    expect(kept.length).toBeLessThan(60);
    for (const [x, y] of curve) {
      const near = kept.slice(1).map((b, i) => {
        const a = kept[i]!;
        const t = Math.max(
          0,
          Math.min(1, ((x - a[0]) * (b[0] - a[0]) + (y - a[1]) * (b[1] - a[1])) / ((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2)),
        );
        return Math.hypot(x - a[0] - t * (b[0] - a[0]), y - a[1] - t * (b[1] - a[1]));
      });
      expect(Math.min(...near)).toBeLessThan(0.25 + 0.08);
    }
    expect(kept[0]).toEqual([0.1, 0]);
  });

  it('keeps a dot, a straight line by its ends, and a line there and back', () => {
    expect(sparse([[1, 2]])).toEqual([[1, 2]]);
    expect(
      sparse([
        [0, 0],
        [5, 5],
        [10, 10],
      ]),
    ).toEqual([
      [0, 0],
      [10, 10],
    ]);
    expect(
      sparse([
        [0, 0],
        [10, 0],
        [0, 0],
      ]),
    ).toEqual([
      [0, 0],
      [10, 0],
      [0, 0],
    ]);
  });
});
