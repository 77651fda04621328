import { expect, it } from 'vitest';
import type { Film, Media } from '../film';
import { usesOfMedium } from '../references';
import { changed, countingIds, edgeKey, sampleMedium, sampleWipe } from '../sample-film';
import { placedJoins } from '../timing';
import { addClip } from './sound';
import { isChangedByHand, markOfMade } from '../made-mark';
import { addLayer } from './layers';
import { addMediumMarker } from './marks';
import { exchangeMedium, isHeardAlone, isSameShape, staysBehind, type Exchanged } from './exchange';
import { addBin, putInBin, removeBin, renameBin, renameMedium, takeOffShelf } from './shelf';

const [a, b] = [sampleMedium('a', 60), sampleMedium('b', 60)];
const wipe = sampleWipe(a, b, [edgeKey(35, 60), edgeKey(45, -60)]);
const newId = countingIds('n');
const mediaWith = (...more: Parameters<typeof sampleMedium>[]): Media =>
  new Map([a, b, ...more.map((m) => sampleMedium(...m))].map((m) => [m.id, m]));
const of = (media: Media, id: string): Exchanged => ({ id, picture: media.get(id) ?? null });
const exchanged = (media: Media, from: string, to: string): Film =>
  changed(wipe, (d) => exchangeMedium(d, media, of(media, from), of(media, to), newId));

it('keeps media in one bin at most, and lets them lie on the shelf again', () => {
  let film = changed(wipe, (d) => putInBin(d, ['a', 'b'], addBin(d, newId)));
  film = changed(film, (d) => putInBin(d, ['b'], addBin(d, newId)));
  expect(film.bins!.map((x) => [x.name, x.mediumIds])).toEqual([['Bin 1', ['a']], ['Bin 2', ['b']]]); // prettier-ignore
  film = changed(film, (d) => renameBin(d, film.bins![1]!.id, 'Night'));
  film = changed(film, (d) => removeBin(d, film.bins![0]!.id));
  expect(film.bins).toEqual([{ id: expect.any(String) as string, name: 'Night', mediumIds: ['b'] }]);
  expect(changed(film, (d) => putInBin(d, ['b'], null)).bins![0]!.mediumIds).toEqual([]);
});

it('names a medium once', () => {
  const film = changed(changed(wipe, (d) => renameMedium(d, 'a', 'Tram')), (d) => renameMedium(d, 'a', 'Night tram')); // prettier-ignore
  expect(film.mediumNames).toEqual([{ mediumId: 'a', name: 'Night tram' }]);
});

it('does not take off what is used', () => {
  expect(() => changed(wipe, (d) => takeOffShelf(d, 'a'))).toThrow('in use');
});

it('puts a medium of the same shape in the place of another, with its mattes, marks and bin', () => {
  const media = mediaWith(['c', 60]);
  const marked = changed(wipe, (d) => {
    addMediumMarker(d, 'a', 1, newId);
    putInBin(d, ['a'], addBin(d, newId));
  });
  const film = changed(marked, (d) => exchangeMedium(d, media, of(media, 'a'), of(media, 'c'), newId));
  expect(JSON.stringify({ ...film, offShelf: [] })).toBe(JSON.stringify({ ...marked, offShelf: [] }).replaceAll('"a"', '"c"').replace('"mediumIds":["c"]', '"mediumIds":["a","c"]')); // prettier-ignore
  expect(film.offShelf).toEqual(['a']);
  expect(usesOfMedium(film, 'a')).toEqual([]);
});

it('leaves behind what lies on single frames where the other is of another shape, and says what', () => {
  const media = mediaWith(['long', 90], ['small', 60, a.rate, 80, 45]);
  expect(isSameShape(a, media.get('long')!)).toBe(false);
  expect(staysBehind(wipe, a, media.get('small')!)).toEqual(wipe.mattes.filter((m) => m.mediumId === 'a').map((m) => m.name));
  expect(staysBehind(wipe, a, b)).toEqual([]);
  const film = exchanged(media, 'a', 'long');
  expect(film.shots.map((s) => [s.mediumId, s.inFrame, s.length])).toEqual([['long', 0, 40], ['b', 20, 40]]); // prettier-ignore
  expect(placedJoins(film)[0]!.join).toEqual(placedJoins(wipe)[0]!.join);
  expect(film.offShelf).toBeUndefined();
});

it('shortens shots to what the other has', () => {
  const media = mediaWith(['short', 30]);
  expect(exchanged(media, 'a', 'short').shots[0]).toMatchObject({ mediumId: 'short', length: 30 });
});

it('puts one sound in the place of another', () => {
  const media = mediaWith();
  const sound = { id: 'song', name: 'Song', samples: 96_000, codec: 'flac', sourceRate: 48_000, sourceChannels: 2 };
  const film = changed(wipe, (d) => void addClip(d, null, sound, 0, newId));
  expect([isHeardAlone(film, 'song'), isHeardAlone(film, 'a')]).toEqual([true, false]);
  const other = changed(film, (d) => exchangeMedium(d, media, of(media, 'song'), of(media, 'band'), newId));
  expect(other.soundLanes![0]!.clips[0]).toEqual({ ...film.soundLanes![0]!.clips[0], mediumId: 'band' });
});

it('leaves what a recipe made as made, and the other in its bin where the first lies in none', () => {
  const media = mediaWith(['c', 60]);
  const made = changed(wipe, (d) => {
    const join = d.joins[0]!;
    addLayer(d, join.id, 'More', { kind: 'medium', mediumId: 'a', frame: 3 }, newId);
    join.recipe!.made = markOfMade(d, join);
    putInBin(d, ['c'], addBin(d, newId));
  });
  const film = changed(made, (d) => exchangeMedium(d, media, of(media, 'a'), of(media, 'c'), newId));
  expect(JSON.stringify(film.joins)).toContain('"mediumId":"c"');
  expect(isChangedByHand(film, film.joins[0]!)).toBe(false);
  expect(film.bins![0]!.mediumIds).toEqual(['c']);
});
