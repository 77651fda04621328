import type { Film } from '../../film/film';
import type { PlacedJoin } from '../../film/timing';
import { next, type NextThing } from '../next-thing';
import { wipeMatte, type WipeReport } from './wipe-past-report';

/** The first thing that a wipe lacks: its outline, or that it hides everything in the end. */
export function nextOfWipe(film: Film, placed: PlacedJoin, report: WipeReport | null): NextThing | null {
  const found = wipeMatte(film, placed);
  if (found === null) return next('pair', 'The layer of the leaving shot has lost its outline. Choose the kind of join again.');
  const { matte } = found;
  if (!matte.outline.closed)
    return next('mask', 'Press Find the trailing edge, or draw an outline around what lies behind the trailing edge.', matte.id);
  if (report !== null && report.firstHole === null)
    return next('mask', 'The outline hides nothing yet: move it into the picture where the edge has passed.', matte.id);
  if (report !== null && report.fullFrom === null)
    return next(
      'mask',
      `The outline never covers the whole frame: move its last keyframe, near ${report.widest}, until it lies outside on every side.`,
      matte.id,
      report.widest,
    );
  return null;
}
