import { describe, expect, it } from 'vitest';
import { scaling } from '../../core/geometry/matrix';
import { corner, sideAt } from '../../core/matte/outline/outline';
import { nearestOnOutline, outlinePath, toggleCurve } from './outline-geometry';

const square = [corner(0, 0), corner(10, 0), corner(10, 10), corner(0, 10)];

describe('outlinePath', () => {
  it('goes through all points, and back to the first when closed', () => {
    expect(outlinePath([], scaling(1), false)).toBe('');
    expect(outlinePath(square.slice(0, 2), scaling(2), false)).toBe('M0 0C0 0 20 0 20 0');
    expect(outlinePath(square, scaling(1), true).match(/C/g)).toHaveLength(4);
    expect(outlinePath(square, scaling(1), true).endsWith('0 0Z')).toBe(true);
  });

  it('scales handles with their points', () => {
    const curved = [{ ...corner(0, 0), outX: 3, outY: 1 }, corner(10, 0)];
    expect(outlinePath(curved, scaling(2), false)).toBe('M0 0C6 2 20 0 20 0');
  });
});

describe('nearestOnOutline', () => {
  it('tells the side and the place on it', () => {
    const { side, t } = nearestOnOutline(square, { x: 9, y: 4 });
    expect(side).toBe(1);
    const p = sideAt(square[1]!, square[2]!, t);
    expect(Math.abs(p.y - 4)).toBeLessThan(0.3);
  });

  it('takes the closing side too', () => {
    expect(nearestOnOutline(square, { x: -3, y: 5 }).side).toBe(3);
  });
});

describe('toggleCurve', () => {
  it('bends a corner along the line between its neighbours, and back', () => {
    const bent = toggleCurve(square, 1);
    const { inX, inY, outX, outY } = bent[1]!;
    // its neighbours are (0, 0) and (10, 10)
    expect(outX).toBeCloseTo(10 / 6, 9);
    expect(outY).toBeCloseTo(10 / 6, 9);
    expect([inX, inY]).toEqual([-outX, -outY]);
    expect(toggleCurve(bent, 1)[1]).toMatchObject({ x: 10, y: 0, outX: 0, outY: 0 });
    expect(bent[0]).toBe(square[0]);
  });
});
