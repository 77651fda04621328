import type { Draft } from 'immer';
import { newLayer, type Layer, type LayerSource, type MatteUse } from '../film/composition';
import type { FilmDraft } from '../film/drafts';
import { byId, kindOf, type Film, type Join, type Media, type MeltSettings } from '../film/film';
import { handlesOf, mediumOf, overlapLimits, placedJoins, type PlacedJoin } from '../film/timing';
import type { Channel } from '../motion/curve';
import { EASE_NAMES, easedKeys, type EaseName } from '../motion/eases';
import { markOfMade, type Field } from './recipe';

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

/** A curve from 0 to 1 over the frames of an overlap, its ends lying just outside, so that every frame is on the way. */
const wayOver = (ease: EaseName, { before, after }: Pick<Join, 'before' | 'after'>): Channel =>
  easedKeys(ease, [-before - 1, 0], [Math.max(-before, after), 1]);

/** A layer's source that melts both shots over an overlap. */
export function meltSource(ease: EaseName, quality: MeltSettings['quality'], join: Pick<Join, 'before' | 'after'>): LayerSource {
  const way = wayOver(ease, join);
  return { kind: 'melt', quality, warp: way, mix: way };
}

const idOf = (join: Pick<Join, 'id'>, role: string): string => `${join.id}-${role}`.slice(-64);

/** Lays a join's melt anew over its overlap. */
export function layMelt(film: FilmDraft, joinId: string): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  if (join.recipe?.kind !== 'melt') return;
  const { ease, quality, matteId } = join.recipe.settings;
  const known = (role: string): Layer | undefined => (join.layers as readonly Layer[]).find((l) => l.id === idOf(join, role));
  const made = (role: string, name: string, source: LayerSource): Layer => {
    const before = known(role);
    return { ...newLayer(idOf(join, role), before?.name ?? name, source), visible: before?.visible ?? true };
  };
  const uses: readonly MatteUse[] =
    matteId === null
      ? []
      : [known('melt')?.mattes.find((m) => m.matteId === matteId) ?? { matteId, side: 'inside', growPx: 12, featherPx: 16 }];
  const melt: Layer = { ...made('melt', 'Melt', meltSource(ease, quality, join)), mattes: uses };
  const falls = easedKeys(ease, [-join.before - 1, 1], [Math.max(-join.before, join.after), 0]);
  // around a subject both shots dissolve
  const around: readonly Layer[] =
    matteId === null
      ? []
      : [{ ...made('from', 'Around, leaving', { kind: 'leaving' }), opacity: falls }, made('to', 'Around, entering', { kind: 'entering' })];
  join.layers = [melt, ...around] as Draft<Layer>[];
  join.carriers = [];
  delete join.camera;
  join.recipe.made = markOfMade(join);
}

/** Spreads an overlap of `length` frames about the cut, as far as both shots have pictures and the reel has room. */
export function setMeltLength(film: FilmDraft, media: Media, joinId: string, length: number): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  const placed = placedJoins(film as Film).find((p) => p.join.id === joinId);
  if (placed === undefined) return;
  const limits = overlapLimits(film, joinId);
  const spare = (side: 'leaving' | 'entering'): number => {
    const medium = mediumOf(media, placed[side]);
    if (medium === null) return length;
    const handles = handlesOf(film, placed[side], medium);
    return Math.max(0, side === 'leaving' ? handles.after : handles.before);
  };
  const most = { before: Math.min(limits.before, spare('entering')), after: Math.min(limits.after, spare('leaving')) };
  let before = Math.min(most.before, Math.ceil(length / 2));
  const after = Math.min(most.after, length - before);
  before = Math.min(most.before, length - after);
  join.before = before;
  join.after = after;
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
  if (now < SHORTEST_MELT || now > LONGEST_MELT) setMeltLength(film, media, joinId, length);
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
