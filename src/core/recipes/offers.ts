import type { Film, Join, Media } from '../film/film';
import { isMade, isOfRecipe } from '../film/mattes';
import { mediumOf, type PlacedJoin } from '../film/timing';
import type { Need, Offer } from './kind';
import { kindNamed, settingsOf } from './kinds';

/** Whether a matte is a hole in a join: what it encloses is taken out there, and nothing of it is shown as a thing of its own. */
export function isHoleIn({ layers, recipe }: Pick<Join, 'layers' | 'recipe'>, matteId: string): boolean {
  if (recipe !== undefined && kindNamed(recipe.kind).need?.what === 'hole' && settingsOf(recipe).matteId === matteId) return true;
  const sides = layers.flatMap((l) => l.mattes.flatMap((u) => (u.matteId === matteId ? [u.side] : [])));
  return sides.length > 0 && sides.every((side) => side === 'outside');
}

/** Whether a matte is a hole in another join than this one. */
export const isHoleElsewhere = (film: Film, joinId: string, matteId: string): boolean =>
  film.joins.some((j) => j.id !== joinId && isHoleIn(j, matteId));

/** What is there for a need, the likeliest first. */
export function offersFor(film: Film, placed: PlacedJoin, need: Need | null): readonly Offer[] {
  // lines are drawn for the join they serve
  if (need === null || need.what === 'lines') return [];
  const { what } = need;
  const { mediumId } = what === 'subject' ? placed.entering : placed.leaving;
  const mattes = film.mattes.filter((m) => m.mediumId === mediumId && isMade(m) && !isOfRecipe(m));
  const fits = mattes.filter((m) =>
    what === 'outline' ? m.painted === undefined && m.key === undefined : what === 'hole' || !isHoleElsewhere(film, placed.join.id, m.id),
  );
  const tracks = what === 'hole' ? (film.tracks ?? []).filter((t) => t.mediumId === mediumId && t.model !== 'position') : [];
  return [
    ...fits.map((m): Offer => ({ kind: 'matte', id: m.id, name: m.name })),
    ...tracks.filter((t) => !fits.some((m) => m.trackId === t.id)).map((t): Offer => ({ kind: 'track', id: t.id, name: t.name })),
  ];
}

/** Whether a need can be served at once from what is there. */
export const isThere = (film: Film, placed: PlacedJoin, need: Need | null): boolean =>
  need === null || offersFor(film, placed, need).length > 0;

/** Whether both media of a join are ready. */
export const isReady = (media: Media, placed: PlacedJoin): boolean =>
  mediumOf(media, placed.leaving) !== null && mediumOf(media, placed.entering) !== null;
