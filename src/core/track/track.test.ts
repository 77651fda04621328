import { describe, expect, it } from 'vitest';
import { mapPoint } from '../geometry/fit-map';
import type { Corner } from './plane-template';
import { centreOf, motionAt, ontoTrack, patchAround, regionAt, regionOrNearest, type Track } from './track';

const box = (x: number, y: number, half: number): Corner[] => [
  [x - half, y - half],
  [x + half, y - half],
  [x + half, y + half],
  [x - half, y + half],
];

const track = (part: Partial<Track>): Track => ({
  id: 't',
  mediumId: 'm',
  name: 'T',
  model: 'similarity',
  keys: [{ frame: 10, corners: box(20, -30, 8) }],
  frames: [],
  ...part,
});

describe('regionAt', () => {
  const followed = track({ frames: [{ frame: 12, corners: box(25, -30, 8), confidence: 0.7 }] });

  it('is what a hand has placed, else what was found, else nothing', () => {
    expect(regionAt(followed, 10)).toMatchObject({ confidence: 1 });
    expect(regionAt(followed, 12)!.confidence).toBe(0.7);
    expect(regionAt(followed, 11)).toBeNull();
  });

  it('holds the nearest known frame where it has to be somewhere', () => {
    expect(centreOf(regionOrNearest(followed, 40).corners)).toEqual([25, -30]);
    expect(centreOf(regionOrNearest(followed, 0).corners)).toEqual([20, -30]);
  });
});

describe('motionAt', () => {
  it('is the growth and travel of a region that may turn and grow', () => {
    const m = motionAt(track({ frames: [{ frame: 12, corners: box(30, -20, 16), confidence: 1 }] }), 12);
    const [x, y] = mapPoint(m, 28, -30);
    expect(x).toBeCloseTo(46, 6);
    expect(y).toBeCloseTo(-20, 6);
  });

  it('is only the travel of a point, whatever its patch does', () => {
    const m = motionAt(track({ model: 'position', frames: [{ frame: 12, corners: box(30, -20, 16), confidence: 1 }] }), 12);
    expect(mapPoint(m, 28, -30)).toEqual([38, -20]);
    expect(mapPoint(m, -500, 100)).toEqual([-490, 110]);
  });

  it('goes there and back again', () => {
    const { toKey, toFrame } = ontoTrack(track({ frames: [{ frame: 12, corners: box(31, -22, 11), confidence: 1 }] }), 12);
    const [x, y] = mapPoint(toKey, ...mapPoint(toFrame, 4, 7));
    expect(x).toBeCloseTo(4, 6);
    expect(y).toBeCloseTo(7, 6);
  });
});

describe('patchAround', () => {
  it('has the point in its middle and grows with the medium', () => {
    expect(centreOf(patchAround([5, 6], 1280))).toEqual([5, 6]);
    const side = (width: number): number => patchAround([0, 0], width)[1]![0] - patchAround([0, 0], width)[0]![0];
    expect(side(3840)).toBeCloseTo(3 * side(1280), 6);
    expect(side(100)).toBe(16);
  });
});
