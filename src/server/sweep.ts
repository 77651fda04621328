import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { exportsFolder, incomingFolder, mediaFolder, pairsFolder, uploadsFolder } from './data-folder';
import { isSpokenOf } from './film-edits';
import { listFilms, loadFilm } from './films';
import { removeMedium } from './media';

const DAY_MS = 24 * 3600 * 1000;
/** Uploads that nobody has gone on with for so long are given up. */
const STALE_UPLOAD_MS = 7 * DAY_MS;
/** What comparing shots came to is found again when it is wanted after so long. */
const STALE_PAIRS_MS = 60 * DAY_MS;

const remove = (...path: string[]): Promise<void> => rm(join(...path), { recursive: true, force: true });

/** Takes away what a process that came to a sudden end left behind. To be called before any work begins. */
export async function sweepDataFolder(db: Knex): Promise<void> {
  const ids = async (table: 'media' | 'exports'): Promise<Set<string>> =>
    new Set((await db<{ id: string }>(table).select('id')).map((r) => r.id));
  await sweepMedia(await ids('media'));
  await sweepExports(await ids('exports'));
  await sweepIncoming(db);
  await sweepOld(uploadsFolder(), STALE_UPLOAD_MS);
  await sweepOld(pairsFolder(), STALE_PAIRS_MS);
  await sweepShelf(db);
}

async function sweepMedia(known: ReadonlySet<string>): Promise<void> {
  for (const id of await readdir(mediaFolder())) {
    if (!known.has(id)) await remove(mediaFolder(), id);
    else for (const file of await readdir(join(mediaFolder(), id))) if (file.endsWith('.part')) await remove(mediaFolder(), id, file);
  }
}

async function sweepExports(known: ReadonlySet<string>): Promise<void> {
  for (const file of await readdir(exportsFolder())) {
    const isWhole = /^[\w-]+\.\w+$/.test(file);
    if (!isWhole || !known.has(file.replace(/\.\w+$/, ''))) await remove(exportsFolder(), file);
  }
}

/** Files that no job waits for. */
async function sweepIncoming(db: Knex): Promise<void> {
  const jobs = await db<{ kind: string; state: string; payload: string | null }>('jobs')
    .where({ kind: 'bring in' })
    .whereIn('state', ['queued', 'running'])
    .select('payload');
  const wanted = new Set(jobs.map((j) => (JSON.parse(j.payload ?? '{}') as { file?: string }).file));
  for (const file of await readdir(incomingFolder())) if (!wanted.has(file)) await remove(incomingFolder(), file);
}

/** Files that have not been written to for so long. */
async function sweepOld(folder: string, mostMs: number): Promise<void> {
  for (const file of await readdir(folder)) {
    const { mtimeMs } = await stat(join(folder, file));
    if (Date.now() - mtimeMs > mostMs) await remove(folder, file);
  }
}

/** Media that were taken off the shelf so long ago that it can no longer be taken back. */
async function sweepShelf(db: Knex): Promise<void> {
  for (const { id } of await listFilms(db)) {
    const { offShelf = [] } = (await loadFilm(db, id)).film;
    if (offShelf.length === 0) continue;
    for (const mediumId of offShelf) if (!(await isSpokenOf(db, id, mediumId))) await removeMedium(db, mediumId);
  }
}
