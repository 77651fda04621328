import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import type { Film } from '../../core/film/film';
import { faultOfChange } from '../../core/film/rules';
import { patchesBetween } from '../../core/film/patches';
import { applyEdit, areApart, inTheWay, redoEdit, undoEdit, type Edit, type StoredEdit } from '../../core/film/history';
import { readyMedia } from '../../core/film/media-facts';
import { AppError } from '../base/errors';
import { tellFilm } from '../base/events';
import { parseFilm } from '../schema/film-schema';
import { loadFilm, rememberFilm, replaceFilm, type StoredFilm } from './films';
import { settledFrames, swapFrameEdit } from './matte-frames';
import { listMedia } from '../media/media';
import { usesElsewhere } from './medium-uses';

interface EditRow {
  film_id: string;
  revision: number;
  edit_id: string | null;
  window: string | null;
  asked_at: number | null;
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
  askedAt: row.asked_at,
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

/** Whether a kept edit of a film speaks of something, by its id. */
export async function isSpokenOf(db: Knex, filmId: string, id: string): Promise<boolean> {
  const found = await db<EditRow>('film_edits')
    .where({ film_id: filmId })
    .whereRaw('(instr(patches, ?) > 0 or instr(inverse, ?) > 0)', [id, id])
    .first('revision');
  return found !== undefined;
}

/** Who asked for what is done to a film. */
export interface Asked {
  /** The window it was asked for in. */
  readonly window: string | null;
  /** Of what a job does, the revision the film had then; null for what is done at once. */
  readonly revision: number | null;
}

/** What is done at once, for a window. */
export const askedIn = (window: string | null): Asked => ({ window, revision: null });

export const BY_NO_ONE = askedIn(null);

/** An edit as it comes in: made on the film as it was at revision `base`. */
export interface SentEdit {
  readonly base: number;
  readonly edit: Edit;
  /** Its own; one that was stored before is not stored again. */
  readonly id?: string;
  /** Who asked for it, and when; null for no one. */
  readonly asked?: Asked;
}

/**
 * Applies an edit and stores it; gives the new revision. What was changed since it was made stays, as long as the edit touches
 * nothing of that. Taking back or bringing back a change of stored matte frames exchanges those too.
 * @throws AppError 'conflict' when the film has moved on under the edit, 'bad-request' when it does not make a valid film.
 */
export async function storeEdit(db: Knex, filmId: string, { base, edit, id = randomUUID(), asked = BY_NO_ONE }: SentEdit): Promise<number> {
  const { revision, changed, film } = await db.transaction(async (trx) => {
    const known = await trx<EditRow>('film_edits').where({ film_id: filmId, edit_id: id }).first('revision');
    if (known !== undefined) return { revision: known.revision, changed: [], film: null };
    const stored = await loadFilm(trx, filmId);
    const fitting = await fittingEdit(trx, filmId, stored.revision, base, edit);
    const film = await checked(trx, filmId, stored.film, tryApply(stored.film, fitting));
    const made = stored.revision + 1;
    await replaceFilm(trx, filmId, stored.film, film, made);
    const { name, kind, target, patches } = fitting;
    await trx<EditRow>('film_edits').insert({
      film_id: filmId,
      revision: made,
      edit_id: id,
      window: asked.window,
      asked_at: asked.revision,
      name,
      kind,
      target,
      patches: JSON.stringify(patches),
      // what takes it back is told by what it did, not by who sent it
      inverse: JSON.stringify(patchesBetween(film, stored.film)),
    });
    if (made % FOLD_EVERY === 0)
      await trx('film_edits')
        .where({ film_id: filmId })
        .where('revision', '<=', made - KEPT)
        .delete();
    return { revision: made, film, changed: kind === 'edit' ? [] : await swapFrames(trx, filmId, stored.film, film) };
  });
  if (film !== null) rememberFilm(db, filmId, revision, film);
  for (const matteId of changed) tellFilm(filmId, { kind: 'matte', matteId, frame: null });
  return revision;
}

/**
 * The edit as it is laid on the film: of a step back or on, what is kept of the edit it is about says what it does.
 * @throws AppError 'conflict' unless it touches nothing that has changed since it was made or, a step back, since what it takes back
 */
async function fittingEdit(db: Knex, filmId: string, revision: number, base: number, edit: Edit): Promise<Edit> {
  const since = base === revision ? [] : await editsAfter(db, filmId, base);
  if (base > revision || since.length < revision - base || !since.every((other) => areApart(other, edit)))
    throw new AppError('conflict', `"${edit.name}" was not applied: the film was changed in another window.`);
  if (edit.kind === 'edit') return { ...edit, target: null };
  const later = await editsAfter(db, filmId, edit.target! - 1);
  const [target] = later;
  if (target?.revision !== edit.target || target.kind !== 'edit')
    throw new AppError('conflict', `"${edit.name}" is too old to be undone or redone.`);
  const isTakenBack = later.filter((e) => e.target === edit.target).at(-1)?.kind === 'undo';
  if (isTakenBack !== (edit.kind === 'redo'))
    throw new AppError('conflict', `"${edit.name}" was ${isTakenBack ? 'undone' : 'redone'} already.`);
  const step = edit.kind === 'undo' ? undoEdit(target) : redoEdit(target);
  const other = inTheWay(later, step);
  if (other !== null)
    throw new AppError('conflict', `"${edit.name}" cannot be undone: "${other.name}" has changed the same since, in another window.`);
  return step;
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
  const shelf = await listMedia(db, filmId);
  const fault = faultOfChange(film, before, { ids: new Set(shelf.map((m) => m.id)), ready: readyMedia(shelf) });
  if (fault !== null) throw new AppError('bad-request', `Not accepted: ${fault}`);
  const wasOff = new Set(before.offShelf);
  for (const id of film.offShelf ?? []) {
    const [use] = wasOff.has(id) ? [] : await usesElsewhere(db, id);
    if (use !== undefined) throw new AppError('conflict', `This media cannot be taken off the shelf: it is in use by ${use}.`);
  }
  const paintedBefore = new Map(before.mattes.map((m) => [m.id, m.painted]));
  for (const matte of film.mattes) {
    const old = paintedBefore.get(matte.id);
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
