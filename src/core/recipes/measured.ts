import type { FilmDraft } from '../film/drafts';
import type { Film, Media } from '../film/film';
import type { PlacedJoin } from '../film/timing';
import type { FramePlan } from '../plan/frame-plan';
import { isComposed, layComposed, measuresOf } from './composed';
import type { AllMeasured } from './composed-kind';
import { layZooms, planHole } from './zoom-through';

/** What of a join is measured before it is laid: the hole of a zoom on every frame of its overlap, or what its kind asks for. */
export function plansToMeasure(film: Film, media: Media, placed: PlacedJoin): readonly (FramePlan | null)[] {
  if (placed.join.recipe?.kind !== 'zoom through') return measuresOf(film, media, placed);
  return Array.from({ length: placed.to - placed.from }, (_, i) => planHole(film, media, placed, placed.from + i));
}

/** Whether a join is made anew when something it depends on has changed. A wipe follows its outline by itself. */
export const isKept = ({ join }: PlacedJoin): boolean => join.recipe !== undefined && join.recipe.kind !== 'wipe past';

/** Lays a join, and those that hang together with it, anew from its settings and what was measured. */
export function layKept(film: FilmDraft, media: Media, joinId: string, measured: AllMeasured): void {
  const recipe = film.joins.find((j) => j.id === joinId)?.recipe;
  if (recipe?.kind === 'zoom through') layZooms(film, joinId, measured);
  else if (recipe !== undefined && isComposed(recipe.kind)) layComposed(film, media, joinId, measured);
}

/** The mattes that the settings of a join name. */
export function mattesOfRecipe(film: Film, { join }: PlacedJoin): readonly Film['mattes'][number][] {
  const values: unknown[] = Object.values(join.recipe?.settings ?? {}).flat();
  return film.mattes.filter((m) => values.includes(m.id));
}
