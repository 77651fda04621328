import { describe, expect, it } from 'vitest';
import type { Plane } from '../image/plane';
import { noiseOf, withoutSuddenHoles } from './carry-evidence';

/** A small picture from rows of marks; what is marked # is 1. */
function rows(...lines: string[]): { readonly width: number; readonly plane: Plane; readonly mask: Uint8Array } {
  const marks = [...lines.join('')].map((c) => (c === '#' ? 1 : 0));
  const width = lines[0]!.length;
  return { width, plane: { width, height: lines.length, data: Float32Array.from(marks) }, mask: Uint8Array.from(marks) };
}

describe('withoutSuddenHoles', () => {
  const layer = rows('........', '.######.', '.######.', '.######.', '.######.', '........');

  it('fills what opens in the midst of the subject and leaves what comes over its edge', () => {
    const cut = rows('........', '.######.', '.#..###.', '.####...', '.####...', '........');
    const filled = rows('........', '.######.', '.######.', '.####...', '.####...', '........');
    expect([...withoutSuddenHoles(cut.mask, { ...layer, layer: layer.plane, seenBefore: layer.plane })]).toEqual([...filled.mask]);
  });

  it('leaves what was in front there before, and what has grown from it', () => {
    const cut = rows('........', '.######.', '.#..###.', '.######.', '.######.', '........');
    const seenBefore = rows('........', '.######.', '.##.###.', '.######.', '.######.', '........');
    expect([...withoutSuddenHoles(cut.mask, { ...layer, layer: layer.plane, seenBefore: seenBefore.plane })]).toEqual([...cut.mask]);
  });
});

describe('noiseOf', () => {
  const plane = (value: (i: number) => number): Plane => ({
    width: 70,
    height: 10,
    data: Float32Array.from({ length: 700 }, (_, i) => value(i)),
  });

  it('is the median miss of what was seen, however badly some of it is matched', () => {
    expect(
      noiseOf(
        plane((i) => (i % 5 === 0 ? 4000 : 12)),
        plane(() => 1),
      ),
    ).toBe(12);
    // what was hidden has no say
    expect(
      noiseOf(
        plane((i) => (i < 400 ? 70 : 9)),
        plane((i) => (i < 400 ? 0 : 1)),
      ),
    ).toBe(9);
  });

  it('is 0 where nothing was seen, and never more than noise can be', () => {
    expect(
      noiseOf(
        plane(() => 50),
        plane(() => 0),
      ),
    ).toBe(0);
    expect(
      noiseOf(
        plane(() => 3000),
        plane(() => 1),
      ),
    ).toBe(80);
  });
});
