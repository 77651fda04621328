import type { Draft } from 'immer';
import { trimStart } from './trims';
import type { FilmDraft, NewId } from '../drafts';
import type { Film, Media, Shot } from '../film';
import { mediumOf, mediumPlaceAt } from '../timing';

/** Film frames of the first shot that come to lie at the end, at most; half of it where it is shorter. */
const LENT = 48;

/** How many frames of the first shot would be lent to the end; null where the film has no two shots or the first is too short. */
export function loopLength(film: Pick<Film, 'shots'>): number | null {
  const first = film.shots[0];
  if (first === undefined || film.shots.length < 2 || first.length < 4) return null;
  return Math.min(LENT, Math.floor(first.length / 2));
}

/** Whether the film ends on the picture before its first one, so that it goes round without a seam. */
export function isLoop(film: Film, media: Media): boolean {
  const [first, last] = [film.shots[0], film.shots.at(-1)];
  if (first === undefined || last === undefined || first === last || first.mediumId !== last.mediumId) return false;
  const medium = mediumOf(media, last);
  if (medium === null || JSON.stringify(first.framing) !== JSON.stringify(last.framing)) return false;
  return Math.abs(mediumPlaceAt(film, last, medium, last.length) - mediumPlaceAt(film, first, medium, 0)) < 1e-6;
}

/**
 * Lets the film lead back to its first shot: the first frames of that are taken from its start and laid at the film's end, so that the last
 * join goes back to it and the film's end goes on in its beginning. Any kind of join may be made there.
 */
export function closeLoop(film: FilmDraft, media: Media, newId: NewId): void {
  const length = loopLength(film);
  const first = film.shots[0] as Shot | undefined;
  const medium = first === undefined ? null : mediumOf(media, first);
  if (length === null || first === undefined || medium === null) return;
  film.shots.push({ ...first, id: newId(), length } as Draft<Shot>);
  trimStart(film, medium, first.id, length, newId);
}
