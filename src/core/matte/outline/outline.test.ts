import { describe, expect, it } from 'vitest';
import {
  appendPoint,
  closeOutline,
  copyKey,
  corner,
  deleteKey,
  flattenOutline,
  insertPoint,
  moveKey,
  pointsAt,
  removePoints,
  setPoints,
  sideAt,
  type Outline,
  type OutlinePoint,
} from './outline';

const square = (x: number, size = 10): OutlinePoint[] => [corner(x, 0), corner(x + size, 0), corner(x + size, size), corner(x, size)];
const moving: Outline = {
  closed: true,
  keys: [
    { frame: 0, ease: 'straight', points: square(0) },
    { frame: 10, ease: 'straight', points: square(100) },
  ],
};
const frames = (o: Outline): number[] => o.keys.map((k) => k.frame);

/** Four cubics that approximate a circle to 0.03 % of its radius. */
const circle = (r: number): OutlinePoint[] => {
  const k = 0.5522847498 * r;
  return [
    { x: r, y: 0, inX: 0, inY: -k, outX: 0, outY: k },
    { x: 0, y: r, inX: k, inY: 0, outX: -k, outY: 0 },
    { x: -r, y: 0, inX: 0, inY: k, outX: 0, outY: -k },
    { x: 0, y: -r, inX: -k, inY: 0, outX: k, outY: 0 },
  ];
};

describe('keyframes', () => {
  it('interpolates between them and holds outside', () => {
    expect(pointsAt(moving, 5)[0]).toMatchObject({ x: 50, y: 0 });
    expect(pointsAt(moving, -3)[0]).toMatchObject({ x: 0 });
    expect(pointsAt(moving, 12)[0]).toMatchObject({ x: 100 });
  });

  it('appear where points are moved on a frame without one, and change where there is one', () => {
    const added = setPoints(moving, 5, square(70));
    expect(frames(added)).toEqual([0, 5, 10]);
    expect(frames(setPoints(added, 5, square(60)))).toEqual([0, 5, 10]);
    expect(pointsAt(added, 5)[0]).toMatchObject({ x: 70 });
  });

  it('move, replacing what stands there, and copy', () => {
    expect(frames(moveKey(moving, 0, 4))).toEqual([4, 10]);
    expect(frames(moveKey(moving, 0, 10))).toEqual([10]);
    expect(pointsAt(moveKey(moving, 0, 10), 10)[0]).toMatchObject({ x: 0 });
    expect(frames(copyKey(moving, 0, 20))).toEqual([0, 10, 20]);
  });

  it('are deleted, but never the last one', () => {
    const one = deleteKey(moving, 0);
    expect(frames(one)).toEqual([10]);
    expect(deleteKey(one, 10)).toBe(one);
  });
});

describe('drawing', () => {
  it('adds points one by one and closes with three or more', () => {
    let drawn: Outline = { closed: false, keys: [] };
    for (const p of square(0).slice(0, 2)) drawn = appendPoint(drawn, 7, p);
    expect(() => closeOutline(drawn)).toThrow(RangeError);
    drawn = closeOutline(appendPoint(drawn, 7, corner(5, 5)));
    expect(drawn.closed).toBe(true);
    expect(frames(drawn)).toEqual([7]);
  });

  it('removes points in every key, and everything when too few are left', () => {
    const three = removePoints(moving, new Set([1]));
    expect(three.keys.map((k) => k.points.length)).toEqual([3, 3]);
    expect(removePoints(three, new Set([0]))).toEqual({ closed: false, keys: [] });
  });
});

describe('insertPoint', () => {
  it('leaves the shape of every key as it was', () => {
    const outline: Outline = { closed: true, keys: [{ frame: 0, ease: 'hold', points: circle(50) }] };
    const after = insertPoint(outline, 1, 0.3).keys[0]!.points;
    expect(after).toHaveLength(5);
    for (let i = 0; i <= 20; i++) {
      const before = sideAt(circle(50)[1]!, circle(50)[2]!, i / 20);
      const t = i / 20;
      const now = t < 0.3 ? sideAt(after[1]!, after[2]!, t / 0.3) : sideAt(after[2]!, after[3]!, (t - 0.3) / 0.7);
      expect(now.x).toBeCloseTo(before.x, 9);
      expect(now.y).toBeCloseTo(before.y, 9);
    }
  });

  it('puts a corner on a straight side, also on the one that closes the shape', () => {
    expect(insertPoint(moving, 3, 0.5).keys[0]!.points[4]).toEqual(corner(0, 5));
  });
});

describe('flattenOutline', () => {
  it('keeps corners as they are', () => {
    expect([...flattenOutline(square(0))]).toEqual([0, 0, 10, 0, 10, 10, 0, 10]);
  });

  it('stays within its tolerance of a circle', () => {
    const polygon = flattenOutline(circle(200), 0.05);
    for (let i = 0; i < polygon.length; i += 2) {
      const j = (i + 2) % polygon.length;
      const middle = Math.hypot((polygon[i]! + polygon[j]!) / 2, (polygon[i + 1]! + polygon[j + 1]!) / 2);
      expect(Math.abs(middle - 200)).toBeLessThan(0.05 + 200 * 0.0003);
    }
  });
});
