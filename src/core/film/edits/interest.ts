import type { ShotSide } from '../composition';
import type { FilmDraft, NewId } from '../drafts';
import { byId, type Film, type InterestPoint } from '../film';
import { centreOf, regionOrNearest } from '../../track/track';

/** Points a shot can have; a further one takes the place of the last. */
const MOST = 4;

/** Marks where the eye is on a medium frame of one of a join's shots. Medium pixels from the centre. */
export function addInterest(film: FilmDraft, joinId: string, side: ShotSide, frame: number, x: number, y: number, newId: NewId): void {
  const join = byId(film.joins, joinId, 'join');
  const own = (join.interest ?? []).filter((p) => p.side === side);
  const rest = (join.interest ?? []).filter((p) => p.side !== side);
  join.interest = [...rest, ...own.slice(0, MOST - 1), { id: newId(), side, frame, x, y }];
}

export function setInterest(
  film: FilmDraft,
  joinId: string,
  pointId: string,
  part: Partial<Pick<InterestPoint, 'x' | 'y'>> & { readonly trackId?: string | null },
): void {
  const point = byId(byId(film.joins, joinId, 'join').interest ?? [], pointId, 'point');
  const { trackId, ...place } = part;
  Object.assign(point, place);
  if (trackId === null) delete point.trackId;
  else if (trackId !== undefined) point.trackId = trackId;
}

export function removeInterest(film: FilmDraft, joinId: string, pointId: string): void {
  const join = byId(film.joins, joinId, 'join');
  join.interest = join.interest?.filter((p) => p.id !== pointId);
}

/** Where a point is on a medium frame: where it was marked or, riding on a track, moved along with that. */
export function interestAt(
  film: Pick<Film, 'tracks'>,
  point: InterestPoint,
  mediumFrame: number,
): { readonly x: number; readonly y: number } {
  const track = film.tracks?.find((t) => t.id === point.trackId);
  if (track === undefined) return point;
  const [x0, y0] = centreOf(regionOrNearest(track, point.frame).corners);
  const [x1, y1] = centreOf(regionOrNearest(track, mediumFrame).corners);
  return { x: point.x + x1 - x0, y: point.y + y1 - y0 };
}
