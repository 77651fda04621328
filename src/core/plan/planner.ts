import type { Film, Media } from '../film/film';
import { placedJoins, type PlacedJoin } from '../film/timing';

/** How carefully a frame is planned. */
export interface PlanQuality {
  /** Shutter samples of a layer at most; 1 draws it unblurred. */
  readonly samples: number;
}

export const FULL_QUALITY: PlanQuality = { samples: 64 };

/** What the planning of a join's frame goes by. */
export interface Planner {
  readonly film: Film;
  readonly media: Media;
  readonly quality: PlanQuality;
  readonly placed: PlacedJoin;
}

const known = new WeakMap<Film, readonly PlacedJoin[]>();

/** Where the joins of a film lie; reckoned once for a film that cannot change any more. */
export function placesIn(film: Film): readonly PlacedJoin[] {
  if (!Object.isFrozen(film)) return placedJoins(film);
  const found = known.get(film) ?? placedJoins(film);
  known.set(film, found);
  return found;
}
