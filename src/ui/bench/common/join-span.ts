import type { ShotSide } from '../../../core/film/composition';
import type { PlacedJoin } from '../../../core/film/timing';

/** Film frames around the overlap that are worked on along with it. */
const MARGIN = 12;

/** The film frames on which a shot of a join shows, its overlap included. */
export const shotSpan = ({ from, to, cut, leaving, entering }: PlacedJoin, side: ShotSide): { first: number; last: number } =>
  side === 'leaving'
    ? { first: cut - leaving.length, last: Math.max(cut, to) - 1 }
    : { first: Math.min(cut, from), last: cut + entering.length - 1 };

/** The film frames that work on a shot at `frame` is for: around the overlap; the whole shot from outside it, or where there is none. */
export function joinSpan({ from, to, cut, leaving, entering }: PlacedJoin, side: ShotSide, frame: number): { first: number; last: number } {
  const start = side === 'leaving' ? cut - leaving.length : from - MARGIN;
  const end = side === 'leaving' ? to + MARGIN : cut + entering.length - 1;
  const near = to > from && frame >= from - MARGIN && frame <= to + MARGIN;
  return near ? { first: Math.max(start, from - MARGIN), last: Math.min(end, to + MARGIN) } : { first: start, last: end };
}
