import type { Draft } from 'immer';
import { keepWithShots, startsOfShots } from '../clocks';
import type { FilmDraft, NewId } from '../drafts';
import { byId, type Film, type Join, type Shot } from '../film';
import { dropUnusedOf } from './owned';
import { isFinished } from './copies';
import { placeJoin } from '../timing';
import { tidyJoins } from './tidy-joins';

/** Joins whose shots are no neighbours any more: nothing that was made of them is lost. */

/** A finished join that is on no cut, and its shots: on the reel still, or kept for it. */
export interface AsideJoin {
  readonly join: Join;
  readonly leaving: Shot;
  readonly entering: Shot;
}

/** The joins put aside, in the order they were made. */
export function joinsAside(film: Film): readonly AsideJoin[] {
  const shots = new Map([...film.shots, ...(film.aside ?? [])].map((s) => [s.id, s]));
  return film.joins.flatMap((join): AsideJoin[] => {
    const [leaving, entering] = [shots.get(join.leavingShotId), shots.get(join.enteringShotId)];
    if (leaving === undefined || entering === undefined || placeJoin(film, join.id) !== null || !isFinished(join)) return [];
    return [{ join, leaving, entering }];
  });
}

/** Keeps the shots off the reel that a finished join needs, and no others. */
export function keepForJoins(film: FilmDraft, off: readonly Shot[]): void {
  const needed = new Set(film.joins.filter(isFinished).flatMap((j) => [j.leavingShotId, j.enteringShotId]));
  const onReel = new Set(film.shots.map((s) => s.id));
  const kept = [...(film.aside ?? []), ...(off as Draft<Shot>[])].filter((s) => needed.has(s.id) && !onReel.has(s.id));
  const ids = new Set([...onReel, ...kept.map((s) => s.id)]);
  if (kept.length === 0) delete film.aside;
  else film.aside = kept;
  const gone = film.joins.filter((j) => !ids.has(j.leavingShotId) || !ids.has(j.enteringShotId));
  film.joins = film.joins.filter((j) => !gone.includes(j));
  dropUnusedOf(film, new Set([...off.map((s) => s.id).filter((id) => !ids.has(id)), ...gone.map((j) => j.id)]));
}

/** Lays a join that was put aside on a cut again: its entering shot comes right behind its leaving one, from wherever both are. */
export function bringBack(film: FilmDraft, joinId: string, newId: NewId): void {
  const starts = startsOfShots(film);
  const { leavingShotId, enteringShotId } = byId(film.joins, joinId, 'join');
  const from = (id: string): Draft<Shot> => byId([...film.shots, ...(film.aside ?? [])], id, 'shot');
  const [leaving, entering] = [from(leavingShotId), from(enteringShotId)];
  const isOnReel = (shot: Shot): boolean => film.shots.includes(shot as Draft<Shot>);
  if (!isOnReel(leaving) && isOnReel(entering)) film.shots.splice(film.shots.indexOf(entering), 0, leaving);
  else {
    if (!isOnReel(leaving)) film.shots.push(leaving);
    film.shots = film.shots.filter((s) => s !== entering);
    film.shots.splice(film.shots.indexOf(leaving) + 1, 0, entering);
  }
  keepForJoins(film, []);
  keepWithShots(film, starts);
  tidyJoins(film, newId);
}

/** Forgets a join that was put aside, with what only it needs. */
export function forgetAside(film: FilmDraft, joinId: string): void {
  film.joins = film.joins.filter((j) => j.id !== joinId);
  dropUnusedOf(film, new Set([joinId]));
  keepForJoins(film, []);
}
