import { expect, it } from 'vitest';
import { createFilm, type Film } from '../film';
import { faultInFilm } from '../rules';
import { changed, countingIds, sampleFilm, sampleMedium } from '../sample-film';
import { filmLength, mediumFrameAt, startOfShot } from '../timing';
import { rational } from '../../geometry/rational';
import { setOverlap } from './joins';
import { faultOfLay, laySpan, lengthOfSpan, type LayHow } from './spans';

const [A, B, C] = ['a', 'b', 'c'].map((id) => sampleMedium(id, 50)) as [ReturnType<typeof sampleMedium>, ReturnType<typeof sampleMedium>, ReturnType<typeof sampleMedium>]; // prettier-ignore
const MEDIA = new Map([A, B, C].map((m) => [m.id, m]));
const FILM = sampleFilm([A, B]);

/** The medium and its frame that each film frame shows. */
const shows = (film: Film): string[] =>
  film.shots.flatMap((s) =>
    Array.from({ length: s.length }, (_, i) => `${s.mediumId}${mediumFrameAt(film, s, MEDIA.get(s.mediumId)!, i)}`),
  );
const laid = (frame: number, how: LayHow, span = { first: 10, last: 14 }): Film =>
  changed(FILM, (d) => void laySpan(d, MEDIA, C, span, frame, how, countingIds('n')));
const before = shows(FILM);
const five = ['c10', 'c11', 'c12', 'c13', 'c14'];

it.each([0, 20, 50, 73, 100])('inserts the frames marked at frame %i, and nothing else changes', (frame) => {
  expect(shows(laid(frame, 'insert'))).toEqual([...before.slice(0, frame), ...five, ...before.slice(frame)]);
});

it.each([0, 20, 48, 50, 73, 97])('lays them over what is there at frame %i', (frame) => {
  const film = laid(frame, 'over');
  expect(shows(film)).toEqual([...before.slice(0, frame), ...five, ...before.slice(frame + 5)]);
  expect(faultInFilm(film)).toBeNull();
});

it('covers whole shots, and lays at the end', () => {
  expect(shows(laid(20, 'over', { first: 0, last: 49 }))).toEqual([...before.slice(0, 20), ...shows(sampleFilm([C])), ...before.slice(70)]);
  expect(shows(laid(7, 'end'))).toEqual([...before, ...five]);
});

it('counts frames at the film’s rate', () => {
  const fast = sampleMedium('f', 100, rational(48, 1));
  expect(lengthOfSpan(createFilm('f', 160, 90, rational(24, 1)), fast, { first: 10, last: 29 })).toBe(10);
});

it('says why it cannot be laid in an overlap', () => {
  const joined = changed(FILM, (d) => setOverlap(d, d.joins[0]!.id, 6, 4));
  const cut = startOfShot(joined, joined.shots[1]!.id);
  expect(faultOfLay(joined, cut - 3, 'insert')).toMatch(/overlap/);
  expect(faultOfLay(joined, cut - 10, 'insert')).toBeNull();
  expect(faultOfLay(joined, cut - 3, 'end')).toBeNull();
  expect(filmLength(joined)).toBe(100);
});
