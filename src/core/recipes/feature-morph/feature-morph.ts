import type { Draft } from 'immer';
import { plainLayer, type Layer, type LinePair, type MeltSource, type ShotSide } from '../../film/composition';
import { addMatte } from '../../film/edits/mattes';
import type { FilmDraft, NewId } from '../../film/drafts';
import { byId, type Film, type Join } from '../../film/film';
import { GROUNDS_BEHIND, type FeatureSettings } from '../../film/recipe-settings';
import { placeJoin, type PlacedJoin } from '../../film/timing';
import { EASES_OF_MOVES } from '../../motion/eases';
import type { KindOfJoin } from '../kind';
import { idOf, madeLayer, wayOver } from '../made-layers';
import { LONGEST_MELT, SHORTEST_MELT } from '../melt/melt';
import { next, type NextThing } from '../next-thing';

const USUAL_LENGTH = 12;

/** Whether subjects alone go over, before a ground. */
export const hasSubjects = ({ subjects }: FeatureSettings): boolean => subjects.leaving !== null && subjects.entering !== null;

/** What is drawn in both goes over into one another. */
export const featureMorph: KindOfJoin<FeatureSettings> = {
  name: 'Feature morph',
  made: 'a feature morph',
  does: 'lines drawn in both shots become each other',
  need: { what: 'lines', text: 'a line drawn in each' },
  quick: { quality: 'fast' },
  furnish: addLinePair,
  elsewhere: (settings) => ({
    settings: { ...settings, pairs: [], subjects: { leaving: null, entering: null } },
    told: ['Its lines are to be drawn on these two shots.'],
  }),
  defaults: {
    pairs: [],
    borders: 'pinned',
    quality: 'fine',
    ease: 'soft both',
    subjects: { leaving: null, entering: null },
    ground: 'both',
    groundMediumId: null,
  },
  fields: [
    { name: 'ease', label: 'Ease', kind: 'choice', options: EASES_OF_MOVES },
    { name: 'borders', label: 'Borders', kind: 'choice', options: ['pinned', 'sliding'] },
    { name: 'quality', label: 'Motion found', kind: 'choice', options: ['fast', 'fine'] },
    { name: 'pairs', label: 'Lines', kind: 'line pairs' },
    { name: 'subjects', label: 'Subjects', kind: 'matte of each' },
    { name: 'ground', label: 'Behind them', kind: 'choice', options: GROUNDS_BEHIND },
    { name: 'groundMediumId', label: 'Media', kind: 'medium' },
  ],
  shortest: SHORTEST_MELT,
  longest: LONGEST_MELT,
  usual: USUAL_LENGTH,
  make({ join, settings }) {
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
    return { layers: [madeLayer(join, 'morph', 'Morph', source), ...(hasSubjects(settings) ? groundLayers(join, settings) : [])] };
  },
  lacks: nextOfFeatures,
};

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

/** Adds a pair of lines to be drawn, one on each shot; the join is made anew with them by `layJoin`. */
export function addLinePair(film: FilmDraft, joinId: string, newId: NewId): LinePair | null {
  const placed = placeJoin(film, joinId);
  const { recipe } = byId<Draft<Join>>(film.joins, joinId, 'join');
  if (placed === null || recipe?.kind !== 'feature morph') return null;
  const n = recipe.settings.pairs.length + 1;
  const added = (side: ShotSide): string => addMatte(film, placed[side].mediumId, 'outline', `Line ${n}, ${placed[side].name}`, newId);
  const pair = { leaving: added('leaving'), entering: added('entering') };
  recipe.settings.pairs.push(pair);
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

function nextOfFeatures(film: Film, placed: PlacedJoin, settings: FeatureSettings): NextThing | null {
  if (settings.pairs.length === 0) return next('move', 'Add a pair of lines on the right. What they follow becomes each other.');
  const lacking = undrawnLine(film, placed);
  if (lacking !== null)
    return next(
      'mask',
      `Draw along something in ${placed[lacking.side].name}, point by point: around it and closed, or open.`,
      lacking.matteId,
      lacking.side === 'leaving' ? placed.cut - 1 : placed.cut,
    );
  const unlike = unlikePairs(film, settings.pairs)[0];
  return unlike === undefined
    ? null
    : next('mask', 'One line of a pair is closed, the other open: close both, or draw both open.', unlike.leaving, placed.cut - 1);
}
