import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { copyFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import type { Knex } from 'knex';
import { formatRational, type Rational } from '../../core/geometry/rational';
import type { MediumFacts, MediumStatus, ShelfMedium, SoundFacts } from '../../core/film/media-facts';
import { makeMediumFolder, mediumFile, mediumFolder } from '../base/data-folder';
import { AppError } from '../base/errors';
import { hashOfFile } from '../base/hash-of-file';
import type { PictureFile } from '../video/ffmpeg';
import type { StoredFacts } from './stored-facts';

/** A medium as the database has it. */
export interface MediumRow {
  id: string;
  film_id: string;
  name: string;
  status: MediumStatus;
  error: string | null;
  bytes: number;
  facts: string | null;
  sound: string | null;
  added_at: number;
  sha256: string | null;
  asked_rate: string | null;
}

/** What is noted beside a medium's files, so that they can be told apart without the database. */
export interface MediumNote {
  readonly name: string;
  readonly film: string;
}

/** Makes a medium of a received file, which is moved. `askedRate` is what numbered pictures run at, the film's rate unless said. */
export async function takeInMedium(
  db: Knex,
  filmId: string,
  name: string,
  received: string,
  addedAt = Date.now(),
  askedRate: Rational | null = null,
): Promise<string> {
  const id = randomUUID();
  const { size } = await stat(received);
  if (size === 0) throw new AppError('unusable-file', `${name} is empty.`);
  makeMediumFolder(id);
  await rename(received, mediumFile(id, 'original'));
  await insertMedium(db, id, filmId, name, size, addedAt, askedRate);
  return id;
}

/** The hash of a medium's file, kept once it was asked for; null when the file is gone. */
export async function contentOf(db: Knex, { id, sha256 }: Pick<MediumRow, 'id' | 'sha256'>): Promise<string | null> {
  const path = mediumFile(id, 'original');
  if (sha256 !== null || !existsSync(path)) return sha256;
  const hash = await hashOfFile(path);
  await db<MediumRow>('media').where({ id }).update({ sha256: hash });
  return hash;
}

/** The medium of a film that is the same file, byte for byte; null without one. */
export async function sameFile(db: Knex, filmId: string, path: string, offShelf: readonly string[]): Promise<string | null> {
  const { size } = await stat(path);
  const alike = await db<MediumRow>('media').where({ film_id: filmId, bytes: size }).whereNot({ status: 'failed' }).whereNotIn('id', offShelf).select('id', 'sha256'); // prettier-ignore
  if (alike.length === 0) return null;
  const hash = await hashOfFile(path);
  for (const row of alike) if ((await contentOf(db, row)) === hash) return row.id;
  return null;
}

/**
 * Puts a received file in the place of a medium's own that is gone.
 * @throws AppError 'unusable-file' where it is another file, 'not-found'
 */
export async function restoreFile(db: Knex, id: string, name: string, received: string): Promise<void> {
  const row = await mediumRow(db, id);
  const { size } = await stat(received);
  const isIt = row.sha256 === null ? size === row.bytes : (await hashOfFile(received)) === row.sha256;
  if (!isIt)
    throw new AppError(
      'unusable-file',
      `${name} is not the file that ${row.name} was imported from. Import it, then use it in place of ${row.name}.`,
    );
  makeMediumFolder(id);
  await rename(received, mediumFile(id, 'original'));
}

/** Makes a medium of a folder of media that no film knows, under the id that is its name. */
export async function takeInFolder(db: Knex, id: string, filmId: string, name: string): Promise<void> {
  await insertMedium(db, id, filmId, name, (await stat(mediumFile(id, 'original'))).size);
}

/** Adds a medium by copying a file that is already on this machine. */
export async function copyMedium(db: Knex, filmId: string, name: string, path: string): Promise<string> {
  const id = randomUUID();
  makeMediumFolder(id);
  await copyFile(path, mediumFile(id, 'original'));
  await insertMedium(db, id, filmId, name, (await stat(path)).size);
  return id;
}

/** Adds a medium whose original lies in its folder. */
export async function insertMedium(
  db: Knex,
  id: string,
  filmId: string,
  name: string,
  bytes: number,
  addedAt = Date.now(),
  askedRate: Rational | null = null,
): Promise<void> {
  await db<MediumRow>('media').insert({
    id,
    film_id: filmId,
    name,
    status: 'waiting',
    error: null,
    bytes,
    facts: null,
    sound: null,
    added_at: addedAt,
    sha256: null,
    asked_rate: askedRate === null ? null : formatRational(askedRate),
  });
  await noteMedium(db, id, filmId, name);
}

async function noteMedium(db: Knex, id: string, filmId: string, name: string): Promise<void> {
  const film = await db<{ id: string; document: string }>('films').where({ id: filmId }).first('document');
  const note: MediumNote = { name, film: film === undefined ? '' : (JSON.parse(film.document) as { name: string }).name };
  await writeFile(mediumFile(id, 'about.json'), JSON.stringify(note));
}

/** Notes beside their files what media are called that came in before that was done. */
export async function noteMedia(db: Knex): Promise<void> {
  for (const { id, film_id, name } of await db<MediumRow>('media').select('id', 'film_id', 'name'))
    if (existsSync(mediumFolder(id)) && !existsSync(mediumFile(id, 'about.json'))) await noteMedium(db, id, film_id, name);
}

/** The shelf of a film in the order things came in. `progressOf` tells how far a running job is. */
export async function listMedia(db: Knex, filmId: string, progressOf: (mediumId: string) => number = () => 0): Promise<ShelfMedium[]> {
  const rows = await db<MediumRow>('media').where({ film_id: filmId }).orderBy(['added_at', 'id']);
  return rows.map((row) => ({
    id: row.id,
    name: row.name,
    status: row.status,
    error: row.error,
    bytes: row.bytes,
    progress: row.status === 'ready' ? 1 : progressOf(row.id),
    facts: row.facts === null ? null : publicFacts(JSON.parse(row.facts) as StoredFacts),
    sound: row.sound === null ? null : (JSON.parse(row.sound) as SoundFacts),
    ...(row.status === 'ready' && !existsSync(mediumFile(row.id, 'original')) ? { isLost: true as const } : {}),
  }));
}

function publicFacts({ probe: _, ...facts }: StoredFacts): MediumFacts {
  return facts;
}

/** @throws AppError 'not-found' */
export async function mediumRow(db: Knex, id: string): Promise<MediumRow> {
  const row = await db<MediumRow>('media').where({ id }).first();
  if (row === undefined) throw new AppError('not-found', 'There is no such media here.');
  return row;
}

/** @throws AppError 'not-found' */
export const filmOfMedium = async (db: Knex, id: string): Promise<string> => (await mediumRow(db, id)).film_id;

/** The file that the pictures of a ready medium are decoded from at their full size. */
export async function pictureFileOf(db: Knex, id: string): Promise<PictureFile> {
  const row = await mediumRow(db, id);
  if (row.status !== 'ready' || row.facts === null)
    throw new AppError('bad-request', `${row.name} is not ready: ${row.error ?? 'it is still being prepared'}.`);
  const { probe, pictures = 'original' } = JSON.parse(row.facts) as StoredFacts;
  if (!existsSync(mediumFile(id, pictures)))
    throw new AppError('bad-request', `The file of ${row.name} is gone from the server. Find it again from its card on the shelf.`);
  return { path: mediumFile(id, pictures), probe };
}

/** Says of a medium that it will not be prepared, and why. */
export async function giveUpMedium(db: Knex, id: string, why: string): Promise<void> {
  await db<MediumRow>('media').where({ id }).update({ status: 'failed', error: why });
}

/** Takes a medium away, from disk too. The caller has seen to it that nothing uses it, and no job is at work on it. */
export async function removeMedium(db: Knex, id: string): Promise<void> {
  await db<MediumRow>('media').where({ id }).delete();
  await rm(mediumFolder(id), { recursive: true, force: true });
}
