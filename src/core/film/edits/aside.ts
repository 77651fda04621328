import { current, isDraft, type Draft } from 'immer';
import { keepWithShots, startsOfShots } from '../clocks';
import type { FilmDraft, NewId } from '../drafts';
import { byId, type Film, type Join, type Shot } from '../film';
import { dropUnusedOf } from './owned';
import { isFinished } from './copies';
import { pairOf, placeJoin } from '../timing';
import { nameOfJoin, tidyJoins } from './tidy-joins';

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

/** A plain cut of shots that are no neighbours is as good as none, unless it was given a name. */
function forgetPlainCuts(film: FilmDraft): void {
  const neighbours = new Set(film.shots.slice(1).map((s, i) => pairOf(film.shots[i]!.id, s.id)));
  const names = new Map([...film.shots, ...(film.aside ?? [])].map((s) => [s.id, s.name]));
  const isWorthKeeping = (join: Join): boolean =>
    neighbours.has(pairOf(join.leavingShotId, join.enteringShotId)) ||
    join.name !== nameOfJoin(names.get(join.leavingShotId) ?? '', names.get(join.enteringShotId) ?? '') ||
    isFinished(join);
  const isForgotten = film.joins.map((join) => !isWorthKeeping(plain(join)));
  if (isForgotten.includes(true)) film.joins = film.joins.filter((_, i) => !isForgotten[i]);
}

/** What a draft holds, to be read quickly. */
const plain = (join: Draft<Join>): Join => (isDraft(join) ? current(join) : join);

/** Keeps the shots off the reel that a finished join needs, and no others. */
export function keepForJoins(film: FilmDraft, off: readonly Shot[]): void {
  forgetPlainCuts(film);
  const onReel = new Set(film.shots.map((s) => s.id));
  const isOff = (j: Join): boolean => !onReel.has(j.leavingShotId) || !onReel.has(j.enteringShotId);
  const needed = new Set(film.joins.map(plain).filter((j) => isOff(j) && isFinished(j)).flatMap((j) => [j.leavingShotId, j.enteringShotId])); // prettier-ignore
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
