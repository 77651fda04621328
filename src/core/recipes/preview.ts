import type { FilmDraft } from '../film/drafts';
import { setOverlap } from '../film/edits';
import { addMatte } from '../film/edits/mattes';
import { byId, type Film, type Media } from '../film/film';
import type { Recipe, SettingsByKind } from '../film/recipe-settings';
import { changedFilm } from '../film/history';
import { handlesOf, mediumOf, placeJoin, type PlacedJoin } from '../film/timing';
import { CoverageRaster } from '../geometry/polygon-raster';
import { chain, scaling, translation } from '../geometry/matrix';
import { corner, flattenOutline, transformPoint, type OutlinePoint } from '../matte/outline/outline';
import { makePlainCut } from '../film/edits';
import { isComposed, layComposed, makeComposed, type ComposedName } from './composed';
import { addLinePair } from './feature-morph';
import { recipeKind } from './recipe';
import { measureHole } from './hole-shape';
import { makeWipePast } from './wipe-past';
import { layZooms, makeZoomThrough } from './zoom-through';

/** Film frames a preview goes over. */
const LENGTH = 20;
const MEASURED = 160;

/** A film in which a join is made by a kind on sample mattes, to be looked at and thrown away; null while a medium is not ready. */
export function previewOf(
  film: Film,
  media: Media,
  joinId: string,
  kind: Recipe['kind'] | 'cut',
): { readonly film: Film; readonly placed: PlacedJoin } | null {
  const before = placeJoin(film, joinId);
  const leaving = before === null ? null : mediumOf(media, before.leaving);
  if (before === null || leaving === null || mediumOf(media, before.entering) === null) return null;
  let n = 0;
  const newId = (): string => `preview-${n++}`;
  const made = changedFilm(film, (d) => {
    makePlainCut(d, joinId, newId);
    lend(d, media, before);
    if (kind === 'wipe past') sampleWipe(d, before, newId);
    if (kind !== 'cut' && isComposed(kind)) sampleComposed(d, media, before, kind, newId);
    if (kind === 'zoom through') sampleZoom(d, media, before, newId);
  });
  return { film: made, placed: placeJoin(made, joinId)! };
}

/** Gives both shots pictures for the whole overlap, as far as their media have them. */
function lend(film: FilmDraft, media: Media, { join, leaving, entering }: PlacedJoin): void {
  const [a, b] = [byId(film.shots, leaving.id, 'shot'), byId(film.shots, entering.id, 'shot')];
  const spare = handlesOf(film, b, mediumOf(media, entering)!).before;
  if (spare < LENGTH / 2) b.inFrame += LENGTH / 2 - spare;
  const after = handlesOf(film, a, mediumOf(media, leaving)!).after;
  if (after < LENGTH / 2) a.inFrame -= LENGTH / 2 - after;
  setOverlap(film, join.id, LENGTH / 2, LENGTH / 2);
}

/** A kind that follows from its settings, made on a round piece from the middle of the entering shot where it takes one. */
function sampleComposed(film: FilmDraft, media: Media, placed: PlacedJoin, kind: ComposedName, newId: () => string): void {
  const { join, entering } = placed;
  if (kind === 'feature morph') return sampleMorph(film, media, placed, newId);
  const { need } = recipeKind(kind);
  const quick = { ...(need?.what === 'subject' ? { matteId: sampleSubject(film, media, entering, newId) } : {}), ...QUICK[kind] };
  makeComposed(film, media, join.id, kind, quick);
}

/** Settings with which a kind shows within the frames of a preview. */
const QUICK: { readonly [K in ComposedName]?: Partial<SettingsByKind[K]> } = {
  melt: { quality: 'fast' },
  'held cut-out': { punches: 3, on: 'frames', every: 5 },
  'panels on the beat': { count: 4, on: 'frames', every: 4, diesIn: 3 },
  'tiles in space': { folds: 6, travels: 10 },
  bridge: { pin: { x: 0, y: 0, scale: 0.4, turn: 0 }, comesAfter: 3, comesOver: 8 },
};

