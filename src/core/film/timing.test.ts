import { describe, expect, it } from 'vitest';
import { rational } from '../geometry/rational';
import { addShot } from './edits/reel';
import { createFilm } from './film';
import { changed, sampleFilm, sampleMedium } from './sample-film';
import { handlesOf, mediumFrameAt, nearestPictured, offsetOfMediumFrame, placedJoins } from './timing';

describe('medium frames of a shot', () => {
  it('are the film frames where the rates agree', () => {
    const medium = sampleMedium('a', 50);
    const film = sampleFilm([medium]);
    const shot = { ...film.shots[0]!, inFrame: 7 };
    for (let k = -7; k < 43; k++) expect(mediumFrameAt(film, shot, medium, k)).toBe(7 + k);
  });

  it('follow the clock where they do not, exactly over an hour', () => {
    const medium = sampleMedium('a', 120_000, rational(30_000, 1001));
    const film = sampleFilm([medium]);
    const shot = film.shots[0]!;
    for (const k of [0, 1, 4, 5, 1001, 24 * 3600])
      expect(mediumFrameAt(film, shot, medium, k)).toBe(Math.floor((k * 30_000) / (1001 * 24)));
    for (const at of [0, 1, 2, 3, 1250, 30_000]) {
      const offset = offsetOfMediumFrame(film, shot, medium, at);
      expect(mediumFrameAt(film, shot, medium, offset)).toBeGreaterThanOrEqual(at);
      expect(mediumFrameAt(film, shot, medium, offset - 1)).toBeLessThan(at);
    }
  });
});

it('counts handles on both sides, negative where the shot itself runs out', () => {
  const medium = sampleMedium('a', 100);
  const film = sampleFilm([medium]);
  expect(handlesOf(film, { ...film.shots[0]!, inFrame: 10, length: 60 }, medium)).toEqual({ before: 10, after: 30 });
  expect(handlesOf(film, { ...film.shots[0]!, inFrame: -4, length: 110 }, medium)).toEqual({ before: -4, after: -6 });
});

it('places joins at the cuts', () => {
  const film = sampleFilm([sampleMedium('a', 30), sampleMedium('b', 40), sampleMedium('c', 50)]);
  expect(placedJoins(film).map((p) => p.cut)).toEqual([30, 70]);
});

it('takes two ways of writing one rate for the same', () => {
  const medium = sampleMedium('ntsc', 120, rational(2997, 100));
  const film = changed(createFilm('f', 160, 90, rational(30000, 1001)), (d) => addShot(d, medium, 0, () => 's'));
  expect(film.shots[0]!.length).toBe(120);
  const shown = Array.from({ length: 120 }, (_, i) => mediumFrameAt(film, film.shots[0]!, medium, i));
  expect(new Set(shown).size).toBe(120);
});

it('finds the frame nearest to the playhead on which a shot of a join has a picture', () => {
  const media = [sampleMedium('a', 30), sampleMedium('b', 40)];
  const film = sampleFilm(media);
  const [join] = placedJoins(film);
  const all = new Map(media.map((m) => [m.id, m]));
  expect(nearestPictured(film, all, join!, 'leaving', 99)).toBe(29);
  expect(nearestPictured(film, all, join!, 'entering', 3)).toBe(30);
  expect(nearestPictured(film, all, join!, 'entering', 33)).toBe(33);
  expect(nearestPictured(film, new Map(), join!, 'entering', 33)).toBeNull();
});
