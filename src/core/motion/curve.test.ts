import { describe, expect, it } from 'vitest';
import { channelAt, easeShare, keysAround, withValueAt, type ValueKey } from './curve';

const keys: ValueKey[] = [
  { frame: 10, ease: 'straight', value: 0 },
  { frame: 20, ease: 'hold', value: 100 },
  { frame: 30, ease: 'soft both', value: 50 },
  { frame: 40, ease: 'straight', value: 150 },
];

describe('channelAt', () => {
  it('holds the end values outside the keys', () => {
    expect(channelAt(keys, -5)).toBe(0);
    expect(channelAt(keys, 99)).toBe(150);
  });

  it('goes straight, holds, and eases', () => {
    expect(channelAt(keys, 15)).toBe(50);
    expect(channelAt(keys, 29)).toBe(100);
    expect(channelAt(keys, 30)).toBe(50);
    expect(channelAt(keys, 35)).toBe(100);
    expect(channelAt(keys, 32.5)).toBeCloseTo(50 + 100 * 0.15625, 12);
  });

  it('is a constant when it is a number', () => {
    expect(channelAt(0.3, 17)).toBe(0.3);
  });

  it('falls back without keys', () => {
    expect(channelAt([], 4, 1)).toBe(1);
  });
});

it('finds no keys in an empty list', () => {
  expect(keysAround([], 3)).toBeNull();
});

it.each(['soft both', 'straight', 'hold'] as const)('%s starts at the first key and ends at the second', (ease) => {
  expect(easeShare(ease, 0)).toBe(0);
  expect(easeShare(ease, 1)).toBe(1);
});

describe('withValueAt', () => {
  it('replaces a constant, and adds or changes one key of a keyed channel', () => {
    expect(withValueAt(0.3, 17, 0.5)).toBe(0.5);
    const more = withValueAt(keys, 25, 7);
    expect(more).toHaveLength(5);
    expect(channelAt(more, 25)).toBe(7);
    expect([10, 20, 30, 40].map((f) => channelAt(more, f))).toEqual([0, 100, 50, 150]);
    expect(withValueAt(keys, 20, 3)).toHaveLength(4);
    expect(channelAt(withValueAt(keys, 5, 9), 5)).toBe(9);
  });
});
