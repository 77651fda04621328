import { randomUUID } from 'node:crypto';
import { copyFile, link, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Knex } from 'knex';
import type { Film } from '../../core/film/film';
import { withIds } from '../../core/film/with-ids';
import { exportsFolder, makeMediumFolder, mediumFolder } from '../base/data-folder';
import { AppError } from '../base/errors';
import { addFilm, loadFilm, type FilmRow } from './films';
import { requirePrepared } from './medium-uses';

/** Copying films, and taking them away. */

interface MediaRow extends Record<string, unknown> {
  readonly id: string;
  readonly facts: string | null;
  readonly sound: string | null;
}

/** A copy of a file that takes no room of its own where the disk can do that. */
async function shareFile(from: string, to: string): Promise<void> {
  try {
    await link(from, to);
  } catch (error) {
    if (!['EXDEV', 'EPERM', 'EMLINK', 'ENOTSUP'].includes(String((error as { code?: unknown }).code))) throw error;
    await copyFile(from, to);
  }
}

/** Gives media of one film to another under ids of their own. @returns the new ids by the old ones */
async function copyMedia(db: Knex, from: string, to: string, ids: ReadonlyMap<string, string>): Promise<void> {
  for (const row of await db<MediaRow>('media')
    .where({ film_id: from })
    .whereIn('id', [...ids.keys()])) {
    const id = ids.get(row.id)!;
    makeMediumFolder(id);
    // what is being written right now belongs to the other one alone
    const files = (await readdir(mediumFolder(row.id))).filter((f) => !f.endsWith('.part') && f !== 'about.json');
    for (const file of files) await shareFile(join(mediumFolder(row.id), file), join(mediumFolder(id), file));
    const own = (json: string | null): string | null => (json === null ? null : JSON.stringify(withIds(JSON.parse(json), ids)));
    await db('media').insert({ ...row, id, film_id: to, facts: own(row.facts), sound: own(row.sound) });
  }
}

/**
 * Makes a film of its own of a film, or of what it was: with its media and stored mattes, but none of its history.
 * @throws AppError 'not-found', 'conflict' while something in it is being prepared
 */
export async function copyFilm(db: Knex, filmId: string, name: string, as: Film | null = null): Promise<string> {
  const film = as ?? (await loadFilm(db, filmId)).film;
  await requirePrepared(db, film, filmId);
  const ready = await db<MediaRow>('media').where({ film_id: filmId, status: 'ready' }).select('id');
  const ids = new Map(ready.map(({ id }) => [id, randomUUID()]));
  const id = await addFilm(db, { ...withIds(film, ids), name });
  try {
    await copyMedia(db, filmId, id, ids);
    await copyMatteFrames(db, filmId, id);
    return id;
  } catch (error) {
    // nothing half made stays
    await db<FilmRow>('films').where({ id }).delete();
    for (const own of ids.values()) await rm(mediumFolder(own), { recursive: true, force: true });
    throw error;
  }
}

/** Gives another film the stored frames of a film's mattes. */
async function copyMatteFrames(db: Knex, filmId: string, id: string): Promise<void> {
  const columns = (await db.raw<{ name: string }[]>('PRAGMA table_info(matte_frames)')).map((c) => c.name).filter((c) => c !== 'film_id');
  await db(db.raw(`?? (${['film_id', ...columns].map(() => '??').join(', ')})`, ['matte_frames', 'film_id', ...columns])).insert(
    db('matte_frames')
      .where({ film_id: filmId })
      .select(db.raw('? as film_id', [id]), ...columns),
  );
}

/** Takes a film off the list; it can be brought back. @throws AppError 'not-found' */
export async function deleteFilm(db: Knex, id: string): Promise<void> {
  await changeDeleted(db, id, Date.now());
}

export async function bringFilmBack(db: Knex, id: string): Promise<void> {
  await changeDeleted(db, id, null);
}

async function changeDeleted(db: Knex, id: string, deletedAt: number | null): Promise<void> {
  const changed = await db<FilmRow>('films').where({ id }).update({ deleted_at: deletedAt });
  if (changed === 0) throw new AppError('not-found', 'There is no such film here.');
}

/** Takes a film that was deleted away for good, with its media, mattes and exported files. @throws AppError 'conflict' for one that is kept */
export async function deleteForGood(db: Knex, id: string): Promise<void> {
  const row = await db<FilmRow>('films').where({ id }).first('deleted_at');
  if (row === undefined) throw new AppError('not-found', 'There is no such film here.');
  if (row.deleted_at === null) throw new AppError('conflict', 'This film is not deleted yet.');
  const media = await db<MediaRow>('media').where({ film_id: id }).select('id');
  const exports = new Set((await db<{ id: string; film_id: string }>('exports').where({ film_id: id }).select('id')).map((e) => e.id));
  const busy = await db<{ label: string; film_id: string; state: string }>('jobs')
    .where({ film_id: id })
    .whereIn('state', ['waiting', 'running'])
    .first('label');
  if (busy !== undefined) throw new AppError('conflict', `${busy.label} is still under way. Stop that first.`);
  await db<FilmRow>('films').where({ id }).delete();
  for (const medium of media) await rm(mediumFolder(medium.id), { recursive: true, force: true });
  for (const file of await readdir(exportsFolder()).catch(() => []))
    if (exports.has(file.replace(/\..*$/, ''))) await rm(join(exportsFolder(), file), { force: true });
}
