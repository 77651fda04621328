import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import type { Film } from '../core/film/film';
import { checkRules } from '../core/film/rules';
import { applyEdit, areApart, inTheWay, type Edit, type StoredEdit } from '../core/film/history';
import { readyMedia } from '../core/film/media-facts';
import { AppError } from './errors';
import { tellFilm } from './events';
import { parseFilm } from './film-schema';
import { loadFilm, replaceFilm, type StoredFilm } from './films';
import { settledFrames, swapFrameEdit } from './matte-frames';
import { listMedia } from './media';

interface EditRow {
  film_id: string;
  revision: number;
  edit_id: string | null;
  window: string | null;
  name: string;
  kind: Edit['kind'];
  target: number | null;
  patches: string;
  inverse: string;
}

/** Edits that travel with a film to the page; older ones can no longer be taken back there. */
const TRAVELLING = 200;
/** Text of edits that travels, in characters; the newest one always does. */
const TRAVELLING_TEXT = 2 ** 20;
/** Edits that are kept. The film as it is stands for those before. */
const KEPT = 1000;
/** Old edits go when there are this many of them. */
const FOLD_EVERY = 100;

const fromRow = (row: EditRow): StoredEdit => ({
  revision: row.revision,
  id: row.edit_id ?? String(row.revision),
  window: row.window,
  name: row.name,
  kind: row.kind,
  target: row.target,
  patches: JSON.parse(row.patches) as Edit['patches'],
  inverse: JSON.parse(row.inverse) as Edit['inverse'],
});

/** A film with the newest part of its history, oldest first. */
export interface OpenedFilm extends StoredFilm {
  readonly edits: readonly StoredEdit[];
}

export async function openFilm(db: Knex, id: string): Promise<OpenedFilm> {
  return { ...(await loadFilm(db, id)), edits: await newestEdits(db, id) };
}

async function newestEdits(db: Knex, filmId: string): Promise<StoredEdit[]> {
  const sizes = await db<EditRow>('film_edits')
    .where({ film_id: filmId })
    .orderBy('revision', 'desc')
    .limit(TRAVELLING)
    .select<{ revision: number; size: number }[]>('revision', db.raw('length(patches) + length(inverse) as size'));
  let text = 0;
  const fits = sizes.filter(({ size }, i) => (text += size) <= TRAVELLING_TEXT || i === 0);
  return editsAfter(db, filmId, (fits.at(-1)?.revision ?? 0) - 1);
}

/** The edits after a revision, oldest first. */
async function editsAfter(db: Knex, filmId: string, revision: number): Promise<StoredEdit[]> {
  return (await db<EditRow>('film_edits').where({ film_id: filmId }).where('revision', '>', revision).orderBy('revision')).map(fromRow);
}

/** All that the kept edits of a film say, as text. */
export async function editsKept(db: Knex, filmId: string): Promise<string> {
  const rows = await db<EditRow>('film_edits').where({ film_id: filmId }).select('patches', 'inverse');
  return rows.map((r) => r.patches + r.inverse).join('\n');
}

/** An edit as it comes in: made on the film as it was at revision `base`. */
export interface SentEdit {
  readonly base: number;
  readonly edit: Edit;
  /** Its own; one that was stored before is not stored again. */
  readonly id?: string;
  readonly window?: string | null;
}

/**
 * Applies an edit and stores it; gives the new revision. What was changed since it was made stays, as long as the edit touches
 * nothing of that. Taking back or bringing back a change of stored matte frames exchanges those too.
 * @throws AppError 'conflict' when the film has moved on under the edit, 'bad-request' when it does not make a valid film.
 */
