import { describe, expect, it } from 'vitest';
import { easedKeys } from '../../core/motion/eases';
import { handleAt, handlesOf, ribbonPath, VALUE, valuePath, valueScale } from './lane-geometry';

const RAMP = easedKeys('straight', [0, 0], [10, 100]);
const toX = (time: number): number => 10 * time;
const pointsOf = (path: string): number[][] =>
  path
    .replace(/Z$/, '')
    .split(/[ML]/)
    .filter((p) => p !== '')
    .map((p) => p.split(' ').map(Number));

describe('the height of values', () => {
  it('holds all a curve goes through, and gives back the value of a height', () => {
    const scale = valueScale(RAMP, 'steps');
    expect([scale.low, scale.high]).toEqual([0, 100]);
    expect(scale.y(100)).toBeLessThan(scale.y(0));
    for (const value of [0, 33, 100]) expect(scale.value(scale.y(value))).toBeCloseTo(value, 9);
  });

  it('lays what never changes in the middle', () => {
    for (const value of [0, 5, -3]) expect(valueScale(value, 'steps').y(value)).toBeCloseTo(VALUE / 2, 6);
  });

  it('has room for a curve that goes beyond its keys', () => {
    const over = [
      { frame: 0, value: 0, into: 'straight', out: [0.3, 2] },
      { frame: 10, value: 1, into: [0.3, 0], out: 'straight' },
    ] as const;
    expect(valueScale(over, 'steps').high).toBeGreaterThan(1.1);
  });
});

describe('a curve as a line', () => {
  it('goes from the first frame in sight to the last, through its keys', () => {
    const scale = valueScale(RAMP, 'steps');
    const points = pointsOf(valuePath(RAMP, 'steps', scale, toX, -2, 12, 10));
    expect(points[0]![0]).toBe(-20);
    expect(points.at(-1)![0]).toBeGreaterThan(115);
    for (const [x, value] of [
      [0, 0],
      [100, 100],
    ] as const)
      expect(points.find((p) => p[0] === x)![1]).toBeCloseTo(scale.y(value), 9);
    for (const [x, y] of points) if (x! >= 0 && x! <= 100) expect(scale.value(y!)).toBeCloseTo(x!, 6);
  });

  it('steps at once where a key holds', () => {
    const held = [
      { frame: 0, value: 0, into: 'straight', out: 'hold' },
      { frame: 5, value: 1, into: 'straight', out: 'straight' },
    ] as const;
    const scale = valueScale(held, 'steps');
    const at5 = pointsOf(valuePath(held, 'steps', scale, toX, 0, 9, 10)).filter(([x]) => x === 50);
    expect(at5.map(([, y]) => y)).toEqual([scale.y(0), scale.y(1)]);
  });
});

describe('the ribbon of its speed', () => {
  it('is as thick all along where the speed is the same, and is none where nothing moves', () => {
    const points = pointsOf(ribbonPath(RAMP, 'steps', toX, 1, 9, 10));
    const half = points.length / 2;
    const thick = points.slice(0, half).map(([, y], i) => points[points.length - 1 - i]![1]! - y!);
    for (const t of thick) expect(t).toBeCloseTo(28, 6);
    expect(ribbonPath(3, 'steps', toX, 0, 9, 10)).toBe('');
  });
});

describe('handles', () => {
  const soft = easedKeys('soft both', [0, 0], [10, 100]);

  it('lie between their key and its neighbour, and give back the share they were drawn from', () => {
    const scale = valueScale(soft, 'steps');
    const [out] = handlesOf(soft, 0, scale);
    expect(out).toMatchObject({ side: 'out' });
    expect(out!.time).toBeGreaterThan(0);
    expect(out!.time).toBeLessThan(10);
    const [share] = handleAt(soft, 0, 'out', out!.time, out!.y, scale)!;
    expect(share).toBeCloseTo(out!.time / 10, 9);
    expect(handlesOf(soft, 1, scale).map((h) => h.side)).toEqual(['into']);
  });

  it('reach no further than the neighbour, and not to the other side of their key', () => {
    const scale = valueScale(soft, 'steps');
    expect(handleAt(soft, 0, 'out', 25, 0, scale)![0]).toBe(1);
    expect(handleAt(soft, 0, 'out', -3, 0, scale)![0]).toBe(0);
    expect(handleAt(soft, 0, 'into', 3, 0, scale)).toBeNull();
  });
});