function sampleSubject(film: FilmDraft, media: Media, entering: PlacedJoin['entering'], newId: () => string): string {
  const { width, height } = mediumOf(media, entering)!;
  const id = addMatte(film, entering.mediumId, 'outline', 'preview', newId);
  const points = circleOf(0.33 * Math.min(width, height));
  byId(film.mattes, id, 'matte').outline = { closed: true, keys: [{ frame: 0, ease: 'straight', points }] };
  return id;
}

/** A round line in the middle of both, one larger than the other. */
function sampleMorph(film: FilmDraft, media: Media, placed: PlacedJoin, newId: () => string): void {
  makeComposed(film, media, placed.join.id, 'feature morph', { quality: 'fast' });
  const pair = addLinePair(film, placed.join.id, newId)!;
  for (const side of ['leaving', 'entering'] as const) {
    const { width, height } = mediumOf(media, placed[side])!;
    const points = circleOf((side === 'leaving' ? 0.28 : 0.33) * Math.min(width, height));
    byId(film.mattes, pair[side], 'matte').outline = { closed: true, keys: [{ frame: 0, ease: 'straight', points }] };
  }
  layComposed(film, media, placed.join.id);
}

function sampleWipe(film: FilmDraft, { join, leaving, cut }: PlacedJoin, newId: () => string): void {
  const id = addMatte(film, leaving.mediumId, 'outline', 'preview', newId);
  makeWipePast(film, join.id, newId, id);
  byId(film.joins, join.id, 'join').recipe = { kind: 'wipe past', settings: { followsHole: false }, made: '' };
  const first = leaving.inFrame + cut - LENGTH / 2 - (cut - leaving.length);
  const [w, h] = [film.width, film.height];
  const edge = (x: number): OutlinePoint[] => [corner(x, -h), corner(3 * w, -h), corner(3 * w, h), corner(x - 0.15 * w, h)];
  byId(film.mattes, id, 'matte').outline = {
    closed: true,
    keys: [
      { frame: Math.floor(first) - 1, ease: 'straight', points: edge(0.7 * w) },
      { frame: Math.floor(first) + LENGTH, ease: 'straight', points: edge(-0.7 * w) },
    ],
  };
}

const CIRCLE = 0.5523;

function circleOf(r: number): OutlinePoint[] {
  const k = CIRCLE * r;
  return [
    { ...corner(r, 0), inY: -k, outY: k },
    { ...corner(0, r), inX: k, outX: -k },
    { ...corner(-r, 0), inY: k, outY: -k },
    { ...corner(0, -r), inX: -k, outX: k },
  ];
}

function sampleZoom(film: FilmDraft, media: Media, { join, leaving }: PlacedJoin, newId: () => string): void {
  const id = addMatte(film, leaving.mediumId, 'outline', 'preview', newId);
  const medium = mediumOf(media, leaving)!;
  const r = 0.2 * Math.min(medium.width, medium.height);
  const points = circleOf(r);
  byId(film.mattes, id, 'matte').outline = { closed: true, keys: [{ frame: 0, ease: 'straight', points }] };
  makeZoomThrough(film, media, join.id, id);
  const [width, height] = [MEASURED, Math.max(1, Math.round((MEASURED * film.height) / film.width))];
  const fill = Math.max(film.width / medium.width, film.height / medium.height);
  const toRaster = chain(scaling(fill), scaling(width / film.width, height / film.height), translation(width / 2, height / 2));
  const coverage = new Uint8Array(width * height);
  new CoverageRaster(width, height).fill(
    flattenOutline(points.map((p) => transformPoint(p, toRaster))),
    { growPx: 0, featherPx: 2 },
    coverage,
  );
  const hole = measureHole(coverage, width, height, film.width, film.height);
  layZooms(film, join.id, new Map([[join.id, Array.from({ length: LENGTH }, () => hole)]]));
}
