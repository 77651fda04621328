import type { Draft } from 'immer';
import { setOverlap } from '../film/edits/joins';
import { rollCut } from '../film/edits/trims';
import type { FilmDraft } from '../film/drafts';
import { byId, type Film, type Join, type Media } from '../film/film';
import { handlesOf, mediumOf, overlapLimits, placeJoin } from '../film/timing';
import { kindNamed } from './kinds';
import { layJoin, overlapAsked } from './making';
import { isChangedByHand } from '../film/made-mark';

/** Makes a change of a join's span, and lets what its recipe made follow, unless a hand has changed that. */
function refitted(film: FilmDraft, media: Media, joinId: string, change: () => void): void {
  const follows = !isChangedByHand(film, byId(film.joins, joinId, 'join'));
  change();
  if (follows) layJoin(film, media, joinId);
}

/** The settings of a move that goes on from the join before, so that it begins where that one ends; null for any other. */
function goingOn<R extends Join['recipe'] | Draft<Join>['recipe']>(recipe: R): { goesOn: boolean } | null {
  if (recipe === undefined || kindNamed(recipe.kind).beginsWhereLastEnds !== true) return null;
  const settings = recipe.settings as { goesOn: boolean };
  return settings.goesOn ? settings : null;
}

/** What `setOverlapAndRefit` does, as a name for the undo list. */
export const overlapName = (film: Film, joinId: string, before: number): string => {
  const join = byId(film.joins, joinId, 'join');
  return goingOn(join.recipe) !== null && before !== join.before
    ? 'Changed the overlap: it no longer continues from the previous one'
    : 'Changed the overlap';
};

/** How far a join's overlap may reach: no frame past the cut where its kind shows nothing there. */
export function overlapReach(film: Film, media: Media, joinId: string): { readonly before: number; readonly after: number } {
  const limits = overlapLimits(film, joinId);
  const placed = placeJoin(film, joinId);
  return placed !== null && overlapAsked(film, media, placed)?.after === 0 ? { ...limits, after: 0 } : limits;
}

/**
 * Sets a join's overlap as a hand does: it stays so. Kinds that would reckon theirs fit what they make to it; a move that goes on from the one before
 * no longer does, where its beginning is set elsewhere.
 */
export function setOverlapAndRefit(film: FilmDraft, media: Media, joinId: string, before: number, after: number): void {
  refitted(film, media, joinId, () => {
    const join: Draft<Join> = byId(film.joins, joinId, 'join');
    const { recipe } = join;
    const going = goingOn(recipe);
    if (going !== null && before !== join.before) going.goesOn = false;
    const reach = overlapReach(film, media, joinId);
    const placed = placeJoin(film, joinId);
    if (recipe !== undefined && placed !== null && overlapAsked(film, media, placed) !== null) recipe.overlapByHand = true;
    setOverlap(film, joinId, before, Math.min(after, reach.after));
  });
}

/** Gives a join the overlap again that its settings ask for. */
export function freeOverlap(film: FilmDraft, media: Media, joinId: string): void {
  refitted(film, media, joinId, () => {
    const { recipe } = byId<Draft<Join>>(film.joins, joinId, 'join');
    if (recipe !== undefined) delete recipe.overlapByHand;
  });
}

/** Moves a join's cut by `frames`, not to before the entering shot has pictures. */
export function rollCutAndRefit(film: FilmDraft, media: Media, joinId: string, frames: number): void {
  const entering = byId(film.shots, byId(film.joins, joinId, 'join').enteringShotId, 'shot');
  const medium = mediumOf(media, entering);
  const spare = medium === null ? 0 : Math.max(0, handlesOf(film, entering, medium).before);
  refitted(film, media, joinId, () => rollCut(film, media, joinId, Math.max(-spare, frames)));
}
