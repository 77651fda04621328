import type { Draft } from 'immer';
import type { LayerSource } from '../film/composition';
import { spreadOverlap } from '../film/edits';
import type { FilmDraft } from '../film/drafts';
import { byId, kindOf, type Film, type Join, type Media, type MeltSettings } from '../film/film';
import { placedJoins, type PlacedJoin } from '../film/timing';
import { EASE_NAMES, type EaseName } from '../motion/eases';
import { layMade, madeLayer, madeUse, wayOver } from './made-layers';
import type { Field } from './recipe';

/** Frames a melt takes at least and at most, and unless said. */
export const SHORTEST_MELT = 2;
export const LONGEST_MELT = 24;
const USUAL_LENGTH = 8;

export const MELT_DEFAULTS: MeltSettings = { matteId: null, quality: 'fine', ease: 'soft both' };

/** The settings as the panel shows them; length and subject have rows of their own. */
export const MELT_FIELDS: readonly Field<MeltSettings>[] = [
  { name: 'ease', label: 'Ease', kind: 'choice', options: EASE_NAMES.filter((n) => n !== 'hold') },
  { name: 'quality', label: 'Motion found', kind: 'choice', options: ['fast', 'fine'] },
];

/** A layer's source that melts both shots over an overlap. */
export function meltSource(ease: EaseName, quality: MeltSettings['quality'], join: Pick<Join, 'before' | 'after'>): LayerSource {
  const way = wayOver(ease, join, [0, 1]);
  return { kind: 'melt', quality, warp: way, mix: way };
}

/** Lays a join's melt anew over its overlap. */
export function layMelt(film: FilmDraft, joinId: string): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  if (join.recipe?.kind !== 'melt') return;
  const { ease, quality, matteId } = join.recipe.settings;
  const melt = madeLayer(join, 'melt', 'Melt', meltSource(ease, quality, join));
  if (matteId === null) return layMade(join, [melt]);
  // around a subject both shots dissolve
  layMade(join, [
    { ...melt, mattes: [madeUse(join, 'melt', { matteId, side: 'inside', growPx: 12, featherPx: 16 })] },
    { ...madeLayer(join, 'from', 'Around, leaving', { kind: 'leaving' }), opacity: wayOver(ease, join, [1, 0]) },
    madeLayer(join, 'to', 'Around, entering', { kind: 'entering' }),
  ]);
}

/** Makes a join a melt: both shots go over into each other by their motion. */
export function makeMelt(
  film: FilmDraft,
  media: Media,
  joinId: string,
  settings: MeltSettings = MELT_DEFAULTS,
  length = USUAL_LENGTH,
): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  const now = join.before + join.after;
  if (now < SHORTEST_MELT || now > LONGEST_MELT) spreadOverlap(film, media, joinId, length);
  join.recipe = { kind: 'melt', settings: { ...settings }, made: '' };
  layMelt(film, joinId);
}

export function setMeltSettings(film: FilmDraft, joinId: string, change: Partial<MeltSettings>): void {
  const { recipe } = byId<Draft<Join>>(film.joins, joinId, 'join');
  if (recipe?.kind !== 'melt') return;
  Object.assign(recipe.settings, change);
  layMelt(film, joinId);
}

/** The plain cuts between two pieces of one take: what "melt all cuts of this take" means. */
export const cutsOfTake = (film: Film, { leaving }: PlacedJoin): readonly PlacedJoin[] =>
  placedJoins(film).filter(
    (p) => p.leaving.mediumId === leaving.mediumId && p.entering.mediumId === leaving.mediumId && kindOf(p.join) === 'cut',
  );
