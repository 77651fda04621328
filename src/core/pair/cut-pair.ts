import { setFraming } from '../film/edits/shots';
import { trimEnd, trimStart } from '../film/edits/trims';
import type { FilmDraft, NewId } from '../film/drafts';
import { byId, type Film, type Media, type Medium, type OwnFraming, type Shot } from '../film/film';
import type { PairOrder, PairSpan } from '../film/job';
import { mediumFramesPerFilmFrame, mediumOf, mediumPlaceAt, placedJoins, type PlacedJoin } from '../film/timing';
import { SIGNS_WIDTH } from './frame-signs';
import { IN_PLACE, placedTwice, type Placement } from './placement';

/** Frames by which a window of compared frames moves. */
const WINDOW_STEP = 24;
/** A shot is left with at least so many film frames by any cut. */
const LEAST_LEFT = 4;

/** Of the medium frames `low` to `high` a window about `centre`, every `step`-th of it, so that there are at most `most`. */
function spanOf(mediumId: string, low: number, high: number, centre: number, window: number, most: number): PairSpan {
  const length = Math.max(1, Math.min(window, high - low + 1));
  // a window moves in steps, so that what is known of it still serves when the cut has moved a little
  const wanted = Math.round((centre - length / 2) / WINDOW_STEP) * WINDOW_STEP;
  const first = Math.max(low, Math.min(high + 1 - length, wanted));
  const step = Math.max(1, Math.ceil(length / most));
  return { mediumId, first, count: Math.floor((length - 1) / step) + 1, step };
}

/**
 * What is compared of both shots of a join: `window` frames of each about the cut, of those between which the cut may lie: the leaving
 * shot keeps its first frame, the entering one its last. Null while its media is not ready.
 */
export function pairOrderOf(film: Film, media: Media, placed: PlacedJoin, window: number, most = 120): PairOrder | null {
  const { leaving, entering } = placed;
  const [a, b] = [mediumOf(media, leaving), mediumOf(media, entering)];
  if (a === null || b === null) return null;
  const within = (frame: number, medium: Medium): number => Math.max(0, Math.min(medium.frames - 1, Math.round(frame)));
  const firstA = within(leaving.inFrame + LEAST_LEFT * mediumFramesPerFilmFrame(film, a), a);
  const lastB = within(mediumPlaceAt(film, entering, b, entering.length - LEAST_LEFT), b);
  return {
    a: spanOf(a.id, firstA, a.frames - 1, mediumPlaceAt(film, leaving, a, leaving.length), window, most),
    b: spanOf(b.id, 0, Math.max(0, lastB), mediumPlaceAt(film, entering, b, 0), window, most),
  };
}

export const frameOfRow = ({ first, step }: PairSpan, row: number): number => first + row * step;

/** The film frame, counted from the shot's first, on which it shows a medium frame as it is filmed. */
const offsetShowing = (film: Film, shot: Shot, medium: Medium, frame: number): number =>
  Math.round((frame - shot.inFrame) / mediumFramesPerFilmFrame(film, medium));

/**
 * Cuts from one medium frame of the leaving shot to one of the entering shot: the last of the one, the first of the other, as far as
 * both shots reach. A shot with a speed of its own is cut as if it ran plainly.
 */
export function cutAtPair(film: FilmDraft, media: Media, joinId: string, a: number, b: number, newId: NewId): void {
  const placed = placedJoins(film as Film).find((p) => p.join.id === joinId);
  const [mediumA, mediumB] = placed === undefined ? [null, null] : [mediumOf(media, placed.leaving), mediumOf(media, placed.entering)];
  if (placed === undefined || mediumA === null || mediumB === null) return;
  const { leaving, entering } = placed;
  const length = Math.max(1, offsetShowing(film, leaving, mediumA, a) + 1);
  trimEnd(film, mediumA, leaving.id, length - leaving.length, newId);
  trimStart(film, mediumB, entering.id, offsetShowing(film, entering, mediumB, b), newId);
}

const DEGREES = 180 / Math.PI;

const ownPlacement = ({ framing }: Pick<Shot, 'framing'>): Placement =>
  typeof framing === 'object'
    ? { scale: framing.scale, turn: framing.turn / DEGREES, dx: framing.x, dy: framing.y, flip: framing.flip === 'across' }
    : IN_PLACE;

/** How the entering shot has to be framed so that it lies over the leaving one as `placement`, in pixels of the signs' pictures, says. */
export function framingOver(film: Film, media: Media, placed: PlacedJoin, placement: Placement): OwnFraming | null {
  const [a, b] = [mediumOf(media, placed.leaving), mediumOf(media, placed.entering)];
  if (a === null || b === null) return null;
  /** Film pixels of a medium that fills the frame to one of its signs. */
  const perSign = (m: Medium): number => (Math.max(film.width / m.width, film.height / m.height) * m.width) / SIGNS_WIDTH;
  const [ofA, ofB] = [perSign(a), perSign(b)];
  const inFilm: Placement = { ...placement, scale: (placement.scale * ofA) / ofB, dx: placement.dx * ofA, dy: placement.dy * ofA };
  const { scale, turn, dx, dy, flip } = placedTwice(inFilm, ownPlacement(placed.leaving));
  return { x: dx, y: dy, scale, turn: turn * DEGREES, ...(flip ? { flip: 'across' as const } : {}) };
}

/** Lays the entering shot over the leaving one; null takes that back to filling the frame. */
export function layOver(film: FilmDraft, media: Media, joinId: string, placement: Placement | null): void {
  const placed = placedJoins(film as Film).find((p) => p.join.id === joinId);
  if (placed === undefined) return;
  const framing = placement === null ? 'fill' : framingOver(film, media, placed, placement);
  if (framing !== null) setFraming(film, byId(film.shots, placed.entering.id, 'shot').id, framing);
}
