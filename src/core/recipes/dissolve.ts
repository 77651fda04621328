import type { Draft } from 'immer';
import { spreadOverlap } from '../film/edits';
import type { FilmDraft } from '../film/drafts';
import { byId, type DissolveSettings, type Join, type Media } from '../film/film';
import { EASE_NAMES } from '../motion/eases';
import { layMade, madeLayer, wayOver } from './made-layers';
import type { Field } from './recipe';

/** Frames a dissolve takes at least, and unless said. */
export const SHORTEST_DISSOLVE = 2;
const USUAL_LENGTH = 12;

export const DISSOLVE_FIELDS: readonly Field<DissolveSettings>[] = [
  { name: 'ease', label: 'Ease', kind: 'choice', options: EASE_NAMES.filter((n) => n !== 'hold') },
];

/** Lays a join's dissolve anew over its overlap: the leaving shot above loses its opacity by a curve of its own. */
export function layDissolve(film: FilmDraft, joinId: string): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  if (join.recipe?.kind !== 'dissolve') return;
  const nameOf = (shotId: string): string => byId(film.shots, shotId, 'shot').name;
  layMade(join, [
    {
      ...madeLayer(join, 'over', nameOf(join.leavingShotId), { kind: 'leaving' }),
      opacity: wayOver(join.recipe.settings.ease, join, [1, 0]),
    },
    madeLayer(join, 'under', nameOf(join.enteringShotId), { kind: 'entering' }),
  ]);
}

/** Makes a join a dissolve, over the overlap it has or the usual one. */
export function makeDissolve(film: FilmDraft, media: Media, joinId: string): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  if (join.before + join.after < SHORTEST_DISSOLVE) spreadOverlap(film, media, joinId, USUAL_LENGTH);
  join.recipe = { kind: 'dissolve', settings: { ease: 'straight' }, made: '' };
  layDissolve(film, joinId);
}

export function setDissolveSettings(film: FilmDraft, joinId: string, change: Partial<DissolveSettings>): void {
  const { recipe } = byId<Draft<Join>>(film.joins, joinId, 'join');
  if (recipe?.kind !== 'dissolve') return;
  Object.assign(recipe.settings, change);
  layDissolve(film, joinId);
}
