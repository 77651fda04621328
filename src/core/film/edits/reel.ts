import type { Draft } from 'immer';
import { clamp } from '../../geometry/clamp';
import { keepWithShots, startsOfShots } from '../clocks';
import type { FilmDraft, NewId } from '../drafts';
import type { Medium, Shot } from '../film';
import { referencesTo } from '../references';
import { offsetOfMediumFrame } from '../timing';
import { tidyJoins } from './tidy-joins';

/** Lays the whole medium on the reel at place `index` (0 is first). */
export function addShot(film: FilmDraft, medium: Medium, index: number, newId: NewId): void {
  const starts = startsOfShots(film);
  const shot: Shot = { id: newId(), mediumId: medium.id, name: medium.name, inFrame: 0, length: 1 };
  const length = Math.max(1, offsetOfMediumFrame(film, shot, medium, medium.frames));
  film.shots.splice(clamp(index, 0, film.shots.length), 0, { ...shot, length } as Draft<Shot>);
  keepWithShots(film, starts);
  tidyJoins(film, newId);
}

export function moveShot(film: FilmDraft, shotId: string, index: number, newId: NewId): void {
  const starts = startsOfShots(film);
  const from = film.shots.findIndex((s) => s.id === shotId);
  const [shot] = film.shots.splice(from, from < 0 ? 0 : 1);
  if (shot === undefined) throw new RangeError(`no shot ${shotId} in the film`);
  film.shots.splice(clamp(index, 0, film.shots.length), 0, shot);
  keepWithShots(film, starts);
  tidyJoins(film, newId);
}

/** Takes the shot off the reel, with the joins that cannot come back without it. */
export function removeShot(film: FilmDraft, shotId: string, newId: NewId): void {
  const starts = startsOfShots(film);
  film.shots = film.shots.filter((s) => s.id !== shotId);
  const gone = film.joins.filter((j) => j.leavingShotId === shotId || j.enteringShotId === shotId);
  film.joins = film.joins.filter((j) => !gone.includes(j));
  const owners = new Set([shotId, ...gone.map((j) => j.id)]);
  for (const { id, ownerId } of [...film.mattes]) {
    // what others use by now stays
    if (ownerId !== undefined && owners.has(ownerId) && referencesTo(film, 'matte', id).length === 0)
      film.mattes = film.mattes.filter((m) => m.id !== id);
  }
  keepWithShots(film, starts);
  tidyJoins(film, newId);
}
