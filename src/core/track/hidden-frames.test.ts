import { describe, expect, it } from 'vitest';
import { bridgeHidden, meetBetweenKeys } from './hidden-frames';
import type { TrackFrame } from './track';

const at = (frame: number, x: number, confidence = 1): TrackFrame => ({
  frame,
  corners: [
    [x, 10],
    [x + 20, 10],
    [x, 30],
  ],
  confidence,
});
const xs = (frames: readonly TrackFrame[]): number[] => frames.map((f) => f.corners[0]![0]);

describe('bridgeHidden', () => {
  it('lays a straight run through a gap between frames that moved evenly, and leaves the mark of doubt', () => {
    const bridged = bridgeHidden([at(0, 0), at(1, 2), at(2, 90, 0.1), at(3, -40, 0), at(4, 8), at(5, 10)]);
    xs(bridged).forEach((x, i) => expect(x).toBeCloseTo(2 * i, 9));
    expect(bridged.map((f) => f.confidence)).toEqual([1, 1, 0.1, 0, 1, 1]);
  });

  it('leaves and arrives with the speeds at the ends: a turn while hidden is round', () => {
    const path = (t: number): number => 30 * Math.sin(0.2 * t);
    const frames = Array.from({ length: 17 }, (_, t) => (t > 4 && t < 12 ? at(t, 0, 0) : at(t, path(t))));
    const bridged = xs(bridgeHidden(frames));
    for (let t = 5; t < 12; t++) {
      const straight = path(4) + ((t - 4) / 8) * (path(12) - path(4));
      expect(Math.abs(bridged[t]! - path(t))).toBeLessThan(0.5 * Math.abs(straight - path(t)) + 0.2);
    }
  });

  it('does not touch what lies before the first and after the last frame on which the region was seen', () => {
    const frames = [at(0, 5, 0), at(1, 0), at(2, 70, 0.1)];
    expect(bridgeHidden(frames)).toEqual(frames);
    expect(bridgeHidden([])).toEqual([]);
  });
});

describe('meetBetweenKeys', () => {
  it('goes over from the track that left one key to the one that left the other', () => {
    const onward = [at(1, 0), at(2, 0), at(3, 0)];
    const back = [at(1, 8), at(2, 8), at(3, 8)];
    expect(xs(meetBetweenKeys(onward, back))).toEqual([2, 4, 6]);
  });

  it('believes the one that saw the region', () => {
    const [met] = meetBetweenKeys([at(1, 0, 0.1)], [at(1, 8, 0.9)]);
    expect(met!.corners[0]![0]).toBeGreaterThan(7.8);
    expect(met!.confidence).toBeGreaterThan(0.85);
  });
});
