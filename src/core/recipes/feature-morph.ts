import type { Draft } from 'immer';
import { plainLayer, type Layer, type LinePair, type MeltSource, type ShotSide } from '../film/composition';
import { spreadOverlap } from '../film/edits';
import { addMatte } from '../film/edits/mattes';
import type { FilmDraft, NewId } from '../film/drafts';
import { byId, type FeatureSettings, type Film, type Join, type Media } from '../film/film';
import { placeJoin, type PlacedJoin } from '../film/timing';
import { EASE_NAMES } from '../motion/eases';
import { idOf, layMade, madeLayer, wayOver } from './made-layers';
import { LONGEST_MELT, SHORTEST_MELT } from './melt';
import type { Field } from './recipe';

const USUAL_LENGTH = 12;

export const FEATURE_DEFAULTS: FeatureSettings = {
  pairs: [],
  borders: 'pinned',
  quality: 'fine',
  ease: 'soft both',
  subjects: { leaving: null, entering: null },
  ground: 'both',
  groundMediumId: null,
};

/** Whether subjects alone go over, before a ground. */
export const hasSubjects = ({ subjects }: FeatureSettings): boolean => subjects.leaving !== null && subjects.entering !== null;

/** The settings as the panel shows them; pairs, length, subjects and the ground's medium have rows of their own. */
export const FEATURE_FIELDS: readonly Field<FeatureSettings>[] = [
  { name: 'ease', label: 'Ease', kind: 'choice', options: EASE_NAMES.filter((n) => n !== 'hold') },
  { name: 'borders', label: 'Borders', kind: 'choice', options: ['pinned', 'sliding'] },
  { name: 'quality', label: 'Motion found', kind: 'choice', options: ['fast', 'fine'] },
];

/** Lays a join's feature morph anew over its overlap. */
export function layFeatureMorph(film: FilmDraft, joinId: string): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  if (join.recipe?.kind !== 'feature morph') return;
  const settings = join.recipe.settings as FeatureSettings;
  const { ease, quality, pairs, borders, subjects } = settings;
  const way = wayOver(ease, join, [0, 1]);
  const source: MeltSource = {
    kind: 'melt',
    quality,
    warp: way,
    mix: way,
    lines: { pairs: pairs.map((p) => ({ ...p })), borders },
    ...(hasSubjects(settings) ? { subjects: { leaving: subjects.leaving!, entering: subjects.entering! } } : {}),
  };
  layMade(join, [madeLayer(join, 'morph', 'Morph', source), ...(hasSubjects(settings) ? groundLayers(join, settings) : [])]);
}

/** What lies behind subjects that go over, front to back. */
function groundLayers(join: Draft<Join>, { ground, groundMediumId, ease }: FeatureSettings): Layer[] {
  if (ground === 'medium' && groundMediumId !== null)
    return [madeLayer(join, 'ground', 'Ground', { kind: 'medium', mediumId: groundMediumId, frame: 0 })];
  if (ground === 'leaving' || ground === 'entering') return [plainLayer(idOf(join, 'ground'), `Ground, ${ground}`, ground)];
  return [
    { ...madeLayer(join, 'from', 'Ground, leaving', { kind: 'leaving' }), opacity: wayOver(ease, join, [1, 0]) },
    madeLayer(join, 'to', 'Ground, entering', { kind: 'entering' }),
  ];
}

/** Makes a join a feature morph; which lines go over into one another is told by `addLinePair`. */
export function makeFeatureMorph(film: FilmDraft, media: Media, joinId: string): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  const now = join.before + join.after;
  if (now < SHORTEST_MELT || now > LONGEST_MELT) spreadOverlap(film, media, joinId, USUAL_LENGTH);
  join.recipe = {
    kind: 'feature morph',
    settings: { ...FEATURE_DEFAULTS, pairs: [], subjects: { leaving: null, entering: null } },
    made: '',
  };
  layFeatureMorph(film, joinId);
}

export function setFeatureSettings(film: FilmDraft, joinId: string, change: Partial<FeatureSettings>): void {
  const { recipe } = byId<Draft<Join>>(film.joins, joinId, 'join');
  if (recipe?.kind !== 'feature morph') return;
  Object.assign(recipe.settings, change);
  layFeatureMorph(film, joinId);
}

/** Adds a pair of lines to be drawn, one on each shot. */
export function addLinePair(film: FilmDraft, joinId: string, newId: NewId): LinePair | null {
  const placed = placeJoin(film, joinId);
  const { recipe } = byId<Draft<Join>>(film.joins, joinId, 'join');
  if (placed === null || recipe?.kind !== 'feature morph') return null;
  const n = recipe.settings.pairs.length + 1;
  const added = (side: ShotSide): string => addMatte(film, placed[side].mediumId, 'outline', `Line ${n}, ${placed[side].name}`, newId);
  const pair = { leaving: added('leaving'), entering: added('entering') };
  recipe.settings.pairs.push(pair);
  layFeatureMorph(film, joinId);
  return pair;
}

/** Points a line needs to be one. */
const LEAST_POINTS = 2;

/** The first line of a pair that is not drawn yet, with the side it belongs to; null when all are. */
export function undrawnLine(film: Film, { join }: PlacedJoin): { readonly matteId: string; readonly side: ShotSide } | null {
  if (join.recipe?.kind !== 'feature morph') return null;
  for (const pair of join.recipe.settings.pairs)
    for (const side of ['leaving', 'entering'] as const) {
      const matte = film.mattes.find((m) => m.id === pair[side]);
      if (matte !== undefined && (matte.outline.keys[0]?.points.length ?? 0) < LEAST_POINTS) return { matteId: matte.id, side };
    }
  return null;
}

/** Pairs of which one line is closed and the other is not: they do not go together. */
export const unlikePairs = (film: Film, pairs: readonly LinePair[]): readonly LinePair[] =>
  pairs.filter(({ leaving, entering }) => {
    const [a, b] = [leaving, entering].map((id) => film.mattes.find((m) => m.id === id)?.outline);
    return a !== undefined && b !== undefined && a.keys.length > 0 && b.keys.length > 0 && a.closed !== b.closed;
  });
