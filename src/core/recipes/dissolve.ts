import type { Draft } from 'immer';
import { newLayer, type Layer, type ShotSide } from '../film/composition';
import type { FilmDraft } from '../film/drafts';
import { byId, type DissolveSettings, type Join, type Media } from '../film/film';
import { EASE_NAMES, easedKeys } from '../motion/eases';
import { setMeltLength } from './melt';
import { markOfMade, type Field } from './recipe';

/** Frames a dissolve takes at least, and unless said. */
export const SHORTEST_DISSOLVE = 2;
const USUAL_LENGTH = 12;

export const DISSOLVE_FIELDS: readonly Field<DissolveSettings>[] = [
  { name: 'ease', label: 'Ease', kind: 'choice', options: EASE_NAMES.filter((n) => n !== 'hold') },
];

const idOf = (join: Pick<Join, 'id'>, role: string): string => `${join.id}-${role}`.slice(-64);

/** Lays a join's dissolve anew over its overlap: the leaving shot above loses its opacity by a curve of its own. */
export function layDissolve(film: FilmDraft, joinId: string): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  if (join.recipe?.kind !== 'dissolve') return;
  const { ease } = join.recipe.settings;
  const made = (role: string, side: ShotSide, shotId: string): Layer => {
    const id = idOf(join, role);
    const before = (join.layers as readonly Layer[]).find((l) => l.id === id);
    const name = before?.name ?? byId(film.shots, shotId, 'shot').name;
    return { ...newLayer(id, name, { kind: side }), visible: before?.visible ?? true };
  };
  // both ends lie just outside, so that every frame is on the way
  const opacity = easedKeys(ease, [-join.before - 1, 1], [Math.max(-join.before, join.after), 0]);
  join.layers = [
    { ...made('over', 'leaving', join.leavingShotId), opacity },
    made('under', 'entering', join.enteringShotId),
  ] as Draft<Layer>[];
  join.carriers = [];
  delete join.camera;
  join.recipe.made = markOfMade(join);
}

/** Makes a join a dissolve, over the overlap it has or the usual one. */
export function makeDissolve(film: FilmDraft, media: Media, joinId: string): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  if (join.before + join.after < SHORTEST_DISSOLVE) setMeltLength(film, media, joinId, USUAL_LENGTH);
  join.recipe = { kind: 'dissolve', settings: { ease: 'straight' }, made: '' };
  layDissolve(film, joinId);
}

export function setDissolveSettings(film: FilmDraft, joinId: string, change: Partial<DissolveSettings>): void {
  const { recipe } = byId<Draft<Join>>(film.joins, joinId, 'join');
  if (recipe?.kind !== 'dissolve') return;
  Object.assign(recipe.settings, change);
  layDissolve(film, joinId);
}
