import { describe, expect, it } from 'vitest';
import type { Plane } from '../../image/pixels';
import { bandOf, noiseOf, withoutSuddenHoles, type BackgroundEvidence } from './evidence';

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

  it('leaves what opens from the border of the frame, where the edge itself is out of view', () => {
    const reaching = rows('..####..', '..####..', '..####..');
    const cut = rows('..####..', '..#.##..', '..#.##..');
    expect([...withoutSuddenHoles(cut.mask, { ...reaching, layer: reaching.plane, seenBefore: reaching.plane })]).toEqual([...cut.mask]);
  });

  it('leaves what was in front there before, and what has grown from it', () => {
    const cut = rows('........', '.######.', '.#..###.', '.######.', '.######.', '........');
    const seenBefore = rows('........', '.######.', '.##.###.', '.######.', '.######.', '........');
    expect([...withoutSuddenHoles(cut.mask, { ...layer, layer: layer.plane, seenBefore: seenBefore.plane })]).toEqual([...cut.mask]);
  });
});

describe('bandOf', () => {
  const [width, height] = [60, 3];
  const plane = (value: (x: number) => number): Plane => ({
    width,
    height,
    data: Float32Array.from({ length: width * height }, (_, i) => value(i % width)),
  });
  // the subject lies to the right of x = 20 and fits everywhere, if loosely
  const signed = plane((x) => x - 19.5).data;
  const seen = { subjectMiss: plane(() => 90), entering: new Uint8Array(width * height), noise: 10 };
  const behind = (miss: number, known: number): BackgroundEvidence => ({
    miss: plane((x) => (x >= 45 ? miss : 900)),
    seen: plane(() => known),
    colours: new Float32Array(3 * width * height),
  });
  const bandAt = (background: BackgroundEvidence, x: number): number => bandOf(seen, background, signed)[width + x]!;

  it('goes along the edge and leaves the midst of what the subject explains', () => {
    for (const x of [10, 19, 20, 30]) expect(bandAt(behind(900, 1), x)).toBe(1);
    for (const x of [5, 40, 50]) expect(bandAt(behind(900, 1), x)).toBe(0);
  });

  it('takes in the midst where the background that was seen there fits better', () => {
    expect(bandAt(behind(10, 1), 50)).toBe(1);
    expect(bandAt(behind(10, 0.3), 50)).toBe(0);
    expect(bandAt(behind(80, 1), 50)).toBe(0);
    expect(bandAt(behind(10, 1), 40)).toBe(0);
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
