import { clamp } from '../../geometry/clamp';
import type { Draft } from 'immer';
import { setOutline } from '../../film/edits/mattes';
import { rollCut } from '../../film/edits/trims';
import { addMatte } from '../../film/edits/mattes';
import { plainLayer, sideOf, type Layer } from '../../film/composition';
import type { FilmDraft, NewId } from '../../film/drafts';
import { byId, type Join, type Media } from '../../film/film';
import { overlapLimits, placeJoin } from '../../film/timing';
import type { WipeSettings } from '../../film/recipe-settings';
import type { Outline } from '../../matte/outline/outline';
import type { Given, KindOfJoin } from '../kind';
import { nextOfWipe } from './lacks';
import { reportWipe } from './wipe-past-report';

const draftJoin = (film: FilmDraft, id: string): Draft<Join> => byId(film.joins, id, 'join');

/** Whether the overlap of a join follows the hole of its wipe. */
export const followsHole = ({ recipe }: Join): boolean => recipe?.kind === 'wipe past' && recipe.settings.followsHole;

/**
 * Makes the overlap run from the first frame with a hole to the frame before everything is hidden, rolling the
 * cut into it when it lies outside. Pictures stay where they are in time. Without a hole nothing changes.
 */
export function fitOverlapToHole(film: FilmDraft, media: Media, joinId: string): void {
  const before = placeJoin(film, joinId);
  const report = before === null ? null : reportWipe(film, media, before);
  if (before === null || report === null || report.firstHole === null) return;
  const from = report.firstHole;
  const to = report.fullFrom ?? report.start + report.hidden.length;
  rollCut(film, media, joinId, clamp(before.cut, from, to) - before.cut);
  const placed = placeJoin(film, joinId)!;
  const limits = overlapLimits(film, joinId);
  const join = draftJoin(film, joinId);
  join.before = clamp(placed.cut - from, 0, Math.max(0, limits.before));
  join.after = clamp(to - placed.cut, 0, Math.max(0, limits.after));
}

/**
 * The recipe "wipe past": the leaving shot above with the area behind the trailing edge taken out by an outline,
 * the entering shot below. Layers that are there stay as they are; what is missing is added. An outline of the leaving shot that
 * exists already can be given.
 */
function makeWipePast(film: FilmDraft, joinId: string, given: Partial<WipeSettings> & Given, newId: NewId): void {
  const join = draftJoin(film, joinId);
  const leaving = byId(film.shots, join.leavingShotId, 'shot');
  join.recipe = { kind: 'wipe past', settings: { followsHole: given.followsHole ?? true }, made: '' };
  let layer = join.layers.find((l) => sideOf(l as Layer) === 'leaving');
  if (layer === undefined) {
    layer = plainLayer(newId(), leaving.name, 'leaving') as Draft<Layer>;
    join.layers.unshift(layer);
  }
  if (!join.layers.some((l) => sideOf(l) === 'entering'))
    join.layers.push(plainLayer(newId(), byId(film.shots, join.enteringShotId, 'shot').name, 'entering') as Draft<Layer>);
  if (!layer.mattes.some((m) => m.side === 'outside'))
    layer.mattes.push({
      matteId: given.matteId ?? addMatte(film, leaving.mediumId, 'outline', 'Behind the trailing edge', newId),
      side: 'outside',
      growPx: 0,
      featherPx: 2,
    });
}

/** Replaces a matte's outline, and lets the overlaps of wipes that use it follow. */
export function setOutlineAndFit(film: FilmDraft, media: Media, matteId: string, outline: Outline): void {
  setOutline(film, matteId, outline);
  for (const join of film.joins)
    if (followsHole(join) && join.layers.some((l) => l.mattes.some((m) => m.matteId === matteId))) fitOverlapToHole(film, media, join.id);
}

/** What crosses the frame reveals the next shot behind its trailing edge. */
export const wipePast: KindOfJoin<WipeSettings> = {
  name: 'Wipe past',
  made: 'a wipe past',
  does: 'a passing object reveals the next shot',
  need: { what: 'outline', text: 'an outline that follows' },
  defaults: { followsHole: true },
  fields: [{ name: 'followsHole', label: 'Overlap follows the hole', kind: 'switch' }],
  shortest: 0,
  longest: 1000,
  usual: 12,
  ownLength: true,
  followsByItself: true,
  quick: { followsHole: false },
  start: (film, _media, joinId, given, newId) => makeWipePast(film, joinId, given, newId),
  fit(film, media, joinId) {
    if (followsHole(draftJoin(film, joinId))) fitOverlapToHole(film, media, joinId);
  },
  report: reportWipe,
  lacks: (film, placed, _settings, { report }) => nextOfWipe(film, placed, report),
};
