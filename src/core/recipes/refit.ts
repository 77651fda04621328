import { rollCut, setOverlap } from '../film/edits';
import type { FilmDraft } from '../film/drafts';
import { byId, type Media } from '../film/film';
import { handlesOf, mediumOf } from '../film/timing';
import { layComposed } from './composed';
import { isChangedByHand } from './recipe';

/** Makes a change of a join's span, and lets what its recipe made follow, unless a hand has changed that. */
function refitted(film: FilmDraft, media: Media, joinId: string, change: () => void): void {
  const follows = !isChangedByHand(film, byId(film.joins, joinId, 'join'));
  change();
  if (follows) layComposed(film, media, joinId);
}

/** Sets a join's overlap. */
export const setOverlapAndRefit = (film: FilmDraft, media: Media, joinId: string, before: number, after: number): void =>
  refitted(film, media, joinId, () => setOverlap(film, joinId, before, after));

/** Moves a join's cut by `frames`, not to before the entering shot has pictures. */
export function rollCutAndRefit(film: FilmDraft, media: Media, joinId: string, frames: number): void {
  const entering = byId(film.shots, byId(film.joins, joinId, 'join').enteringShotId, 'shot');
  const medium = mediumOf(media, entering);
  const spare = medium === null ? 0 : Math.max(0, handlesOf(film, entering, medium).before);
  refitted(film, media, joinId, () => rollCut(film, media, joinId, Math.max(-spare, frames)));
}
