import { describe, expect, it } from 'vitest';
import { easedKeys } from '../../core/motion/eases';
import { handleAt, handlesOf, ribbonPath, valuePath, valueScale, VALUE } from './lane-geometry';

const keys = easedKeys('soft both', [0, 10], [20, 30]);
const toX = (t: number): number => 10 * t;

describe('a lane', () => {
  const scale = valueScale(keys, 'steps');

  it('lays values between its edges, and takes heights back to values', () => {
    expect(scale.y(10)).toBeGreaterThan(scale.y(30));
    expect(scale.value(scale.y(17))).toBeCloseTo(17, 9);
    const flat = valueScale(5, 'steps');
    expect(flat.y(5)).toBeCloseTo(VALUE / 2, 9);
  });

  it('draws its value through every key, and its speed as nothing where nothing changes', () => {
    const path = valuePath(keys, 'steps', scale, toX, -5, 25, 10);
    expect(path.startsWith('M-50')).toBe(true);
    expect(path).toContain(`L0 ${scale.y(10)}`);
    expect(path).toContain(`L200 ${scale.y(30)}`);
    expect(ribbonPath(7, 'steps', toX, 0, 20, 10)).toBe('');
    expect(ribbonPath(keys, 'steps', toX, 0, 20, 10).endsWith('Z')).toBe(true);
  });

  it('shows handles where their shares lie, and reads them back', () => {
    const [out] = handlesOf(keys, 0, scale);
    expect(out).toMatchObject({ side: 'out', y: scale.y(10) });
    expect(out!.time).toBeCloseTo(20 / 3, 9);
    expect(handlesOf(keys, 1, scale).map((h) => h.side)).toEqual(['into']);
    const read = handleAt(keys, 0, 'out', 5, scale.y(15), scale)!;
    expect(read[0]).toBeCloseTo(0.25, 9);
    expect(read[1]).toBeCloseTo(0.25, 9);
    // a handle never goes past its own key
    expect(handleAt(keys, 0, 'out', -3, scale.y(10), scale)![0]).toBe(0);
  });
});
