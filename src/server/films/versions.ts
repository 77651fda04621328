import { randomUUID } from 'node:crypto';
import { promisify } from 'node:util';
import { gunzip, gzip } from 'node:zlib';
import type { Knex } from 'knex';
import type { Film, Media } from '../../core/film/film';
import { readyMedia } from '../../core/film/media-facts';
import { migrateFilm } from '../../core/film/migrate';
import { stripOf, type VersionEntry, type VersionStrip } from '../../core/film/version';
import { AppError } from '../base/errors';
import { listMedia } from '../media/media';
import { loadFilm } from './films';

/** What a film was, kept by name. A version holds the whole document; stored mattes follow what the document says of them. */

interface VersionRow {
  id: string;
  film_id: string;
  name: string;
  by_itself: boolean | number;
  revision: number;
  made_at: number;
  document: Buffer;
  /** `VersionStrip` as JSON; null of those that were kept before there was one. */
  strip: string | null;
}

type ListedRow = Omit<VersionRow, 'film_id' | 'document'>;

/** Work after which a version is kept by itself, ms. */
const HOUR = 3_600_000;
/** Versions kept by themselves that stay. */
const MOST_BY_THEMSELVES = 100;

const NO_STRIP: VersionStrip = { shots: 0, length: 0, pictures: [] };

const entryOf = ({ id, name, by_itself, revision, made_at, strip }: ListedRow): VersionEntry => ({
  ...{ id, name, revision, madeAt: made_at, isByItself: Boolean(by_itself) },
  strip: strip === null ? NO_STRIP : (JSON.parse(strip) as VersionStrip),
});

const mediaOf = async (db: Knex, filmId: string): Promise<Media> => readyMedia(await listMedia(db, filmId));

/** Keeps a film as it is stored now. */
export async function keepVersion(db: Knex, filmId: string, name: string, isByItself: boolean, now = Date.now()): Promise<VersionEntry> {
  const { film, revision } = await loadFilm(db, filmId);
  const document = await promisify(gzip)(JSON.stringify(film));
  const strip = JSON.stringify(stripOf(film, await mediaOf(db, filmId)));
  const row: VersionRow = { id: randomUUID(), film_id: filmId, name, by_itself: isByItself, revision, made_at: now, document, strip };
  await db<VersionRow>('film_versions').insert(row);
  if (isByItself) {
    const old = await db<VersionRow>('film_versions').where({ film_id: filmId, by_itself: true }).orderBy('made_at', 'desc').offset(MOST_BY_THEMSELVES).limit(1000).select('id'); // prettier-ignore
    await db<VersionRow>('film_versions').whereIn('id', old.map((v) => v.id)).delete(); // prettier-ignore
  }
  return entryOf(row);
}

/** Keeps a version once an hour of work: called with each edit. */
export async function keepHourly(db: Knex, filmId: string, now = Date.now()): Promise<void> {
  const last = await db<VersionRow>('film_versions').where({ film_id: filmId }).max({ at: 'made_at' }).first<{ at: number | null }>();
  if (last?.at != null && now - last.at < HOUR) return;
  // of a film that was only begun there is nothing to keep
  if ((await loadFilm(db, filmId)).revision > 0) await keepVersion(db, filmId, 'Kept by itself', true, now);
}

/** The versions of a film, newest first. */
export async function listVersions(db: Knex, filmId: string): Promise<VersionEntry[]> {
  const rows: ListedRow[] = await db<VersionRow>('film_versions').where({ film_id: filmId }).orderBy('made_at', 'desc').select('id', 'name', 'by_itself', 'revision', 'made_at', 'strip'); // prettier-ignore
  for (const row of rows.filter((r) => r.strip === null)) {
    row.strip = JSON.stringify(stripOf(await loadVersion(db, filmId, row.id), await mediaOf(db, filmId)));
    await db<VersionRow>('film_versions').where({ id: row.id }).update({ strip: row.strip });
  }
  return rows.map(entryOf);
}

/** The film as it was. @throws AppError 'not-found' */
export async function loadVersion(db: Knex, filmId: string, id: string): Promise<Film> {
  const row = await db<VersionRow>('film_versions').where({ film_id: filmId, id }).first('document');
  if (row === undefined) throw new AppError('not-found', 'This version is no longer there.');
  return migrateFilm(JSON.parse((await promisify(gunzip)(row.document)).toString('utf8')));
}

export async function deleteVersion(db: Knex, filmId: string, id: string): Promise<void> {
  await db<VersionRow>('film_versions').where({ film_id: filmId, id }).delete();
}
