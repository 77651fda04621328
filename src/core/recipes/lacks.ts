import type { Film, Media } from '../film/film';
import type { PlacedJoin } from '../film/timing';
import type { Known } from './kind';
import { kindNamed, settingsOf } from './kinds';
import { next, type NextThing } from './next-thing';
import { isReady, offersFor } from './offers';

/** The first thing that a join made by a recipe lacks; null when nothing does, or the join is made by none. */
export function nextThing(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  { measured, report }: Pick<Known, 'measured' | 'report'>,
): NextThing | null {
  const { recipe } = placed.join;
  if (recipe === undefined) return null;
  if (!isReady(media, placed)) return next('pair', 'One of the two shots is not ready yet. This continues when it is.');
  const { shortest, lacks, need } = kindNamed(recipe.kind);
  if (placed.to - placed.from < shortest) return next('pair', 'Give the overlap some frames: the move happens in them.');
  return lacks?.(film, placed, settingsOf(recipe), { media, measured, report, offers: offersFor(film, placed, need) }) ?? null;
}
