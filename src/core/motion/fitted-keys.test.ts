import { describe, expect, it } from 'vitest';
import { channelAt } from './curve';
import { fittedKeys } from './fitted-keys';

describe('fitted keys', () => {
  const smooth = Array.from({ length: 60 }, (_, i) => 40 * (1 - Math.cos((Math.PI * Math.min(i, 40)) / 40)));

  it('show a row of values within what is allowed, by far fewer keys', () => {
    const keys = fittedKeys(smooth, 100, { below: 0.05, above: 0.1 }) as Exclude<ReturnType<typeof fittedKeys>, number>;
    expect(keys.length).toBeLessThan(12);
    smooth.forEach((v, i) => {
      const off = channelAt(keys, 100 + i) - v;
      expect(off).toBeGreaterThanOrEqual(-0.0501);
      expect(off).toBeLessThanOrEqual(0.1001);
    });
  });

  it('never go beyond where the values come to rest', () => {
    const keys = fittedKeys(smooth, 0, { below: 1, above: 1 });
    for (let f = 0; f < 60; f += 0.25) expect(channelAt(keys, f)).toBeLessThanOrEqual(80 + 1e-9);
  });

  it('of values that do not change are a constant', () => {
    expect(fittedKeys([3, 3, 3], 0, { below: 0.1, above: 0.1 })).toBe(3);
    expect(fittedKeys([0, 0], 0, { below: 0.1, above: 0.1 }, Math.exp)).toBe(1);
  });

  it('follow any row exactly where nothing is allowed', () => {
    const rough = [1, 5, 2, 9, 9, 4];
    const keys = fittedKeys(rough, 0, { below: 0, above: 0 });
    rough.forEach((v, i) => expect(channelAt(keys, i)).toBeCloseTo(v, 9));
  });
});
