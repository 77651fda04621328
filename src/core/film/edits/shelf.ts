import type { FilmDraft, NewId } from '../drafts';
import { byId } from '../film';
import { usesOfMedium } from '../references';

/** Changes to the shelf: what media are called, the bins they lie in, and taking them off. */

/** Takes a medium off the shelf. @throws RangeError while anything in the film is of it */
export function takeOffShelf(film: FilmDraft, mediumId: string): void {
  if (usesOfMedium(film, mediumId).length > 0) throw new RangeError('the media is in use');
  film.offShelf = [...(film.offShelf ?? []), mediumId];
}

export function renameMedium(film: FilmDraft, mediumId: string, name: string): void {
  film.mediumNames = [...(film.mediumNames ?? []).filter((n) => n.mediumId !== mediumId), { mediumId, name }];
}

/** A new bin, under a name that no other has. @returns its id */
export function addBin(film: FilmDraft, newId: NewId): string {
  const id = newId();
  const taken = new Set(film.bins?.map((b) => b.name));
  let n = 1;
  while (taken.has(`Bin ${n}`)) n++;
  film.bins = [...(film.bins ?? []), { id, name: `Bin ${n}`, mediumIds: [] }];
  return id;
}

export function renameBin(film: FilmDraft, binId: string, name: string): void {
  byId(film.bins ?? [], binId, 'bin').name = name;
}

/** Takes a bin away; what lies in it lies on the shelf again. */
export function removeBin(film: FilmDraft, binId: string): void {
  film.bins = film.bins?.filter((b) => b.id !== binId);
}

/** Puts media in a bin, out of any other; with null in none. */
export function putInBin(film: FilmDraft, mediumIds: readonly string[], binId: string | null): void {
  const moved = new Set(mediumIds);
  for (const bin of film.bins ?? []) {
    if (bin.id === binId) bin.mediumIds = [...new Set([...bin.mediumIds, ...mediumIds])];
    else if (bin.mediumIds.some((id) => moved.has(id))) bin.mediumIds = bin.mediumIds.filter((id) => !moved.has(id));
  }
}
