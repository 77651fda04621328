import type { Film, Media } from '../film/film';
import type { PlacedJoin } from '../film/timing';
import { coveragePlan, EmptinessMeter } from './coverage';
import type { Finding } from './finding';
import { framesToCover } from './frames';
import { checkJoin } from './join';

const none = (): null => null;

/** For tests: the empty shares of an overlap whose painted and keyed mattes cover nothing. */
export function outlinedShares(film: Film, media: Media, placed: PlacedJoin): number[] {
  const meter = new EmptinessMeter(film);
  return framesToCover(film, media, placed).map((frame) => meter.measure(coveragePlan(film, media, frame), none, none));
}

/** For tests: what is found in a join by its outlines alone. */
export const checkOutlined = (film: Film, media: Media, placed: PlacedJoin): Finding[] =>
  checkJoin(film, media, placed, outlinedShares(film, media, placed));
