import type { FilmDraft } from '../drafts';
import { referencesTo } from '../references';

/** Drops the mattes that recipes made for owners that are gone. What others use by now stays. */
export function dropUnusedOf(film: FilmDraft, owners: ReadonlySet<string>): void {
  for (const { id, ownerId } of [...film.mattes])
    if (ownerId !== undefined && owners.has(ownerId) && referencesTo(film, 'matte', id).length === 0)
      film.mattes = film.mattes.filter((m) => m.id !== id);
}
