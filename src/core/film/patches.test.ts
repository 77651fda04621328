import { applyPatches, enablePatches, type Patch } from 'immer';
import { describe, expect, it } from 'vitest';
import { patchesBetween, requirePlace } from './patches';

enablePatches();

const applied = (from: object, patches: readonly Patch[]): object =>
  patches.reduce((now, p) => {
    requirePlace(now, p);
    return applyPatches(now, [p]);
  }, from);
const key = (frame: number, value = 0) => ({ frame, value });

describe('patchesBetween', () => {
  it('is one item for one that was added to a list written anew', () => {
    const strokes = Array.from({ length: 300 }, (_, i) => ({ radius: i, points: [[i, i]] }));
    const next = structuredClone(strokes).concat({ radius: 9, points: [[1, 2]] });
    expect(patchesBetween({ strokes }, { strokes: next })).toEqual([{ op: 'add', path: ['strokes', 300], value: next[300] }]);
    expect(patchesBetween({ strokes: next }, { strokes })).toEqual([{ op: 'remove', path: ['strokes', 300] }]);
  });

  it('is one value for one key of a curve', () => {
    const keys = [key(0), key(10), key(20)];
    expect(patchesBetween({ keys }, { keys: [key(0), key(10, 5), key(20)] })).toEqual([
      { op: 'replace', path: ['keys', 1, 'value'], value: 5 },
    ]);
    expect(patchesBetween({ keys }, { keys: [key(0), key(5), key(10), key(20, 1)] })).toEqual([
      { op: 'add', path: ['keys', 1], value: key(5) },
      { op: 'replace', path: ['keys', 3, 'value'], value: 1 },
    ]);
  });

  it('makes an item that moved a change of the list', () => {
    const patches = patchesBetween(
      ['a', 'b', 'c'].map((id) => ({ id })),
      ['b', 'c', 'a'].map((id) => ({ id })),
    );
    expect(patches.every((p) => p.op !== 'replace' && p.path.length === 1)).toBe(true);
  });

  it('makes nothing of lists that hold the same', () => {
    expect(patchesBetween({ a: [1, { b: 2 }] }, { a: [1, { b: 2, c: undefined }] })).toEqual([]);
  });

  it('leads there and back between any two films', () => {
    let seed = 5;
    const random = (below: number): number => (seed = (seed * 48271) % 2147483647) % below;
    const list = (): object[] => {
      const named = Array.from({ length: random(6) }, () => random(8));
      return [...new Set(named)].map((id) => ({ id, n: random(3), list: Array.from({ length: random(4) }, () => random(3)) }));
    };
    for (let i = 0; i < 500; i++) {
      const [from, to] = [{ items: list() }, { items: list(), ...(random(2) === 0 ? { more: random(4) } : {}) }];
      expect(applied(from, patchesBetween(from, to))).toEqual(to);
      expect(applied(to, patchesBetween(to, from))).toEqual(from);
    }
  });
});

describe('requirePlace', () => {
  const film = { name: 'x', shots: [{ id: 'a' }] };
  it.each([
    ['far beyond the end of a list', ['shots', 1_000_000_000]],
    ['before its start', ['shots', -1]],
    ['between two items', ['shots', 0.5]],
    ['under what is not there', ['shots', 4, 'name']],
    ['in the prototype', ['__proto__', 'polluted']],
    ['on the prototype of a list', ['shots', 'constructor', 'x']],
    ['of a name everything has', ['toString']],
    ['of the whole film', []],
  ])('refuses a place %s', (_, path) => {
    expect(() => requirePlace(film, { op: 'add', path, value: 1 })).toThrow(RangeError);
  });
});
