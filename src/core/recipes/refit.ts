import { rollCut, setOverlap } from '../film/edits';
import type { FilmDraft } from '../film/drafts';
import { byId, type Media } from '../film/film';
import { handlesOf, mediumOf } from '../film/timing';
import { layArrive } from './arrive';
import { layDissolve } from './dissolve';
import { layFeatureMorph } from './feature-morph';
import { layMelt } from './melt';
import { isChangedByHand } from './recipe';

/** Makes a change of a join's span, and lets what its recipe made follow, unless a hand has changed that. */
function refitted(film: FilmDraft, media: Media, joinId: string, change: () => void): void {
  const join = byId(film.joins, joinId, 'join');
  const kind = isChangedByHand(join) ? null : join.recipe?.kind;
  change();
  if (kind === 'arrive') layArrive(film, media, joinId);
  if (kind === 'melt') layMelt(film, joinId);
  if (kind === 'feature morph') layFeatureMorph(film, joinId);
  if (kind === 'dissolve') layDissolve(film, joinId);
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
