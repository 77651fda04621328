import { describe, expect, it } from 'vitest';
import { changed, countingIds, sampleFilm, sampleMedium } from '../sample-film';
import { filmLength, placedJoins } from '../timing';
import { makeKind } from '../../recipes/making';
import { planFrame } from '../../plan/plan-film';
import { picturesOf } from '../../plan/plan-needs';
import { closeLoop, isLoop, loopLength } from './loop';

const [A, B] = [sampleMedium('a', 60), sampleMedium('b', 50)];
const media = new Map([A, B].map((m) => [m.id, m]));
const film = sampleFilm([A, B]);

describe('a loop', () => {
  const looped = changed(film, (d) => closeLoop(d, media, countingIds('l')));

  it('ends on the picture before its first', () => {
    expect([isLoop(film, media), isLoop(looped, media), filmLength(looped)]).toEqual([false, true, filmLength(film)]);
    const [last] = picturesOf(planFrame(looped, media, filmLength(looped) - 1));
    const [first] = picturesOf(planFrame(looped, media, 0));
    expect([last!.mediumId, first!.mediumId, last!.frame + 1]).toEqual(['a', 'a', first!.frame]);
  });

  it('has a join back to its first shot, of any kind', () => {
    const joins = placedJoins(looped);
    expect(joins.map((j) => [j.leaving.mediumId, j.entering.mediumId])).toEqual([
      ['a', 'b'],
      ['b', 'a'],
    ]);
    const melted = changed(looped, (d) => makeKind(d, media, joins[1]!.join.id, 'melt'));
    expect(isLoop(melted, media)).toBe(true);
  });

  it('needs two shots, the first of some length', () => {
    expect(loopLength(sampleFilm([A]))).toBeNull();
    expect(loopLength(sampleFilm([sampleMedium('s', 3), B]))).toBeNull();
    expect(loopLength(film)).toBe(30);
  });
});
