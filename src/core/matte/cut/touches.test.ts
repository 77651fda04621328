import { describe, expect, it } from 'vitest';
import { createPlane } from '../../image/pixels';
import { hasPaint, markOf, placeStrokes, type Touch } from './strokes';
import { paintTouches } from './touches';

const touch = (covers: boolean, radius: number, ...points: [number, number][]): Touch => ({ covers, radius, points });

describe('paint on the matte itself', () => {
  it('covers a disc, one pixel soft', () => {
    const plane = createPlane(20, 20);
    paintTouches(plane, [touch(true, 5, [10, 10])]);
    expect(plane.data.reduce((sum, v) => sum + v, 0)).toBeCloseTo(Math.PI * 25, -0.7);
    expect(plane.data[10 * 20 + 10]).toBe(1);
    expect(plane.data[10 * 20 + 17]).toBe(0);
  });

  it('lies in its order: what is painted out last is out', () => {
    const plane = createPlane(20, 20);
    paintTouches(plane, [touch(true, 8, [10, 10]), touch(false, 4, [10, 10]), touch(true, 2, [10, 10])]);
    expect(plane.data[10 * 20 + 10]).toBe(1);
    expect(plane.data[10 * 20 + 12]).toBe(0);
    expect(plane.data[10 * 20 + 15]).toBe(1);
  });

  it('does not harden its soft edge where its segments meet', () => {
    const once = createPlane(30, 20);
    const often = createPlane(30, 20);
    paintTouches(once, [touch(true, 4, [5, 10], [25, 10])]);
    paintTouches(often, [touch(true, 4, [5, 10], [10, 10], [15, 10], [20, 10], [25, 10])]);
    expect([...often.data].map((v) => v.toFixed(5))).toEqual([...once.data].map((v) => v.toFixed(5)));
  });

  it('beyond the picture does nothing', () => {
    const plane = createPlane(4, 4);
    paintTouches(plane, [touch(true, 3, [-20, -20], [-20, 30])]);
    expect(plane.data.every((v) => v === 0)).toBe(true);
  });

  it('tells paint apart and is placed with it', () => {
    const none = { keep: [], drop: [] };
    const one = { ...none, touches: [touch(true, 2, [1, 2])] };
    expect([hasPaint(none), hasPaint(one)]).toEqual([false, true]);
    expect(markOf(one)).not.toBe(markOf(none));
    expect(markOf(one)).not.toBe(markOf({ ...none, touches: [touch(false, 2, [1, 2])] }));
    expect(placeStrokes(one, 2, 10, 20).touches).toEqual([touch(true, 4, [12, 24])]);
  });
});
