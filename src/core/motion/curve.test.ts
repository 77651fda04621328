import { describe, expect, it } from 'vitest';
import { areaUnder, channelAt, easeShare, keysAround, speedAt, type Channel, type ValueKey } from './curve';
import { EASE_NAMES, EASE_SHAPES, easeBetween, easedKeys } from './eases';
import { easeKeys, moveKeys, pasteKeys, raiseKeys, toggleKeyAt, withKeyAt, withoutKeys, withSpeed, withValueAt } from './key-edits';

const keys: readonly ValueKey[] = [
  { frame: 10, value: 0, into: 'straight', out: 'straight' },
  { frame: 20, value: 100, into: 'straight', out: 'hold' },
  { frame: 30, value: 50, into: 'straight', out: [1 / 3, 0] },
  { frame: 40, value: 150, into: [1 / 3, 0], out: 'straight' },
];

/** Numbers from 0 to 1 that are the same every time. */
function random(seed: number): () => number {
  let state = seed;
  return () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
}

function randomKeys(seed: number): readonly ValueKey[] {
  const next = random(seed);
  let frame = -20;
  return Array.from({ length: 6 }, () => ({
    frame: (frame += 1 + Math.floor(12 * next())),
    value: 200 * next() - 100,
    into: next() < 0.2 ? ('straight' as const) : ([next(), next()] as const),
    out: next() < 0.15 ? ('hold' as const) : ([next(), next()] as const),
  }));
}

describe('channelAt', () => {
  it('holds the end values outside the keys', () => {
    expect(channelAt(keys, -5)).toBe(0);
    expect(channelAt(keys, 99)).toBe(150);
  });

  it('goes straight, holds, and eases as a smooth step', () => {
    expect(channelAt(keys, 15)).toBeCloseTo(50, 9);
    expect(channelAt(keys, 29)).toBe(100);
    expect(channelAt(keys, 30)).toBe(50);
    expect(channelAt(keys, 35)).toBeCloseTo(100, 9);
    expect(channelAt(keys, 32.5)).toBeCloseTo(50 + 100 * 0.15625, 9);
  });

  it('is exact on keys and stays between handles’ bounds, whatever the handles', () => {
    for (let seed = 1; seed < 200; seed++) {
      const curve = randomKeys(seed);
      for (const k of curve) expect(channelAt(curve, k.frame)).toBe(k.value);
      for (let i = 0; i + 1 < curve.length; i++) {
        const [p, q] = [curve[i]!, curve[i + 1]!];
        for (let f = p.frame; f < q.frame; f += 0.37) {
          const v = channelAt(curve, f);
          expect(v).toBeGreaterThanOrEqual(Math.min(p.value, q.value) - 1e-9);
          expect(v).toBeLessThanOrEqual(Math.max(p.value, q.value) + 1e-9);
        }
      }
    }
  });

  it('goes by equal factors where sizes are asked for', () => {
    const zoom = easedKeys('straight', [0, 1], [10, 16]);
    expect(channelAt(zoom, 5, 1, 'factors')).toBeCloseTo(4, 9);
    expect(channelAt(zoom, 2.5, 1, 'factors')).toBeCloseTo(2, 9);
    // through nothing there are no factors: it goes by steps
    expect(channelAt(easedKeys('straight', [0, 0], [10, 4]), 5, 1, 'factors')).toBeCloseTo(2, 9);
  });

  it('is a constant when it is a number, and falls back without keys', () => {
    expect(channelAt(0.3, 17)).toBe(0.3);
    expect(channelAt([], 4, 1)).toBe(1);
  });
});

describe('speedAt', () => {
  it('is the derivative of the value', () => {
    for (const spacing of ['steps', 'factors'] as const) {
      const curve = easedKeys('late rush', [0, 2], [24, 9], [40, 3]);
      const log = (f: number): number => (spacing === 'factors' ? Math.log(channelAt(curve, f, 0, spacing)) : channelAt(curve, f));
      for (const f of [3.3, 12, 20.5, 30, 39]) expect(speedAt(curve, f, spacing)).toBeCloseTo((log(f + 1e-4) - log(f - 1e-4)) / 2e-4, 3);
    }
  });

  it('is nothing where the value holds', () => {
    expect([5, 25, 50].map((f) => speedAt(keys, f))).toEqual([0, 0, 0]);
  });
});

describe('areaUnder', () => {
  it('agrees with adding up small steps, also backwards and beyond the keys', () => {
    for (let seed = 1; seed < 30; seed++) {
      const curve = randomKeys(seed);
      const [from, to] = [-30.5, 61.25];
      let sum = 0;
      const n = 40_000;
      for (let i = 0; i < n; i++) sum += (channelAt(curve, from + ((i + 0.5) / n) * (to - from)) * (to - from)) / n;
      expect(areaUnder(curve, from, to)).toBeCloseTo(sum, 0);
      expect(areaUnder(curve, to, from)).toBeCloseTo(-areaUnder(curve, from, to), 9);
      expect(areaUnder(curve, from, 3) + areaUnder(curve, 3, to)).toBeCloseTo(areaUnder(curve, from, to), 9);
    }
  });

  it('of a constant is a product', () => {
    expect(areaUnder(2, 3, 10)).toBe(14);
    expect(areaUnder(easedKeys('straight', [0, 1], [10, 3]), 0, 10)).toBeCloseTo(20, 9);
  });
});

