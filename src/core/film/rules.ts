import type { Film, Join, Media, Medium, Shot } from './film';
import { LIMITS } from './limits';
import { circlingCarrier, danglingReferences, type Reference } from './references';
import { filmLength, limitsOfPlaced, mediumFramesPerFilmFrame, placedJoins } from './timing';

/** Film frames of rounding where rates differ. */
const SLACK = 2;

/** The film frames a shot may be long: sliding and rolling may take it past its medium's end by as much as the medium is long. */
export const longestShot = (film: Film, shot: Pick<Shot, 'inFrame' | 'time'>, medium: Medium): number =>
  // held or slowed, a shot may be as long as one likes
  shot.time !== undefined || medium.kind === 'still'
    ? LIMITS.heldFrames
    : Math.floor((2 * medium.frames - shot.inFrame) / mediumFramesPerFilmFrame(film, medium)) + SLACK;

function faultOfShot(film: Film, shot: Shot, { ids, ready }: ShelfFacts): string | null {
  const medium = ready.get(shot.mediumId);
  if (medium === undefined) return `${shot.name} uses media that is not ${ids.has(shot.mediumId) ? 'ready' : 'on the shelf'}.`;
  if (Math.abs(shot.inFrame) >= medium.frames) return `${shot.name} begins outside its media, which has ${medium.frames} frames.`;
  const longest = longestShot(film, shot, medium);
  if (shot.length <= longest) return null;
  return shot.time === undefined && medium.kind === 'video'
    ? `${shot.name} is longer than its media, which has ${medium.frames} frames.`
    : `${shot.name} is longer than ${longest} frames, the most a shot may have.`;
}

/** Overlaps that reach beyond their shots; of joins whose surroundings are as they were nothing is asked. */
function faultOfOverlaps(film: Film, before: Film): string | null {
  const known = new Set<unknown>([...before.joins, ...before.shots]);
  let previous: ReturnType<typeof placedJoins>[number] | undefined;
  for (const placed of placedJoins(film)) {
    const { join, leaving, entering } = placed;
    const limits = limitsOfPlaced(previous, placed);
    const isNew = [join, leaving, entering, previous?.join].some((part) => part !== undefined && !known.has(part));
    if (isNew && (join.before > Math.max(0, limits.before) || join.after > Math.max(0, limits.after)))
      return `the overlap of ${join.name} is longer than its shots: at most ${limits.before} frames before the cut and ${limits.after} after.`;
    previous = placed;
  }
  return null;
}

const WHAT = {
  medium: 'media that is not on the shelf',
  matte: 'a matte that is not in the film',
  track: 'a track that is not in the film',
  shot: 'a shot that is not in the film',
  carrier: 'a carrier that is not in its join',
} as const;

const keyOf = ({ to, id, joinId, by }: Reference): string => [to, id, joinId, by].join('\n');

/** What a film refers to and is not there, as a sentence; what `before` lacked already is left out. */
function faultOfReferences(film: Film, before: Film | null, media?: ReadonlySet<string>): string | null {
  const dangling = danglingReferences(film, media);
  if (dangling.length === 0) return null;
  const known = new Set(before === null ? [] : danglingReferences(before, media).map(keyOf));
  const found = dangling.find((r) => !known.has(keyOf(r)));
  return found === undefined ? null : `${found.by} refers to ${WHAT[found.to]}.`;
}

function faultOfCarriers(joins: readonly Join[], known: ReadonlySet<unknown>): string | null {
  for (const join of joins) {
    const id = known.has(join) ? null : circlingCarrier(join);
    const carrier = join.carriers.find((c) => c.id === id);
    if (carrier !== undefined) return `carrier ${carrier.name} of join ${join.name} rides on itself.`;
  }
  return null;
}

/**
 * What a film must hold to whatever its media are: that what it refers to is there, that nothing rides on itself, and that all of it can
 * be gone through. Of a film that came of `before`, which held to it, only what differs is looked at closely.
 * @returns a sentence for the user, or null
 */
export function faultInFilm(film: Film, before: Film | null = null): string | null {
  if (filmLength(film) > LIMITS.filmFrames) return `the film would be longer than ${LIMITS.filmFrames} frames.`;
  return faultOfReferences(film, before) ?? faultOfCarriers(film.joins, new Set(before?.joins));
}

/** What is on a film's shelf: the ids of all media, and the facts of those that are ready. */
export interface ShelfFacts {
  readonly ids: ReadonlySet<string>;
  readonly ready: Media;
}

/**
 * What a change of a film must hold to on its shelf: that shots lie in their media, overlaps in their shots, and that nothing is of a
 * medium that is not there. Only what differs from `before` is looked at, since media come and go under a film.
 * @returns a sentence for the user, or null
 */
export function faultOfChange(film: Film, before: Film, shelf: ShelfFacts): string | null {
  const known = new Set<unknown>(before.shots);
  for (const shot of film.shots) {
    const fault = known.has(shot) ? null : faultOfShot(film, shot, shelf);
    if (fault !== null) return fault;
  }
  return faultOfOverlaps(film, before) ?? faultOfReferences(film, before, shelf.ids);
}
