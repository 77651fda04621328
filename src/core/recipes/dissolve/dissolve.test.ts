import { describe, expect, it } from 'vitest';
import { changed, sampleFilm, sampleMedium } from '../../film/sample-film';
import { placedJoins } from '../../film/timing';
import { planFrame } from '../../plan/plan-film';
import { makeKind, setSettings } from '../making';
import { isChangedByHand } from '../../film/made-mark';
import { setOverlapAndRefit } from '../refit';

const [A, B] = [sampleMedium('a', 50), sampleMedium('b', 60)];
const media = new Map([A, B].map((m) => [m.id, m]));
const base = changed(sampleFilm([A, B]), (d) => {
  d.shots[0]!.length = 40;
  d.shots[1]!.inFrame = 10;
  d.shots[1]!.length = 50;
});
const JOIN = placedJoins(base)[0]!.join.id;
const film = changed(base, (d) => makeKind(d, media, JOIN, 'dissolve'));
/** Opacity of the upper layer on a film frame. */
const opacityAt = (f: typeof film, frame: number): number => planFrame(f, media, frame).layers[0]!.opacity;

describe('a dissolve', () => {
  it('goes evenly from one shot to the other, each frame on the way', () => {
    const { join } = placedJoins(film)[0]!;
    expect([join.before, join.after, isChangedByHand(film, join)]).toEqual([6, 6, false]);
    const seen = Array.from({ length: 12 }, (_, i) => opacityAt(film, 34 + i));
    seen.forEach((v, i) => expect(v).toBeCloseTo(1 - (i + 1) / 13, 6));
    expect(planFrame(film, media, 33).layers).toHaveLength(1);
  });

  it('has a curve of its own, and follows its overlap', () => {
    const eased = changed(film, (d) => setSettings(d, media, JOIN, 'dissolve', { ease: 'soft both' }));
    expect(opacityAt(eased, 34)).toBeGreaterThan(opacityAt(film, 34));
    const shorter = changed(eased, (d) => setOverlapAndRefit(d, media, JOIN, 2, 2));
    expect(opacityAt(shorter, 38)).toBeGreaterThan(0.7);
    expect(opacityAt(shorter, 41)).toBeLessThan(0.3);
  });
});
