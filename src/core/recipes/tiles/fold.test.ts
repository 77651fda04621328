import { describe, expect, it } from 'vitest';
import { corner, type OutlinePoint } from '../../matte/outline/outline';
import { foldInto, regularShape } from './fold';
import { chances } from '../test-joins';

const [W, H] = [160, 90];
const area = (points: readonly { x: number; y: number }[]): number =>
  points.reduce((sum, p, i) => sum + p.x * points[(i + 1) % points.length]!.y - points[(i + 1) % points.length]!.x * p.y, 0) / 2;

describe('a fold', () => {
  it('is the whole frame at first and the shape at last, with as many points', () => {
    const shape = regularShape(3, 40, 0);
    const { open, folded } = foldInto(shape, W, H);
    expect(open).toHaveLength(folded.length);
    expect(area(open)).toBeCloseTo(W * H, 6);
    expect(area(folded)).toBeCloseTo(Math.abs(area(shape)), 6);
    const places = new Set(folded.map((p) => `${p.x.toFixed(3)} ${p.y.toFixed(3)}`));
    // its four corners meet in three
    expect([open.length, places.size]).toEqual([7, 3]);
  });

  it('keeps a drawn shape, whichever way round it was drawn, and its curves', () => {
    const drawn: OutlinePoint[] = [corner(0, -30), corner(-35, 0), { ...corner(0, 30), inX: -8, inY: 0, outX: 8, outY: 0 }, corner(40, 5)];
    const { open, folded } = foldInto(drawn, W, H);
    expect(area(open)).toBeCloseTo(W * H, 6);
    expect(area(folded)).toBeCloseTo(Math.abs(area(drawn)), 6);
    const curved = folded.filter((p) => p.x === 0 && p.y === 30);
    expect(curved.map((p) => Math.abs(p.inX) + Math.abs(p.outX)).reduce((a, b) => a + b)).toBe(16);
  });

  it('has a frame and a shape of full size for 200 random shapes', () => {
    const chance = chances(2);
    for (let n = 0; n < 200; n++) {
      const count = 3 + chance(8);
      const start = chance(360);
      const shape = Array.from({ length: count }, (_, i) => {
        const angle = ((start + (360 * i) / count) * Math.PI) / 180;
        const r = 8 + chance(60);
        return corner(r * Math.cos(angle), r * Math.sin(angle));
      });
      const { open, folded } = foldInto(chance(2) === 0 ? shape : [...shape].reverse(), W, H);
      expect(area(open)).toBeCloseTo(W * H, 4);
      expect(area(folded)).toBeCloseTo(Math.abs(area(shape)), 4);
    }
  });
});