export async function storeEdit(db: Knex, filmId: string, { base, edit, id = randomUUID(), window = null }: SentEdit): Promise<number> {
  const { revision, changed } = await db.transaction(async (trx) => {
    const known = await trx<EditRow>('film_edits').where({ film_id: filmId, edit_id: id }).first('revision');
    if (known !== undefined) return { revision: known.revision, changed: [] };
    const stored = await loadFilm(trx, filmId);
    await requireFit(trx, filmId, stored.revision, base, edit);
    const film = await checked(trx, filmId, stored.film, tryApply(stored.film, edit));
    const made = stored.revision + 1;
    await replaceFilm(trx, filmId, stored.film, film, made);
    const { name, kind, target } = edit;
    await trx<EditRow>('film_edits').insert({
      film_id: filmId,
      revision: made,
      edit_id: id,
      window,
      name,
      kind,
      target,
      patches: JSON.stringify(edit.patches),
      inverse: JSON.stringify(edit.inverse),
    });
    if (made % FOLD_EVERY === 0)
      await trx('film_edits')
        .where({ film_id: filmId })
        .where('revision', '<=', made - KEPT)
        .delete();
    return { revision: made, changed: kind === 'edit' ? [] : await swapFrames(trx, filmId, stored.film, film) };
  });
  for (const matteId of changed) tellFilm(filmId, { kind: 'matte', matteId, frame: null });
  return revision;
}

/** @throws AppError 'conflict' unless the edit touches nothing that has changed since it was made or, a step back, since what it takes back. */
async function requireFit(db: Knex, filmId: string, revision: number, base: number, edit: Edit): Promise<void> {
  const since = base === revision ? [] : await editsAfter(db, filmId, base);
  if (base > revision || since.length < revision - base || !since.every((other) => areApart(other, edit)))
    throw new AppError('conflict', `"${edit.name}" was not applied: the film was changed in another window.`);
  if (edit.kind === 'edit' || edit.target === null) return;
  const later = await editsAfter(db, filmId, edit.target - 1);
  const steps = later.filter((e) => e.target === edit.target);
  const isTakenBack = steps.at(-1)?.kind === 'undo';
  if (later[0]?.revision !== edit.target || isTakenBack !== (edit.kind === 'redo'))
    throw new AppError('conflict', `"${edit.name}" was ${isTakenBack ? 'taken back' : 'brought back'} already.`);
  const other = inTheWay(later, edit);
  if (other !== null)
    throw new AppError('conflict', `"${edit.name}" cannot be taken back: "${other.name}" has changed the same since, in another window.`);
}

function tryApply(film: Film, edit: Edit): Film {
  try {
    return applyEdit(film, edit);
  } catch (error) {
    throw new AppError('bad-request', `"${edit.name}" does not fit this film: ${(error as Error).message}`);
  }
}

/** The film after an edit, once it is known to hold to all rules. @throws AppError 'bad-request' */
async function checked(db: Knex, filmId: string, before: Film, after: Film): Promise<Film> {
  const film = parseFilm(after, before);
  const fault = checkRules(film, before, readyMedia(await listMedia(db, filmId)));
  if (fault !== null) throw new AppError('bad-request', fault);
  for (const matte of film.mattes) {
    const old = before.mattes.find((m) => m.id === matte.id)?.painted;
    if (matte.painted === old || old === undefined) continue;
    const frames = [...(matte.painted ?? []), ...old].filter((p) => old.includes(p) !== matte.painted?.includes(p)).map((p) => p.frame);
    const [settled] = await settledFrames(db, filmId, matte.id, frames);
    if (settled !== undefined)
      throw new AppError('bad-request', `${matte.name} is settled on frame ${settled}. Open it again to paint on it.`);
  }
  return film;
}

/** Takes the stored frames of mattes along with their lists of frame edits; gives the mattes that changed. */
async function swapFrames(db: Knex, filmId: string, before: Film, after: Film): Promise<string[]> {
  const changed: string[] = [];
  for (const matte of after.mattes) {
    const old = before.mattes.find((m) => m.id === matte.id);
    if (old === undefined) continue;
    const [had, has] = [old.frameEdits ?? [], matte.frameEdits ?? []];
    const swapped = [...had.filter((e) => !has.includes(e)).reverse(), ...has.filter((e) => !had.includes(e))];
    for (const editId of swapped) await swapFrameEdit(db, filmId, matte.id, editId);
    if (swapped.length > 0) changed.push(matte.id);
  }
  return changed;
}
