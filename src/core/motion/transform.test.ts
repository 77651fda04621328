import { describe, expect, it } from 'vitest';
import { apply, depthAt } from '../geometry/matrix';
import { motionAt, STILL, type Motion } from './motion';
import { clippedBehindEye, eyeDistance, IN_PLACE, placementOf, placeThen, seen, undone } from './transform';

const at = (motion: Partial<Motion>, x: number, y: number, distance = 1000): number[] => {
  const p = apply(seen(motionAt({ ...STILL, ...motion }, 0), distance), { x, y });
  return [p.x, p.y].map((v) => Math.round(v * 1e6) / 1e6);
};

describe('a motion', () => {
  it('that is still leaves the plane as it is', () => {
    expect(seen(motionAt(STILL, 0), 1000)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
  });

  it('scales and turns about its pivot, then moves', () => {
    expect(at({ scale: 2, pivotX: 10 }, 10, 0)).toEqual([10, 0]);
    expect(at({ scale: 2, pivotX: 10 }, 20, 5)).toEqual([30, 10]);
    expect(at({ turn: 90, pivotX: 10 }, 20, 0)).toEqual([10, 10]);
    expect(at({ turn: 90, x: 3, y: 4 }, 1, 0)).toEqual([3, 5]);
    expect(at({ stretch: 0.5 }, 10, 10)).toEqual([5, 10]);
    expect(at({ flip: 'across', pivotX: 4 }, 6, 1)).toEqual([2, 1]);
  });

  it('in depth shows smaller, by the eye’s distance', () => {
    expect(at({ depth: 1000 }, 10, 20)).toEqual([5, 10]);
    expect(at({ depth: -500 }, 10, 20)).toEqual([20, 40]);
    expect(eyeDistance(1280, 36)).toBe(1280);
  });

  it('tilted lands by perspective: the side that comes nearer is larger', () => {
    const map = seen(motionAt({ ...STILL, tiltY: 60 }, 0), 200);
    const [left, right] = [apply(map, { x: -50, y: 10 }), apply(map, { x: 50, y: 10 })];
    // worked by hand: x·cos 60 = 25, z = −x·sin 60
    const z = 50 * Math.sin(Math.PI / 3);
    expect(left.x).toBeCloseTo((-25 * 200) / (200 + z), 9);
    expect(right.x).toBeCloseTo((25 * 200) / (200 - z), 9);
    expect(right.y).toBeGreaterThan(left.y);
  });
});

it('undoes a camera’s placement', () => {
  const camera = placementOf({ x: 5, y: -7, depth: 30, scale: 1, stretch: 1, turn: 20, tiltX: 10, tiltY: -35, pivotX: 0, pivotY: 0 });
  placeThen(camera, undone(camera)).forEach((v, i) => expect(v).toBeCloseTo(IN_PLACE[i]!, 9));
});

it('clips what lies behind the eye instead of flipping it', () => {
  // the plane leans back through the eye: its lower edge lies behind it
  const map = seen(motionAt({ ...STILL, tiltX: 80, depth: -150 }, 0), 200);
  const plane = [
    { x: -100, y: -100 },
    { x: 100, y: -100 },
    { x: 100, y: 100 },
    { x: -100, y: 100 },
  ];
  expect(plane.some((p) => depthAt(map, p) < 0)).toBe(true);
  const clipped = clippedBehindEye(plane, map);
  expect(clipped.length).toBeGreaterThanOrEqual(3);
  expect(clipped.every((p) => depthAt(map, p) > 0)).toBe(true);
});
