import type { Draft } from 'immer';
import { isSameRate } from '../../geometry/rational';
import type { FilmDraft, NewId } from '../drafts';
import type { Film, Media, Medium } from '../film';
import { keepingMarks } from '../made-mark';
import { usesOfMedium } from '../references';
import { withIds } from '../with-ids';
import { replaceMedium } from './reel';
import { putInBin, takeOffShelf } from './shelf';

/** Putting one medium in the place of another, everywhere in a film. */

/** Whether what lies on single frames of one, such as mattes and tracks, lies right on the other's. */
export const isSameShape = (a: Medium, b: Medium): boolean =>
  a.width === b.width && a.height === b.height && a.frames === b.frames && isSameRate(a.rate, b.rate);

/** A medium by what it holds; `picture` is null where it is only heard. */
export interface Exchanged {
  readonly id: string;
  readonly picture: Medium | null;
}

/** Whether something in a film sounds of a medium by itself, without being a shot of it. */
export const isHeardAlone = (film: Film, mediumId: string): boolean =>
  (film.soundLanes ?? []).some((l) => l.clips.some((c) => c.mediumId === mediumId)) ||
  film.joins.some((j) => (j.hits ?? []).some((h) => h.mediumId === mediumId));

/** The names of mattes and tracks that stay with a medium when another takes its place. */
export const staysBehind = (film: Film, from: Medium, to: Medium): readonly string[] =>
  isSameShape(from, to) ? [] : [...film.mattes, ...(film.tracks ?? [])].filter((m) => m.mediumId === from.id).map((m) => m.name);

/** The lists whose items go over to the other medium, whatever it is like; and those that do only where it is of the same shape. */
const [ALWAYS, SAME_SHAPE] = [
  ['aside', 'joins', 'soundLanes', 'mediumMarkers', 'beats'],
  ['mattes', 'tracks'],
] as const;

/**
 * Lets all that shows or sounds of `from` be of `to`, which takes its place in its bin too. Shots keep their spans and joins as far as
 * `to` reaches. `from` leaves the shelf, unless mattes or tracks stay with it.
 */
export function exchangeMedium(film: FilmDraft, media: Media, from: Exchanged, to: Exchanged, newId: NewId): void {
  const ids = new Map([[from.id, to.id]]);
  const isSame = from.picture !== null && to.picture !== null && isSameShape(from.picture, to.picture);
  for (const shot of [...film.shots])
    if (shot.mediumId === from.id && to.picture !== null) {
      const { steadying } = shot;
      replaceMedium(film, media, shot.id, to.picture, newId);
      if (isSame && steadying !== undefined) shot.steadying = steadying;
    }
  keepingMarks(film, () => {
    for (const field of [...ALWAYS, ...(isSame ? SAME_SHAPE : [])] as const) {
      const list = film[field] as Draft<object>[] | undefined;
      list?.forEach((item, i) => {
        const text = JSON.stringify(item);
        if (text.includes(from.id)) list[i] = withIds(JSON.parse(text) as object, ids);
      });
    }
  });
  const bin = film.bins?.find((b) => b.mediumIds.includes(from.id));
  if (bin !== undefined) putInBin(film, [to.id], bin.id);
  if (usesOfMedium(film, from.id).length === 0) takeOffShelf(film, from.id);
}