it('finds no keys in an empty list', () => {
  expect(keysAround([], 3)).toBeNull();
});

it.each(['soft both', 'straight', 'hold'] as const)('%s of an outline starts at the first key and ends at the second', (ease) => {
  expect(easeShare(ease, 0)).toBe(0);
  expect(easeShare(ease, 1)).toBe(1);
});

describe('eases', () => {
  it('are known again by their handles', () => {
    for (const name of EASE_NAMES) {
      const [p, q] = easedKeys(name, [0, 1], [10, 2]);
      expect(easeBetween(p!, q!)).toBe(name);
    }
    expect(easeBetween({ ...keys[0]!, out: [0.2, 0.9] }, keys[1]!)).toBeNull();
  });

  it('rush late or early', () => {
    const half = (name: (typeof EASE_NAMES)[number]): number => channelAt(easedKeys(name, [0, 0], [10, 1]), 5);
    expect(half('late rush')).toBeLessThan(0.25);
    expect(half('early rush')).toBeGreaterThan(0.75);
    expect(half('hold')).toBe(0);
  });
});

describe('changes to keys', () => {
  it('set a value at a frame: a constant becomes that, keys get one there', () => {
    expect(withValueAt(0.3, 17, 0.5)).toBe(0.5);
    const more = withValueAt(keys, 25, 7);
    expect(more).toHaveLength(5);
    expect(channelAt(more, 25)).toBe(7);
    expect([10, 20, 30, 40].map((f) => channelAt(more, f))).toEqual([0, 100, 50, 150]);
    expect(withValueAt(keys, 20, 3)).toHaveLength(4);
    expect(channelAt(withValueAt(keys, 5, 9), 5)).toBe(9);
  });

  it('key a constant at a frame and make it constant again', () => {
    const keyed = toggleKeyAt(4, 12);
    expect(keyed).toMatchObject([{ frame: 12, value: 4 }]);
    expect(toggleKeyAt(keyed, 12)).toBe(4);
    expect(withKeyAt(4, 3, 9)).toMatchObject([{ frame: 3, value: 9 }]);
  });

  it('move and stretch keys in time, keeping shapes', () => {
    const all = new Set(keys.map((k) => k.frame));
    const stretched = moveKeys(keys, all, (f) => 10 + 2 * (f - 10)) as readonly ValueKey[];
    expect(stretched.map((k) => k.frame)).toEqual([10, 30, 50, 70]);
    for (const f of [12, 17, 33, 38]) expect(channelAt(stretched, 10 + 2 * (f - 10))).toBeCloseTo(channelAt(keys, f), 9);
    // squeezed together, each keeps a frame of its own
    expect((moveKeys(keys, all, () => 5) as readonly ValueKey[]).map((k) => k.frame)).toEqual([5, 6, 7, 8]);
    // a key in the way gives way
    expect((moveKeys(keys, new Set([10]), () => 20) as readonly ValueKey[]).map((k) => [k.frame, k.value])).toEqual([
      [20, 0],
      [30, 50],
      [40, 150],
    ]);
  });

  it('raise, delete, ease and paste', () => {
    expect((raiseKeys(keys, new Set([20]), 5, 0, 102) as readonly ValueKey[])[1]!.value).toBe(102);
    expect(withoutKeys(keys, new Set([10, 20, 30, 40]))).toBe(0);
    const eased = easeKeys(keys, new Set([10]), EASE_SHAPES['soft both']) as readonly ValueKey[];
    expect([eased[0]!.out, eased[1]!.into, eased[1]!.out]).toEqual([[1 / 3, 0], [1 / 3, 0], 'hold']);
    const pasted = pasteKeys(keys, easedKeys('straight', [0, 1], [12, 2]), 18) as readonly ValueKey[];
    expect(pasted.map((k) => k.frame)).toEqual([10, 18, 30, 40]);
  });

  it('bend the speed without touching end values', () => {
    const curve = easedKeys('soft both', [0, 0], [10, 1]);
    const early = withSpeed(curve, 0, 0.1, 3);
    expect(early.map((k) => k.value)).toEqual([0, 1]);
    expect(channelAt(early, 3)).toBeGreaterThan(channelAt(curve, 3));
    const late = withSpeed(curve, 0, 0.9, 3);
    expect(channelAt(late, 7)).toBeLessThan(channelAt(curve, 7));
    const values = Array.from({ length: 11 }, (_, f) => channelAt(late as Channel, f));
    expect(values.every((v, i) => i === 0 || v >= values[i - 1]! - 1e-9)).toBe(true);
  });
});
