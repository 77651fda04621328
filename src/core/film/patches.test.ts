import { applyPatches, enablePatches, type Patch } from 'immer';
import { describe, expect, it } from 'vitest';
import { patched, patchesBetween } from './patches';

enablePatches();

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

  it('compares lists of 40,000 frames within a second or two of work', () => {
    const frames = (n: number): object[] =>
      Array.from({ length: n }, (_, frame) => ({
        frame,
        corners: [
          [1, 2],
          [3, 4],
        ],
      }));
    const [from, to] = [{ frames: frames(40_000) }, { frames: frames(80_000).slice(20_000) }];
    const began = process.cpuUsage();
    // the first half went, and as many and more came behind
    expect(patchesBetween(from, to)).toHaveLength(60_000);
    expect(process.cpuUsage(began).user).toBeLessThan(3e6);
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
      expect(patched(from, patchesBetween(from, to))).toEqual(to);
      expect(patched(to, patchesBetween(to, from))).toEqual(from);
    }
  });
});

describe('patched', () => {
  it('leaves what it started from as it was, and shares what no patch touches', () => {
    const from = { a: { list: [1, 2, 3] }, b: { n: 1 } };
    const to = patched(from, [
      { op: 'add', path: ['a', 'list', 0], value: 0 },
      { op: 'replace', path: ['a', 'list', 3], value: 9 },
    ]);
    expect(to).toEqual({ a: { list: [0, 1, 2, 9] }, b: { n: 1 } });
    expect(from).toEqual({ a: { list: [1, 2, 3] }, b: { n: 1 } });
    expect(to.b).toBe(from.b);
  });

  it('never changes a value that a patch brought in', () => {
    const value = { list: [1] };
    const to = patched({}, [
      { op: 'add', path: ['a'], value },
      { op: 'add', path: ['a', 'list', 1], value: 2 },
    ]);
    expect([to, value]).toEqual([{ a: { list: [1, 2] } }, { list: [1] }]);
  });

  it('does what immer does, patch by patch', () => {
    let seed = 9;
    const random = (below: number): number => (seed = (seed * 48271) % 2147483647) % below;
    for (let i = 0; i < 300; i++) {
      const film = { items: Array.from({ length: 1 + random(5) }, (_, id) => ({ id, n: random(9) })), name: 'x' as string | undefined };
      const patches: Patch[] = [{ op: 'add', path: ['items', random(film.items.length + 1)], value: { id: 90, n: 0 } }];
      patches.push({ op: 'replace', path: ['items', random(film.items.length), 'n'], value: random(9) });
      patches.push({ op: 'remove', path: ['items', random(film.items.length)] });
      if (random(2) === 0) patches.push({ op: 'remove', path: ['name'] });
      expect(patched(film, patches)).toEqual(patches.reduce((now, p) => applyPatches(now, [p]), film));
    }
  });

  it('lays 20,000 patches within a second of work: copying the list for each would take half a minute', () => {
    const patches = Array.from({ length: 20_000 }, (_, i): Patch => ({ op: 'add', path: ['frames', 0], value: { frame: -i } }));
    const began = process.cpuUsage();
    expect(patched({ frames: [] as object[] }, patches).frames).toHaveLength(20_000);
    expect(process.cpuUsage(began).user).toBeLessThan(1e6);
  });

  it.each([1e9, 2, -1, 0.5, '1'])('makes no list longer by its length, %s', (value) => {
    expect(() => patched({ shots: [1] }, [{ op: 'replace', path: ['shots', 'length'], value }])).toThrow(RangeError);
  });
});

describe('the place of a patch', () => {
  const film = { name: 'x', shots: [{ id: 'a' }] };
  it.each<[string, (string | number)[]]>([
    ['far beyond the end of a list', ['shots', 1_000_000_000]],
    ['before its start', ['shots', -1]],
    ['between two items', ['shots', 0.5]],
    ['under what is not there', ['shots', 4, 'name']],
    ['in the prototype', ['__proto__', 'polluted']],
    ['on the prototype of a list', ['shots', 'constructor', 'x']],
    ['of a name everything has', ['toString']],
    ['of the whole film', []],
  ])('refuses a place %s', (_, path) => {
    expect(() => patched(film, [{ op: 'add', path, value: 1 }])).toThrow(RangeError);
  });
});
