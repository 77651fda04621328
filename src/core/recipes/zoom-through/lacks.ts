import type { Film, Media } from '../../film/film';
import type { ZoomSettings } from '../../film/recipe-settings';
import { mediumOf, shotFrameAt, startsAround, type PlacedJoin } from '../../film/timing';
import type { Known } from '../kind';
import { next, type NextThing } from '../next-thing';

/** The first thing that a zoom lacks: frames, a hole, or the hole on some of them. */
export function nextOfZoom(
  film: Film,
  placed: PlacedJoin,
  settings: ZoomSettings,
  { media, measured: holes, offers }: Known,
): NextThing | null {
  const matte = film.mattes.find((m) => m.id === settings.matteId);
  const { leaving } = placed;
  if (matte === undefined) {
    return offers.length > 0
      ? next('move', `Choose the hole on the right: ${offers.map((o) => o.name).join(', ')} ${offers.length === 1 ? 'is' : 'are'} there.`)
      : next('mask', `Paint over the hole in ${leaving.name}, or draw around it.`, null, lastShown(film, media, placed));
  }
  if (matte.painted?.length === 0 && (matte.frameEdits ?? []).length === 0)
    return next('mask', `Paint over the hole in ${leaving.name}. One or two strokes are enough.`, matte.id, lastShown(film, media, placed));
  if (matte.painted === undefined && matte.key === undefined && !matte.outline.closed)
    return next('mask', `Draw around the hole in ${leaving.name} and close the outline.`, matte.id, lastShown(film, media, placed));
  if (holes === undefined) return null;
  const there = holes.flatMap((h, i) => (h === null ? [] : [i]));
  if (there.length === 0)
    return next(
      'mask',
      `The hole is on no frame of the overlap: carry it there, frames ${placed.from} to ${placed.to - 1}.`,
      matte.id,
      placed.to - 1,
    );
  const first = holes.findIndex((h, i) => h === null && i < there.at(-1)!);
  if (first >= 0)
    return next(
      'mask',
      `The hole is missing on ${holes.slice(0, there.at(-1)).filter((h) => h === null).length} frames of the move: carry it back from ${placed.from + there[0]!} to ${placed.from}.`,
      matte.id,
      placed.from + there[0]!,
    );
  return null;
}

/** The last frame of the overlap on which the leaving shot has a picture: there the hole has to be widest. */
function lastShown(film: Film, media: Media, placed: PlacedJoin): number {
  for (let frame = placed.to - 1; frame > placed.from; frame--)
    if (mediumOf(media, placed.leaving) !== null && shotFrameAt(film, media, placed.leaving, startsAround(placed).leaving, frame) !== null)
      return frame;
  return placed.from;
}
