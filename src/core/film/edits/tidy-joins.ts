import type { Draft } from 'immer';
import { clamp } from '../../geometry/clamp';
import { plainLayer, type Layer } from '../composition';
import type { FilmDraft, NewId } from '../drafts';
import { byId, type Join, type Shot } from '../film';
import { limitsOfPlaced, pairOf, placedJoins } from '../timing';

/**
 * Changes to a film. Each takes a draft and changes it in place, so that the same function serves the browser,
 * the server and tests; together they keep these rules: every pair of neighbours has a join, overlaps do not
 * run into each other, and nothing refers to what is gone.
 */
export const draftJoin = (film: FilmDraft, id: string): Draft<Join> => byId(film.joins, id, 'join');

export const draftShot = (film: FilmDraft, id: string): Draft<Shot> => byId(film.shots, id, 'shot');

export const defaultLayers = (newId: NewId, leaving: string, entering: string): Layer[] => [
  plainLayer(newId(), leaving, 'leaving'),
  plainLayer(newId(), entering, 'entering'),
];

/** What a join is called until it is given a name. */
export const nameOfJoin = (leaving: string, entering: string): string => `${leaving} → ${entering}`;

/** Gives every pair of neighbours a join and keeps overlaps within their shots. */
export function tidyJoins(film: FilmDraft, newId: NewId): void {
  const paired = new Set(film.joins.map((j) => pairOf(j.leavingShotId, j.enteringShotId)));
  for (let i = 0; i + 1 < film.shots.length; i++) {
    const leaving = film.shots[i]!;
    const entering = film.shots[i + 1]!;
    if (paired.has(pairOf(leaving.id, entering.id))) continue;
    const layers = defaultLayers(newId, leaving.name, entering.name) as Draft<Layer>[];
    film.joins.push({
      id: newId(),
      name: nameOfJoin(leaving.name, entering.name),
      leavingShotId: leaving.id,
      enteringShotId: entering.id,
      before: 0,
      after: 0,
      layers,
      carriers: [],
      finish: [],
    });
  }
  const joins = new Map(film.joins.map((j) => [j.id, j]));
  placedJoins(film).forEach((placed, i, all) => {
    const limits = limitsOfPlaced(all[i - 1], placed);
    const here = joins.get(placed.join.id)!;
    here.before = clamp(here.before, 0, Math.max(0, limits.before));
    here.after = clamp(here.after, 0, Math.max(0, limits.after));
  });
}
