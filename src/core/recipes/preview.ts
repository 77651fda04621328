import type { Draft } from 'immer';
import type { ShotSide } from '../film/composition';
import type { FilmDraft, NewId } from '../film/drafts';
import { makePlainCut, setOverlap } from '../film/edits/joins';
import { addMatte } from '../film/edits/mattes';
import { byId, type Film, type Matte, type Media } from '../film/film';
import { changedFilm } from '../film/history';
import type { RecipeName } from '../film/recipe-settings';
import { handlesOf, mediumOf, placeJoin, type PlacedJoin } from '../film/timing';
import { chain, scaling, translation } from '../geometry/matrix';
import { fillPolygon } from '../geometry/polygon-raster';
import { corner, flattenOutline, transformPoint, type OutlinePoint } from '../matte/outline/outline';
import { measureHole } from './hole-shape';
import type { Measured } from './kind';
import { kindNamed } from './kinds';
import { layJoin, makeKind } from './making';

/** Film frames a preview goes over. */
const LENGTH = 20;
const MEASURED = 160;

/** A film in which a join is made by a kind on sample mattes, to be looked at and thrown away; null while its media is not ready. */
export function previewOf(
  film: Film,
  media: Media,
  joinId: string,
  kind: RecipeName | 'cut',
): { readonly film: Film; readonly placed: PlacedJoin } | null {
  const before = placeJoin(film, joinId);
  const leaving = before === null ? null : mediumOf(media, before.leaving);
  if (before === null || leaving === null || mediumOf(media, before.entering) === null) return null;
  let n = 0;
  const newId = (): string => `preview-${n++}`;
  const made = changedFilm(film, (d) => {
    makePlainCut(d, joinId, newId);
    lend(d, media, before);
    if (kind !== 'cut') sample(d, media, before, kind, newId);
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

/** Makes a join of a kind, on sample mattes where it takes some, with settings that show within a preview. */
function sample(film: FilmDraft, media: Media, placed: PlacedJoin, kind: RecipeName, newId: NewId): void {
  const { need, quick, furnish } = kindNamed(kind);
  const { id } = placed.join;
  const matteId = need === null || need.what === 'lines' ? null : sampleMatte(film, media, placed, need.what, newId);
  makeKind(film, media, id, kind, { ...quick, ...(matteId === null ? {} : { matteId }) }, { newId });
  if (furnish !== undefined) {
    const before = new Set(film.mattes.map((m) => m.id));
    furnish(film, id, newId);
    // a round line in the middle of both, one larger than the other
    for (const line of film.mattes.filter((m) => !before.has(m.id)))
      line.outline = standing(roundLine(media, placed, line.mediumId === placed.leaving.mediumId ? 'leaving' : 'entering'));
  }
  layJoin(film, media, id, need?.what === 'hole' ? new Map([[id, sampleHole(film, media, placed)]]) : undefined);
}

const standing = (points: OutlinePoint[]): Draft<Matte>['outline'] => ({ closed: true, keys: [{ frame: 0, ease: 'straight', points }] });

const heightOf = (media: Media, placed: PlacedJoin, side: ShotSide): number => {
  const { width, height } = mediumOf(media, placed[side])!;
  return Math.min(width, height);
};
const roundLine = (media: Media, placed: PlacedJoin, side: ShotSide): OutlinePoint[] =>
  circleOf((side === 'leaving' ? 0.28 : 0.33) * heightOf(media, placed, side));
const HOLE = 0.2;

/** A matte for a need: an edge that passes, a round hole in the middle of the leaving shot, or a round piece from the middle of the entering one. */
function sampleMatte(film: FilmDraft, media: Media, placed: PlacedJoin, what: 'outline' | 'hole' | 'subject', newId: NewId): string {
  const side = what === 'subject' ? 'entering' : 'leaving';
  const id = addMatte(film, placed[side].mediumId, 'outline', 'preview', newId);
  const matte = byId(film.mattes, id, 'matte');
  if (what === 'outline') matte.outline = passingEdge(film, placed);
  else if (what === 'hole') matte.outline = standing(circleOf(HOLE * heightOf(media, placed, 'leaving')));
  else matte.outline = standing(roundLine(media, placed, 'entering'));
  return id;
}

function passingEdge(film: FilmDraft, { leaving }: PlacedJoin): Draft<Matte>['outline'] {
  const first = Math.floor(leaving.inFrame + leaving.length - LENGTH / 2);
  const [w, h] = [film.width, film.height];
  const edge = (x: number): OutlinePoint[] => [corner(x, -h), corner(3 * w, -h), corner(3 * w, h), corner(x - 0.15 * w, h)];
  return {
    closed: true,
    keys: [
      { frame: first - 1, ease: 'straight', points: edge(0.7 * w) },
      { frame: first + LENGTH, ease: 'straight', points: edge(-0.7 * w) },
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

/** The sample hole as it would be measured on every frame. */
function sampleHole(film: Film, media: Media, { leaving }: PlacedJoin): Measured {
  const medium = mediumOf(media, leaving)!;
  const points = circleOf(HOLE * Math.min(medium.width, medium.height));
  const [width, height] = [MEASURED, Math.max(1, Math.round((MEASURED * film.height) / film.width))];
  const fill = Math.max(film.width / medium.width, film.height / medium.height);
  const toRaster = chain(scaling(fill), scaling(width / film.width, height / film.height), translation(width / 2, height / 2));
  const coverage = new Uint8Array(width * height);
  const polygon = flattenOutline(points.map((p) => transformPoint(p, toRaster)));
  fillPolygon(polygon, { growPx: 0, featherPx: 2 }, width, height, coverage);
  const hole = measureHole(coverage, width, height, film.width, film.height);
  return Array.from({ length: LENGTH }, () => hole);
}
