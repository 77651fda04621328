import { describe, expect, it } from 'vitest';
import { createPlane, type Plane } from '../../image/pixels';
import { corner, pointsAt, type Outline } from './outline';
import { carriedPoints, withCarried } from './carry-outline';

/** A textured patch over a still, textured ground, `frame` frames on its way. */
function scene(frame: number): Plane {
  const plane = createPlane(160, 96);
  const texture = (x: number, y: number): number => 30 * Math.sin(x / 3.1 + Math.sin(y / 4.3)) + 30 * Math.cos(y / 3.7 + x / 9);
  for (let y = 0; y < 96; y++)
    for (let x = 0; x < 160; x++) {
      const [u, v] = [x - 60 - 2.5 * frame, y - 40 - frame];
      const inside = Math.abs(u) < 26 && Math.abs(v) < 22;
      plane.data[y * 160 + x] = 120 + (inside ? 40 + texture(u + 300, v) : texture(x, y + 500) - 40);
    }
  return plane;
}

describe('points carried by motion', () => {
  it('go with what they lie on, in pixels of a larger medium, handles too', () => {
    const start = [
      { ...corner(4 * (60 - 80 - 12), 4 * (40 - 48)), outX: 16 },
      corner(4 * (60 - 80 + 12), 4 * (40 - 48 + 8)),
      corner(4 * (150 - 80), 4 * (85 - 48)),
    ];
    let points = start;
    for (let frame = 0; frame < 6; frame++) points = carriedPoints(points, scene(frame), scene(frame + 1), 4);
    for (const i of [0, 1]) {
      expect(Math.abs(points[i]!.x - start[i]!.x - 4 * 15)).toBeLessThan(2);
      expect(Math.abs(points[i]!.y - start[i]!.y - 4 * 6)).toBeLessThan(2);
    }
    expect(points[0]!.outX).toBeCloseTo(16, -0.5);
    expect(Math.hypot(points[2]!.x - start[2]!.x, points[2]!.y - start[2]!.y)).toBeLessThan(1);
  });
});

describe('an outline with what it was carried to', () => {
  const empty: Outline = { closed: false, keys: [{ frame: 10, ease: 'straight', points: [corner(0, 0), corner(5, 5)] }] };

  it('has few keys, and every shape within a pixel', () => {
    const shapes = Array.from({ length: 21 }, (_, i) => ({
      frame: 10 + i,
      points: [corner(i < 10 ? 2 * i : 20, 0), corner(5, 5 + 0.02 * i * i)],
    }));
    const made = withCarried(empty, shapes);
    expect(made.keys.length).toBeLessThan(9);
    for (const { frame, points } of shapes)
      pointsAt(made, frame).forEach((p, i) => expect(Math.hypot(p.x - points[i]!.x, p.y - points[i]!.y)).toBeLessThan(0.7));
  });

  it('is carried backwards as well, other keys kept', () => {
    const two: Outline = { ...empty, keys: [...empty.keys, { frame: 40, ease: 'straight', points: [corner(9, 9), corner(6, 6)] }] };
    const shapes = [10, 9, 8].map((frame) => ({ frame, points: [corner(10 - frame, 0), corner(5, 5)] }));
    expect(withCarried(two, shapes).keys.map((k) => k.frame)).toEqual([8, 10, 40]);
  });
});
