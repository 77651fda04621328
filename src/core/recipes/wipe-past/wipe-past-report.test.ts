import { describe, expect, it } from 'vitest';
import type { Media } from '../../film/film';
import { edgeKey, sampleMedium, sampleWipe } from '../../film/sample-film';
import { placedJoins } from '../../film/timing';
import type { OutlineKey } from '../../matte/outline/outline';
import { runsOf } from '../../check/join';
import { checkOutlined, outlinedShares } from '../../check/sample-shares';
import { reportWipe } from './wipe-past-report';

const a = sampleMedium('a', 60);
const b = sampleMedium('b', 60);
const media: Media = new Map([a, b].map((m) => [m.id, m]));
const place = (keys: readonly OutlineKey[], startB = 20) => {
  const film = sampleWipe(a, b, keys, 40, startB);
  return { film, placed: placedJoins(film)[0]! };
};
const kinds = (keys: readonly OutlineKey[], startB = 20): string[] => {
  const { film, placed } = place(keys, startB);
  return checkOutlined(film, media, placed).map((f) => f.kind);
};

describe('reportWipe', () => {
  it('measures the hidden share exactly', () => {
    const { film, placed } = place([edgeKey(30, 80), edgeKey(50, -80)]);
    const report = reportWipe(film, media, placed)!;
    expect(report).toMatchObject({ start: 0, firstHole: 31, fullFrom: 50, shrinks: [] });
    for (const frame of [30, 31, 40, 49, 50, 55]) expect(report.hidden[frame]).toBeCloseTo(Math.max(0, Math.min(1, (frame - 30) / 20)), 9);
  });

  it('finds a sliver of a hundredth of a pixel', () => {
    const { film, placed } = place([edgeKey(30, 80), edgeKey(31, 79.99), edgeKey(50, -80)]);
    expect(reportWipe(film, media, placed)!.firstHole).toBe(31);
  });

  it('notices when the hidden area gets smaller', () => {
    const { film, placed } = place([edgeKey(30, 80), edgeKey(40, 0), edgeKey(43, 20), edgeKey(52, -80)]);
    expect(reportWipe(film, media, placed)!.shrinks).toEqual([41, 42, 43]);
  });
});

describe('checkJoin', () => {
  it('finds nothing in a wipe that is right', () => {
    expect(kinds([edgeKey(30, 80), edgeKey(50, -80)])).toEqual([]);
  });

  it('says when the frame is never covered', () => {
    expect(kinds([edgeKey(30, 80), edgeKey(50, -70)])).toEqual(['never covers']);
  });

  it('says when the hidden area shrinks, and which frames', () => {
    const { film, placed } = place([edgeKey(30, 80), edgeKey(40, 0), edgeKey(43, 20), edgeKey(52, -80)]);
    expect(checkOutlined(film, media, placed)).toMatchObject([{ kind: 'shrinks', from: 41, to: 43 }]);
  });

  it('says which frames have empty pixels when the entering shot starts too late', () => {
    // b's first picture is needed 9 frames before the cut, but only 4 exist
    const { film, placed } = place([edgeKey(30, 80), edgeKey(50, -80)], 4);
    expect(placed.from).toBe(31);
    expect(checkOutlined(film, media, placed)).toMatchObject([
      { kind: 'no picture', from: 31, to: 35 },
      { kind: 'empty pixels', from: 31, to: 35 },
    ]);
    const shares = outlinedShares(film, media, placed);
    expect(shares[4]).toBeCloseTo((35 - 30) / 20, 2);
    expect(shares[5]).toBe(0);
  });

  it('asks for an outline before there is one', () => {
    const { film, placed } = place([edgeKey(30, 200)]);
    expect(checkOutlined(film, media, placed)).toMatchObject([{ kind: 'no outline' }]);
  });
});

it('puts consecutive frames together', () => {
  expect(runsOf([1, 2, 3, 7, 9, 10])).toEqual([
    [1, 3],
    [7, 7],
    [9, 10],
  ]);
});
