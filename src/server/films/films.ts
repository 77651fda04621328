import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import { LRUCache } from 'lru-cache';
import { createFilm, type Film } from '../../core/film/film';
import type { FilmEntry } from '../../core/film/film-entry';
import { AppError } from '../base/errors';
import { storeParts, withoutParts, withParts } from '../database/film-parts';
import { parseFilm } from '../schema/film-schema';

export interface FilmRow {
  id: string;
  document: string;
  revision: number;
  updated_at: number;
  /** ms; null for one that is kept. */
  deleted_at: number | null;
}

export interface StoredFilm {
  readonly id: string;
  readonly film: Film;
  readonly revision: number;
}

const PICTURES = 7;
const documentOf = (row: FilmRow): Film => JSON.parse(row.document) as Film;

function entryOf(row: FilmRow): FilmEntry {
  const { name, shots, width, height, rate } = documentOf(row);
  const length = shots.reduce((sum, s) => sum + s.length, 0);
  const pictures = [...new Set(shots.map((s) => s.mediumId))].slice(0, PICTURES);
  return { id: row.id, name, shots: shots.length, updatedAt: row.updated_at, width, height, rate, length, pictures };
}

/** The films, the one touched last first; those that were deleted are listed apart. */
export async function listFilms(db: Knex, which: 'kept' | 'deleted' = 'kept'): Promise<FilmEntry[]> {
  const all = db<FilmRow>('films').orderBy('updated_at', 'desc');
  return (await (which === 'kept' ? all.whereNull('deleted_at') : all.whereNotNull('deleted_at'))).map(entryOf);
}

export async function addFilm(db: Knex, film: Film, id: string = randomUUID()): Promise<string> {
  const parsed = parseFilm(film);
  await db.transaction(async (trx) => {
    await trx<FilmRow>('films').insert({
      id,
      document: JSON.stringify(withoutParts(parsed)),
      revision: 0,
      updated_at: Date.now(),
      deleted_at: null,
    });
    await storeParts(trx, id, null, parsed);
  });
  return id;
}

export const addEmptyFilm = (db: Knex, name: string, width: number, height: number, rate: Film['rate']): Promise<string> =>
  addFilm(db, createFilm(name, width, height, rate));

/** Films as they were loaded or stored last, by database: what a film shares with the one before it is looked at only once. */
const loaded = new WeakMap<object, LRUCache<string, { readonly revision: number; readonly film: Film }>>();

const MOST_LOADED = 8;

/** The settings of a database, which a transaction of it shares. */
const settingsOf = (db: Knex): object => (db.client as { readonly config: object }).config;

/** Keeps a film at hand as it is stored by now: never one of a transaction that may yet be taken back. */
export function rememberFilm(db: Knex, id: string, revision: number, film: Film): void {
  const key = settingsOf(db);
  const films = loaded.get(key) ?? new LRUCache<string, { readonly revision: number; readonly film: Film }>({ max: MOST_LOADED });
  loaded.set(key, films);
  films.set(id, { revision, film });
}

/** Stores `film` in the place of `before`, the film as it is stored, as revision `revision`. */
export async function replaceFilm(db: Knex, id: string, before: Film, film: Film, revision: number): Promise<void> {
  loaded.get(settingsOf(db))?.delete(id);
  await db<FilmRow>('films')
    .where({ id })
    .update({ document: JSON.stringify(withoutParts(film)), revision, updated_at: Date.now() });
  await storeParts(db, id, before, film);
}

/** @throws AppError 'not-found' */
export async function loadFilm(db: Knex, id: string): Promise<StoredFilm> {
  const known = loaded.get(settingsOf(db))?.get(id);
  const now = await db<FilmRow>('films').where({ id }).first('revision');
  if (known !== undefined && now?.revision === known.revision) return { id, ...known };
  const row = await db<FilmRow>('films').where({ id }).first();
  if (row === undefined) throw new AppError('not-found', 'There is no such film here. It may have been made in another data folder.');
  const film = await withParts(db, id, documentOf(row));
  rememberFilm(db, id, row.revision, film);
  return { id, film, revision: row.revision };
}

/** A film by its id or, when no id fits, by its exact name. @throws AppError 'not-found' */
export async function findFilm(db: Knex, idOrName: string): Promise<StoredFilm> {
  const entries = await listFilms(db);
  const found = entries.find((f) => f.id === idOrName) ?? entries.find((f) => f.name === idOrName);
  if (found === undefined)
    throw new AppError(
      'not-found',
      `No film "${idOrName}" in the data folder; it holds: ${entries.map((f) => f.name).join(', ') || 'none'}.`,
    );
  return loadFilm(db, found.id);
}
