import { rollCut, setOverlap } from '../film/edits';
import type { FilmDraft } from '../film/drafts';
import { byId, type Media } from '../film/film';
import { layDissolve } from './dissolve';
import { layFeatureMorph } from './feature-morph';
import { layMelt } from './melt';
import { isChangedByHand } from './recipe';

/** Makes a change of a join's span, and lets what its recipe made follow, unless a hand has changed that. */
function refitted(film: FilmDraft, joinId: string, change: () => void): void {
  const join = byId(film.joins, joinId, 'join');
  const kind = isChangedByHand(join) ? null : join.recipe?.kind;
  change();
  if (kind === 'melt') layMelt(film, joinId);
  if (kind === 'feature morph') layFeatureMorph(film, joinId);
  if (kind === 'dissolve') layDissolve(film, joinId);
}

/** Sets a join's overlap. */
export const setOverlapAndRefit = (film: FilmDraft, joinId: string, before: number, after: number): void =>
  refitted(film, joinId, () => setOverlap(film, joinId, before, after));

/** Moves a join's cut by `frames`. */
export const rollCutAndRefit = (film: FilmDraft, media: Media, joinId: string, frames: number): void =>
  refitted(film, joinId, () => rollCut(film, media, joinId, frames));
