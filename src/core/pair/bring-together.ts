import { apply } from '../geometry/matrix';
import { interestAt } from '../film/edits/interest';
import type { ShotSide } from '../film/composition';
import type { Film, InterestPoint, Media, OwnFraming, Shot } from '../film/film';
import type { Pin } from '../film/recipe-settings';
import { mediumOf, shotFrameAt, startsAround, type PlacedJoin } from '../film/timing';
import { baseFraming, shotFraming } from '../plan/shot-framing';
import { placementOf, type PointPair } from './placement';

const DEGREES = 180 / Math.PI;

/** Where the points of a shot lie in the film's frame at a film frame, in the order they were marked; none while its media is not ready. */
export function interestInFilm(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  side: ShotSide,
  frame: number,
): readonly { readonly point: InterestPoint; readonly x: number; readonly y: number }[] {
  const medium = mediumOf(media, placed[side]);
  const start = startsAround(placed)[side];
  const mediumFrame = shotFrameAt(film, media, placed[side], start, frame);
  if (medium === null || mediumFrame === null) return [];
  const matrix = shotFraming(film, medium, placed[side], mediumFrame, frame - start);
  return (placed.join.interest ?? [])
    .filter((p) => p.side === side)
    .map((point) => ({ point, ...apply(matrix, interestAt(film, point, mediumFrame)) }));
}

/**
 * The framing of the entering shot that brings its first point to where the leaving shot's first point is at the cut, enlarged just
 * enough that no border shows; null without both points. It is upright; a mirror stays.
 */
export function broughtTogether(film: Film, media: Media, placed: PlacedJoin): OwnFraming | null {
  const { entering, cut } = placed;
  const medium = mediumOf(media, entering);
  const [a] = interestInFilm(film, media, placed, 'leaving', cut - 1);
  const mark = (placed.join.interest ?? []).find((p) => p.side === 'entering');
  if (medium === null || a === undefined || mark === undefined) return null;
  const flip = typeof entering.framing === 'object' ? entering.framing.flip : undefined;
  const own = apply(baseFraming(film, medium), interestAt(film, mark, Math.round(entering.inFrame)));
  const x = flip === 'across' || flip === 'both' ? -own.x : own.x;
  const y = flip === 'down' || flip === 'both' ? -own.y : own.y;
  const fill = Math.max(film.width / medium.width, film.height / medium.height);
  const [halfWidth, halfHeight] = [(medium.width * fill) / 2, (medium.height * fill) / 2];
  // each border of the picture has to lie beyond that of the frame
  const scale = Math.max(
    1,
    (film.width / 2 + a.x) / Math.max(1e-6, halfWidth + x),
    (film.width / 2 - a.x) / Math.max(1e-6, halfWidth - x),
    (film.height / 2 + a.y) / Math.max(1e-6, halfHeight + y),
    (film.height / 2 - a.y) / Math.max(1e-6, halfHeight - y),
  );
  return { x: a.x - scale * x, y: a.y - scale * y, scale, turn: 0, ...(flip === undefined ? {} : { flip }) };
}

/** Points of both shots at the cut, in the order they were marked, as they lie in the film's frame; the entering shot fills it. */
function pointPairs(film: Film, media: Media, placed: PlacedJoin): readonly PointPair[] {
  const { entering, cut } = placed;
  const medium = mediumOf(media, entering);
  const a = interestInFilm(film, media, placed, 'leaving', cut - 1);
  const b = (placed.join.interest ?? []).filter((p) => p.side === 'entering');
  if (medium === null) return [];
  const fill = baseFraming(film, medium);
  const frame = Math.round(entering.inFrame);
  return a.slice(0, b.length).map((point, i) => ({ a: point, b: apply(fill, interestAt(film, b[i]!, frame)) }));
}

/** The framing of the entering shot that lays its points best over the leaving shot's at the cut; null without two of each. */
export function laidByPoints(film: Film, media: Media, placed: PlacedJoin): OwnFraming | null {
  const found = placementOf(pointPairs(film, media, placed), false);
  return found === null ? null : { x: found.dx, y: found.dy, scale: found.scale, turn: found.turn * DEGREES };
}

/** As `laidByPoints`; a single point in each only moves the entering shot. Null without one in each. */
export function pinByPoints(film: Film, media: Media, placed: PlacedJoin): Pin | null {
  const [first] = pointPairs(film, media, placed);
  const laid = laidByPoints(film, media, placed);
  return laid ?? (first === undefined ? null : { x: first.a.x - first.b.x, y: first.a.y - first.b.y, scale: 1, turn: 0 });
}

/** A framing of a shot, told against the framing it has: what has to be done to the shot as it is. */
export function againstOwn({ x, y, scale, turn }: Pin, { framing = 'fill' }: Pick<Shot, 'framing'>): Pin {
  if (typeof framing !== 'object') return { x, y, scale, turn };
  const [grown, turned] = [scale / framing.scale, turn - framing.turn];
  const [c, s] = [grown * Math.cos(turned / DEGREES), grown * Math.sin(turned / DEGREES)];
  return { x: x - c * framing.x + s * framing.y, y: y - s * framing.x - c * framing.y, scale: grown, turn: turned };
}
