import type { Film, Media } from '../film/film';
import type { PlacedJoin } from '../film/timing';
import type { FramePlan } from '../plan/frame-plan';
import { kindNamed, settingsOf } from './kinds';

/** What of a join is measured before it is laid; nothing for most. */
export function plansToMeasure(film: Film, media: Media, placed: PlacedJoin): readonly (FramePlan | null)[] {
  const { recipe } = placed.join;
  return recipe === undefined ? [] : (kindNamed(recipe.kind).measures?.(film, media, placed, settingsOf(recipe)) ?? []);
}

/** Whether a join is made anew when something it depends on has changed. */
export const isKept = ({ join: { recipe } }: PlacedJoin): boolean =>
  recipe !== undefined && kindNamed(recipe.kind).followsByItself !== true;

/** The mattes that the settings of a join name. */
export function mattesOfRecipe(film: Film, { join }: PlacedJoin): readonly Film['mattes'][number][] {
  const values: unknown[] = Object.values(join.recipe?.settings ?? {}).flat();
  return film.mattes.filter((m) => values.includes(m.id));
}
