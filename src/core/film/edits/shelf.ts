import type { FilmDraft } from '../drafts';
import { usesOfMedium } from '../references';

/** Takes a medium off the shelf. @throws RangeError while anything in the film is of it */
export function takeOffShelf(film: FilmDraft, mediumId: string): void {
  if (usesOfMedium(film, mediumId).length > 0) throw new RangeError('the media is in use');
  film.offShelf = [...(film.offShelf ?? []), mediumId];
}
