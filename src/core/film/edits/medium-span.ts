import { toNumber } from '../../geometry/rational';
import type { FilmDraft } from '../drafts';
import type { Film, Join, Medium, Shot } from '../film';
import { keepingMarks } from '../made-mark';
import { mediumFramesPerFilmFrame, mediumPlaceAt } from '../timing';
import { isHeardAlone } from './exchange';
import type { MediumSpan } from './spans';

/** What of a medium a film shows, and a film for a file that holds no more than that. */

/** The film frames by which a shot is shown beyond its ends, in its joins. */
function reachOf(film: Film, shot: Shot): { readonly before: number; readonly after: number } {
  const most = (list: readonly number[]): number => Math.max(0, ...list);
  return {
    before: most(film.joins.filter((j) => j.enteringShotId === shot.id).map((j) => j.before)),
    after: most(film.joins.filter((j) => j.leavingShotId === shot.id).map((j) => j.after)),
  };
}

const sideMedium = (film: Film, join: Join, side: 'leaving' | 'entering'): string | undefined => {
  const id = side === 'leaving' ? join.leavingShotId : join.enteringShotId;
  return [...film.shots, ...(film.aside ?? [])].find((s) => s.id === id)?.mediumId;
};

/**
 * The medium frames that a film shows of a medium, with `handles` film frames around each shot. Null where all of it is wanted: for a
 * still, for what is heard by itself, and for what is shown as a layer without being a shot.
 */
export function spanInUse(film: Film, medium: Medium, handles: number): MediumSpan | null {
  const shots = [...film.shots, ...(film.aside ?? [])].filter((s) => s.mediumId === medium.id);
  const isLayer = film.joins.some((j) => JSON.stringify([j.layers.map((l) => l.source), j.recipe ?? null]).includes(`"${medium.id}"`));
  if (medium.kind === 'still' || shots.length === 0 || isLayer || isHeardAlone(film, medium.id)) return null;
  const places: number[] = [];
  for (const shot of shots) {
    const { before, after } = reachOf(film, shot);
    for (let o = -before - handles; o < shot.length + after + handles; o++) places.push(mediumPlaceAt(film, shot, medium, o));
  }
  for (const join of film.joins)
    for (const { source } of join.layers)
      if (source.kind === 'held' && sideMedium(film, join, source.side) === medium.id) places.push(source.frame);
  // what is blended between two pictures needs the next one too
  const spare = Math.ceil(mediumFramesPerFilmFrame(film, medium));
  const [first, last] = [Math.floor(least(places)) - spare, Math.ceil(-least(places.map((p) => -p))) + spare];
  return { first: Math.max(0, first), last: Math.min(medium.frames - 1, last) };
}

const least = (numbers: readonly number[]): number => numbers.reduce((a, b) => Math.min(a, b));

/** Lets a film be of a medium that begins `by` frames later: everything that is said in its frames or seconds comes earlier by as much. */
export function beginLater(film: FilmDraft, medium: Medium, by: number): void {
  keepingMarks(film, () => moveEarlier(film, medium, by));
}

function moveEarlier(film: FilmDraft, medium: Medium, by: number): void {
  const isOf = (thing: { readonly mediumId: string }): boolean => thing.mediumId === medium.id;
  for (const list of [film.shots, film.aside ?? []]) for (const shot of list.filter(isOf)) shot.inFrame -= by;
  const seconds = by / toNumber(medium.rate);
  for (const marker of (film.mediumMarkers ?? []).filter(isOf)) marker.seconds = Math.max(0, marker.seconds - seconds);
  for (const beats of (film.beats ?? []).filter(isOf)) {
    const kept = beats.seconds.filter((s) => s >= seconds);
    const lost = beats.seconds.length - kept.length;
    beats.downbeat = (((beats.downbeat - lost) % beats.perBar) + beats.perBar) % beats.perBar;
    beats.seconds = kept.map((s) => s - seconds);
  }
  for (const matte of film.mattes.filter(isOf)) {
    for (const key of matte.outline.keys) key.frame -= by;
    for (const painted of matte.painted ?? []) painted.frame -= by;
    if (matte.coversFrame != null) matte.coversFrame = { from: matte.coversFrame.from - by, to: matte.coversFrame.to - by };
  }
  for (const track of (film.tracks ?? []).filter(isOf)) for (const at of [...track.keys, ...track.frames]) at.frame -= by;
  for (const join of film.joins) {
    const isSide = (side: 'leaving' | 'entering'): boolean => sideMedium(film, join, side) === medium.id;
    for (const { source } of join.layers) if (source.kind === 'held' && isSide(source.side)) source.frame -= by;
    for (const point of join.interest ?? []) if (isSide(point.side)) point.frame -= by;
    const { recipe } = join;
    if (recipe?.kind === 'held cut-out' && recipe.settings.moment != null && isSide(recipe.settings.side)) recipe.settings.moment -= by;
  }
}
