import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import { createFilm, type Film } from '../core/film/film';
import { applyEdit, areApart, type Edit, type StoredEdit } from '../core/film/history';
import { AppError } from './errors';
import { tellFilm } from './events';
import { parseFilm } from './film-schema';
import { swapFrameEdit } from './matte-frames';

interface FilmRow {
  id: string;
  document: string;
  revision: number;
  updated_at: number;
}

interface EditRow {
  film_id: string;
  revision: number;
  name: string;
  kind: Edit['kind'];
  target: number | null;
  patches: string;
  inverse: string;
}

/** Edits that travel with a film to the page; older ones can no longer be taken back there. */
const HISTORY_LENGTH = 400;

export interface StoredFilm {
  readonly id: string;
  readonly film: Film;
  readonly revision: number;
}

/** A film with the newest part of its history, oldest first. */
export interface OpenedFilm extends StoredFilm {
  readonly edits: readonly StoredEdit[];
}

export interface FilmEntry {
  readonly id: string;
  readonly name: string;
  readonly shots: number;
  readonly updatedAt: number;
}

const fromRow = (row: FilmRow): StoredFilm => ({ id: row.id, film: JSON.parse(row.document) as Film, revision: row.revision });

const editFromRow = (row: EditRow): StoredEdit => ({
  revision: row.revision,
  name: row.name,
  kind: row.kind,
  target: row.target,
  patches: JSON.parse(row.patches) as Edit['patches'],
  inverse: JSON.parse(row.inverse) as Edit['inverse'],
});

export async function listFilms(db: Knex): Promise<FilmEntry[]> {
  const rows = await db<FilmRow>('films').orderBy('updated_at', 'desc');
  return rows.map(fromRow).map(({ id, film }, i) => ({ id, name: film.name, shots: film.shots.length, updatedAt: rows[i]!.updated_at }));
}

export async function addFilm(db: Knex, film: Film, id: string = randomUUID()): Promise<string> {
  await db<FilmRow>('films').insert({ id, document: JSON.stringify(parseFilm(film)), revision: 0, updated_at: Date.now() });
  return id;
}

export const addEmptyFilm = (db: Knex, name: string, width: number, height: number, rate: Film['rate']): Promise<string> =>
  addFilm(db, createFilm(name, width, height, rate));

/** @throws AppError 'not-found' */
export async function loadFilm(db: Knex, id: string): Promise<StoredFilm> {
  const row = await db<FilmRow>('films').where({ id }).first();
  if (row === undefined) throw new AppError('not-found', 'There is no such film here. It may have been made in another data folder.');
  return fromRow(row);
}

/** A film by its id or, when no id fits, by its exact name. @throws AppError 'not-found' */
export async function findFilm(db: Knex, idOrName: string): Promise<StoredFilm> {
  const stored = (await db<FilmRow>('films')).map(fromRow);
  const found = stored.find((f) => f.id === idOrName) ?? stored.find((f) => f.film.name === idOrName);
  if (found === undefined)
    throw new AppError(
      'not-found',
      `No film "${idOrName}" in the data folder; it holds: ${stored.map((f) => f.film.name).join(', ') || 'none'}.`,
    );
  return found;
}

export async function openFilm(db: Knex, id: string): Promise<OpenedFilm> {
  const stored = await loadFilm(db, id);
  const rows = await db<EditRow>('film_edits').where({ film_id: id }).orderBy('revision', 'desc').limit(HISTORY_LENGTH);
  return { ...stored, edits: rows.reverse().map(editFromRow) };
}

/**
 * Applies `edit`, made on the film as it was at revision `base`, and stores both; gives the new revision. What was changed
 * since then stays, as long as the edit touches nothing of that. Taking back or bringing back a change of stored matte
 * frames exchanges those too.
 * @throws AppError 'conflict' when the film has moved on under the edit, 'bad-request' when it does not make a valid film.
 */
export async function storeEdit(db: Knex, id: string, base: number, edit: Edit): Promise<number> {
  const { revision, changed } = await db.transaction(async (trx) => {
    const stored = await loadFilm(trx, id);
    const since =
      base === stored.revision
        ? []
        : (await trx<EditRow>('film_edits').where({ film_id: id }).where('revision', '>', base)).map(editFromRow);
    if (base > stored.revision || since.length < stored.revision - base || !since.every((other) => areApart(other, edit)))
      throw new AppError('conflict', `"${edit.name}" was not applied: the film was changed in another window.`);
    const film = parseFilm(tryApply(stored.film, edit));
    const revision = stored.revision + 1;
    await trx<FilmRow>('films')
      .where({ id })
      .update({ document: JSON.stringify(film), revision, updated_at: Date.now() });
    const { name, kind, target } = edit;
    await trx<EditRow>('film_edits').insert({
      film_id: id,
      revision,
      name,
      kind,
      target,
      patches: JSON.stringify(edit.patches),
      inverse: JSON.stringify(edit.inverse),
    });
    return { revision, changed: kind === 'edit' ? [] : await swapFrames(trx, id, stored.film, film) };
  });
  for (const matteId of changed) tellFilm(id, { kind: 'matte', matteId, frame: null });
  return revision;
}

/** Takes the stored frames of mattes along with their lists of frame edits; gives the mattes that changed. */
async function swapFrames(db: Knex, id: string, before: Film, after: Film): Promise<string[]> {
  const changed: string[] = [];
  for (const matte of after.mattes) {
    const old = before.mattes.find((m) => m.id === matte.id);
    if (old === undefined) continue;
    const [had, has] = [old.frameEdits ?? [], matte.frameEdits ?? []];
    const swapped = [...had.filter((e) => !has.includes(e)).reverse(), ...has.filter((e) => !had.includes(e))];
    for (const editId of swapped) await swapFrameEdit(db, id, matte.id, editId);
    if (swapped.length > 0) changed.push(matte.id);
  }
  return changed;
}

function tryApply(film: Film, edit: Edit): Film {
  try {
    return applyEdit(film, edit);
  } catch (error) {
    throw new AppError('bad-request', `"${edit.name}" does not fit this film: ${(error as Error).message}`);
  }
}
