import { mapPoint, type Homography } from '../geometry/fit-map';
import { ontoTrack, type Track } from '../track/track';
import { pointsAt, type OutlinePoint } from '../matte/outline/outline';
import type { Film, Matte } from './film';

/** The track an outline rides on; null when it stands for itself. */
export const trackOf = (film: Film, matte: Matte): Track | null => film.tracks?.find((t) => t.id === matte.trackId) ?? null;

function moved(p: OutlinePoint, m: Homography): OutlinePoint {
  const [x, y] = mapPoint(m, p.x, p.y);
  const [inX, inY] = mapPoint(m, p.x + p.inX, p.y + p.inY);
  const [outX, outY] = mapPoint(m, p.x + p.outX, p.y + p.outY);
  return { x, y, inX: inX - x, inY: inY - y, outX: outX - x, outY: outY - y };
}

/** The outline as it shows on a medium frame: its keyframes, moved by the track it rides on. */
export function drawnPoints(film: Film, matte: Matte, frame: number): readonly OutlinePoint[] {
  const points = pointsAt(matte.outline, frame);
  const track = trackOf(film, matte);
  if (track === null) return points;
  const { toFrame } = ontoTrack(track, frame);
  return points.map((p) => moved(p, toFrame));
}

/** Points as they show on a medium frame, as the outline stores them. */
export function storedPoints(film: Film, matte: Matte, frame: number, points: readonly OutlinePoint[]): readonly OutlinePoint[] {
  const track = trackOf(film, matte);
  if (track === null) return points;
  const { toKey } = ontoTrack(track, frame);
  return points.map((p) => moved(p, toKey));
}

/** Whether a matte shows anything: an outline is closed, strokes are painted or frames brought in. */
export const isMade = (matte: Matte): boolean =>
  matte.key !== undefined ||
  (matte.painted === undefined ? matte.outline.closed : matte.painted.length > 0 || (matte.frameEdits ?? []).length > 0);

/** Whether a matte was made by the recipe of a join, which keeps it as its settings say: it is no one's choice for another. */
export const isOfRecipe = ({ ownerId }: Pick<Matte, 'ownerId'>): boolean => ownerId !== undefined;
