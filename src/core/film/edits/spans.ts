import type { FilmDraft, NewId } from '../drafts';
import type { Film, Media, Medium, Shot } from '../film';
import { filmLength, mediumFramesPerFilmFrame, startOfShot } from '../timing';
import { faultOfSplit, insertShots, removeShots, shotOf, splitShot } from './reel';
import { trimStart } from './trims';

/** Laying a span of a medium on the reel, as it was marked while looking at it. */

/** Medium frames, both shown. */
export interface MediumSpan {
  readonly first: number;
  readonly last: number;
}

/** At the playhead between what is there, over what is there, or behind all. */
export type LayHow = 'insert' | 'over' | 'end';

const shotAt = (film: Film, frame: number): Shot | undefined =>
  film.shots.find((s) => frame > startOfShot(film, s.id) && frame < startOfShot(film, s.id) + s.length);

/** Film frames that a span takes on the reel. */
export const lengthOfSpan = (film: Film, medium: Medium, { first, last }: MediumSpan): number =>
  medium.kind === 'still'
    ? shotOf(film, medium, '').length
    : Math.max(1, Math.round((last + 1 - first) / mediumFramesPerFilmFrame(film, medium)));

/** Why a span cannot be laid there, as a sentence; null where it can. */
export function faultOfLay(film: Film, frame: number, how: LayHow): string | null {
  if (how === 'end') return null;
  const under = shotAt(film, frame);
  return under === undefined ? null : faultOfSplit(film, under.id, frame);
}

/**
 * Lays a span of a medium on the reel. A shot under the playhead is split there; what is laid over goes, and a shot that reaches further
 * begins later. @returns the shot's id @throws RangeError where `faultOfLay` says why
 */
export function laySpan(film: FilmDraft, media: Media, medium: Medium, span: MediumSpan, frame: number, how: LayHow, newId: NewId): string {
  const shot: Shot = {
    ...shotOf(film, medium, newId()),
    inFrame: medium.kind === 'still' ? 0 : span.first,
    length: lengthOfSpan(film, medium, span),
  };
  if (how === 'end') {
    insertShots(film, [shot], film.shots.length, newId);
    return shot.id;
  }
  const at = Math.max(0, Math.min(filmLength(film), frame));
  const under = shotAt(film, at);
  const split = under === undefined ? undefined : media.get(under.mediumId);
  if (under !== undefined && split !== undefined) splitShot(film, split, under.id, at, newId);
  if (how === 'over') clear(film, media, at, at + shot.length, newId);
  insertShots(film, [shot], film.shots.filter((s) => startOfShot(film, s.id) < at).length, newId);
  return shot.id;
}

/** Takes away what lies on film frames `from` … `to`, which begins with a shot. */
function clear(film: FilmDraft, media: Media, from: number, to: number, newId: NewId): void {
  const within = film.shots.filter((s) => startOfShot(film, s.id) >= from && startOfShot(film, s.id) < to);
  const longer = within.find((s) => startOfShot(film, s.id) + s.length > to);
  const medium = longer === undefined ? undefined : media.get(longer.mediumId);
  if (longer !== undefined && medium !== undefined) trimStart(film, medium, longer.id, to - startOfShot(film, longer.id), newId);
  const gone = within.filter((s) => s !== longer).map((s) => s.id);
  if (gone.length > 0) removeShots(film, new Set(gone), newId);
}
