import type { Film, Media, Shot } from '../film/film';
import { filmLength, mediumOf, placedJoins, type PlacedJoin } from '../film/timing';
import { reachOf } from '../plan/plan-join';

/** Frames of a shot beyond an overlap that are looked at, at most. */
const MOST_BEYOND = 400;

/** Whether a shot's own place in the frame may show a border: framed by hand, held still, or given a camera's move. */
const mayShowBorder = ({ framing, steadying, move }: Shot): boolean =>
  typeof framing === 'object' || steadying !== undefined || move !== undefined;

/**
 * The film frames on which a join has to cover all of the picture, rising: all it reaches and, of a shot that may show a border by itself, what
 * it shows up to the joins around.
 */
export function framesToCover(film: Film, media: Media, placed: PlacedJoin): readonly number[] {
  const reach = reachOf(placed);
  let [from, to] = [Math.max(0, reach.from), Math.min(filmLength(film), reach.to)];
  const joins = placedJoins(film);
  const at = joins.findIndex((p) => p.join.id === placed.join.id);
  const [before, after] = [joins[at - 1], joins[at + 1]];
  const isReady = (shot: Shot): boolean => mediumOf(media, shot) !== null;
  if (mayShowBorder(placed.leaving) && isReady(placed.leaving))
    from = Math.min(from, Math.max(placed.cut - placed.leaving.length, before === undefined ? 0 : reachOf(before).to, from - MOST_BEYOND));
  if (mayShowBorder(placed.entering) && isReady(placed.entering))
    to = Math.max(
      to,
      Math.min(placed.cut + placed.entering.length, after === undefined ? Infinity : reachOf(after).from, to + MOST_BEYOND),
    );
  return Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i);
}

/** The film frames that are looked at: the overlap's, with one before and one after; null where the film has none. Of a plain cut the two beside it. */
export function framesToLook(film: Film, { from, to }: PlacedJoin): readonly (number | null)[] {
  const length = filmLength(film);
  return Array.from({ length: to - from + 2 }, (_, i) => from - 1 + i).map((f) => (f < 0 || f >= length ? null : f));
}
