import { marksOfFilm } from '../film/edits/marks';
import type { Film, Media } from '../film/film';
import type { PlacedJoin } from '../film/timing';

/** The film frames nearest to the beats of the film's music, rising. */
export function beatFrames(film: Film, media: Media): readonly number[] {
  const beats = marksOfFilm(film, media).filter((m) => m.kind === 'beat' || m.kind === 'downbeat');
  return [...new Set(beats.map((m) => Math.round(m.frame)))].sort((a, b) => a - b);
}

const beatsBefore = (film: Film, media: Media, frame: number): readonly number[] => beatFrames(film, media).filter((f) => f < frame);

/**
 * The last `count` moments before a film frame at which something may come, rising: beats or, where these do not reach or are not asked for, every
 * `every` frames.
 */
export function momentsBefore(
  film: Film,
  media: Media,
  frame: number,
  count: number,
  on: 'beats' | 'frames',
  every: number,
): readonly number[] {
  const beats = on === 'beats' ? beatsBefore(film, media, frame) : [];
  if (beats.length >= count) return beats.slice(-count);
  return Array.from({ length: count }, (_, i) => frame - (count - i) * every);
}

/** The film frame before which nothing of a join comes: that of an overlap set by hand, or the leaving shot's first. */
export const earliestOf = ({ cut, from, leaving, join }: PlacedJoin): number =>
  join.recipe?.overlapByHand === true ? from : cut - leaving.length;

/** Whether there are beats enough before a frame. */
export const hasBeats = (film: Film, media: Media, frame: number, count: number): boolean =>
  beatsBefore(film, media, frame).length >= count;
