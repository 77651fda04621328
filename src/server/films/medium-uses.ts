import type { Knex } from 'knex';
import type { Film } from '../../core/film/film';
import { usesOfMedium } from '../../core/film/references';
import { AppError } from '../base/errors';
import { loadFilm } from './films';
import { filmOfMedium, listMedia, removeMedium } from '../media/media';

/** What beside its film keeps a medium in use, as names: custom recipes, and orders that are still to be carried out. */
export async function usesElsewhere(db: Knex, mediumId: string): Promise<readonly string[]> {
  const recipes = await db<{ document: string }>('own_recipes').whereRaw('instr(document, ?) > 0', [mediumId]).select('document');
  const orders = await db<{ name: string }>('exports').whereRaw('instr(document, ?) > 0', [mediumId]).select('name');
  return [
    ...recipes.map((r) => `recipe ${(JSON.parse(r.document) as { name: string }).name}`),
    ...orders.map((o) => `the order ${o.name}`),
  ];
}

/**
 * Takes a medium away for good that is not ready and that nothing uses; gives its film. What is ready may be wanted back: an edit takes that
 * off the shelf.
 * @throws AppError 'conflict' with what uses it, 'not-found'
 */
export async function deleteMedium(db: Knex, mediumId: string, stopWork: (mediumId: string) => Promise<void>): Promise<string> {
  const filmId = await filmOfMedium(db, mediumId);
  const { film } = await loadFilm(db, filmId);
  const uses = [...usesOfMedium(film, mediumId), ...(await usesElsewhere(db, mediumId))];
  if (uses.length > 0) throw new AppError('conflict', `This media is in use by ${namesOf(uses)}. Delete that first.`);
  await stopWork(mediumId);
  const medium = (await listMedia(db, filmId)).find((m) => m.id === mediumId);
  if (medium?.status === 'ready') throw new AppError('conflict', `${medium.name} is ready. Remove it from the shelf, which can be undone.`);
  await removeMedium(db, mediumId);
  return filmId;
}

/** Names that are told one by one; more are counted. */
const TOLD = 3;

const namesOf = (names: readonly string[]): string =>
  names.length > TOLD ? `${names.slice(0, TOLD).join(', ')} and ${names.length - TOLD} more` : names.join(', ');

/** @throws AppError 'conflict' while media that a film uses are still being prepared */
export async function requirePrepared(db: Knex, film: Film, filmId: string): Promise<void> {
  const coming = (await listMedia(db, filmId)).filter((m) => m.status === 'waiting' || m.status === 'working');
  const used = coming.filter((m) => usesOfMedium(film, m.id).length > 0).map((m) => m.name);
  if (used.length > 0) throw new AppError('conflict', `${namesOf(used)} is still being prepared. Wait until that is done.`);
}
