import { isSameRate, toNumber } from '../geometry/rational';
import type { Film, Join, Media, Medium, Shot } from './film';

/** Rounding room for products of rates, so that whole frames stay whole. */
const EPSILON = 1e-6;

/** Medium frames that pass in one film frame. */
export const mediumFramesPerFilmFrame = (film: Film, medium: Medium): number =>
  isSameRate(medium.rate, film.rate) ? 1 : toNumber(medium.rate) / toNumber(film.rate);

/** Medium frame shown `offset` film frames after the shot's first one (before it when negative). It may not exist. */
export const mediumFrameAt = (film: Film, shot: Shot, medium: Medium, offset: number): number =>
  Math.floor(shot.inFrame + offset * mediumFramesPerFilmFrame(film, medium) + EPSILON);

/** Film offset in the shot at which a medium frame is first shown. */
export const offsetOfMediumFrame = (film: Film, shot: Shot, medium: Medium, frame: number): number =>
  Math.ceil((frame - shot.inFrame) / mediumFramesPerFilmFrame(film, medium) - EPSILON);

/** Film frames with picture before the shot's first and after its last one; negative when the shot itself runs out. */
export interface Handles {
  readonly before: number;
  readonly after: number;
}

export function handlesOf(film: Film, shot: Shot, medium: Medium): Handles {
  return {
    before: -offsetOfMediumFrame(film, shot, medium, 0),
    after: offsetOfMediumFrame(film, shot, medium, medium.frames) - shot.length,
  };
}

export const filmLength = (film: Film): number => film.shots.reduce((sum, s) => sum + s.length, 0);

/** Film frame of the shot's first picture. */
export function startOfShot(film: Film, shotId: string): number {
  let start = 0;
  for (const shot of film.shots) {
    if (shot.id === shotId) return start;
    start += shot.length;
  }
  throw new RangeError(`no shot ${shotId} in the film`);
}

/** A join in its place: both shots, the cut, and the first and the one past the last film frame of its overlap. */
export interface PlacedJoin {
  readonly join: Join;
  readonly leaving: Shot;
  readonly entering: Shot;
  /** Film frame of the entering shot's first picture on the reel. */
  readonly cut: number;
  readonly from: number;
  readonly to: number;
}

/** The joins between shots that are neighbours now, in reel order. */
export function placedJoins(film: Film): PlacedJoin[] {
  const placed: PlacedJoin[] = [];
  let cut = 0;
  for (let i = 0; i + 1 < film.shots.length; i++) {
    const leaving = film.shots[i]!;
    const entering = film.shots[i + 1]!;
    cut += leaving.length;
    const join = film.joins.find((j) => j.leavingShotId === leaving.id && j.enteringShotId === entering.id);
    if (join !== undefined) placed.push({ join, leaving, entering, cut, from: cut - join.before, to: cut + join.after });
  }
  return placed;
}

export const placeJoin = (film: Film, joinId: string): PlacedJoin | null => placedJoins(film).find((p) => p.join.id === joinId) ?? null;

/** The medium of a shot; null while it is unknown (still coming in, or failed). */
export const mediumOf = (media: Media, shot: Shot): Medium | null => media.get(shot.mediumId) ?? null;

/** Medium frame of the leaving or entering shot at a film frame; null where its medium has no picture. */
export function shotFrameAt(film: Film, media: Media, shot: Shot, start: number, filmFrame: number): number | null {
  const medium = mediumOf(media, shot);
  if (medium === null) return null;
  const frame = mediumFrameAt(film, shot, medium, filmFrame - start);
  return frame >= 0 && frame < medium.frames ? frame : null;
}

/** The film frame nearest to `frame` on which the leaving or entering shot of a join has a picture; null without its medium. */
export function nearestPictured(film: Film, media: Media, placed: PlacedJoin, side: 'leaving' | 'entering', frame: number): number | null {
  const shot = placed[side];
  const medium = mediumOf(media, shot);
  if (medium === null) return null;
  const start = startsAround(placed)[side];
  const { before, after } = handlesOf(film, shot, medium);
  return Math.max(start - before, Math.min(start + shot.length + after - 1, frame));
}

/** Start of the leaving and of the entering shot around a placed join. */
export const startsAround = ({ cut, leaving }: PlacedJoin): { readonly leaving: number; readonly entering: number } => ({
  leaving: cut - leaving.length,
  entering: cut,
});

/** The longest `before` and `after` that leave the neighbouring overlaps alone. Handles are no limit: missing ones are shown. */
export function overlapLimits(film: Film, joinId: string): { readonly before: number; readonly after: number } {
  const placed = placedJoins(film);
  const i = placed.findIndex((p) => p.join.id === joinId);
  const here = placed[i];
  if (here === undefined) return { before: 0, after: 0 };
  const previous = placed.find((p) => p.entering.id === here.leaving.id);
  const next = placed.find((p) => p.leaving.id === here.entering.id);
  return {
    before: here.leaving.length - (previous?.join.after ?? 0),
    after: here.entering.length - (next?.join.before ?? 0),
  };
}

/** hh:mm:ss:ff at the film's nominal rate (counting every frame, none dropped). */
export function formatTimecode(film: Film, frame: number): string {
  const perSecond = Math.round(toNumber(film.rate));
  const two = (n: number): string => String(n).padStart(2, '0');
  const seconds = Math.floor(frame / perSecond);
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}:${two(frame % perSecond)}`;
}

/** The frame of a timecode as it is typed: hh:mm:ss:ff, or fewer parts counted from the frames; null when it is none. */
export function parseTimecode(film: Film, text: string): number | null {
  const parts = text
    .trim()
    .split(/[:;.]/)
    .map((part) => (/^\d{1,6}$/.test(part) ? Number(part) : NaN));
  if (parts.length > 4 || parts.some(Number.isNaN)) return null;
  const [frames = 0, seconds = 0, minutes = 0, hours = 0] = parts.reverse();
  return ((hours * 60 + minutes) * 60 + seconds) * Math.round(toNumber(film.rate)) + frames;
}

/** The film frame on which `side` of a join shows medium frame `at`; a fraction where the rates differ. */
export const filmFrameOf = (film: Film, placed: PlacedJoin, side: 'leaving' | 'entering', medium: Medium, at: number): number =>
  startsAround(placed)[side] + offsetOfMediumFrame(film, placed[side], medium, at);
