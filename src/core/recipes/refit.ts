import { setOverlap } from '../film/edits';
import type { FilmDraft } from '../film/drafts';
import { byId } from '../film/film';
import { layDissolve } from './dissolve';
import { layMelt } from './melt';
import { isChangedByHand } from './recipe';

/** Sets a join's overlap, and lets what its recipe made follow, unless a hand has changed that. */
export function setOverlapAndRefit(film: FilmDraft, joinId: string, before: number, after: number): void {
  const join = byId(film.joins, joinId, 'join');
  const kind = isChangedByHand(join) ? null : join.recipe?.kind;
  setOverlap(film, joinId, before, after);
  if (kind === 'melt') layMelt(film, joinId);
  if (kind === 'dissolve') layDissolve(film, joinId);
}
