import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Knex } from 'knex';
import type { JobKind, JobState } from '../../core/film/job';
import { exportsFolder, incomingFolder, mediaFolder, pairsFolder, uploadsFolder } from '../base/data-folder';
import { isSpokenOf } from '../films/film-edits';
import { listFilms, loadFilm } from '../films/films';
import { removeMedium } from '../media/media';
import { usesElsewhere } from '../films/medium-uses';

const DAY_MS = 24 * 3600 * 1000;
/** Uploads that nobody has gone on with for so long are given up. */
const STALE_UPLOAD_MS = 7 * DAY_MS;
/** What comparing shots came to is found again when it is wanted after so long. */
const STALE_PAIRS_MS = 60 * DAY_MS;

const remove = (...path: string[]): Promise<void> => rm(join(...path), { recursive: true, force: true });

/**
 * Takes away what a process that came to a sudden end left behind, as far as a job's own record names it: files half written, and what it
 * unpacked. What the database does not know is never touched; `listFound` tells of it. To be called before any work begins.
 */
export async function sweepDataFolder(db: Knex): Promise<void> {
  const jobs = await db<JobRecord>('jobs').select('kind', 'subject_id', 'state', 'payload');
  await sweepMedia(jobs);
  await sweepExports(jobs);
  await sweepIncoming(jobs);
  await sweepUploads();
  await sweepPairs();
  await sweepShelf(db);
}

interface JobRecord {
  readonly kind: JobKind;
  readonly subject_id: string;
  readonly state: JobState;
  readonly payload: string | null;
}

const subjects = (jobs: readonly JobRecord[], ...kinds: readonly JobKind[]): ReadonlySet<string> =>
  new Set(jobs.filter((j) => kinds.includes(j.kind)).map((j) => j.subject_id));

async function sweepMedia(jobs: readonly JobRecord[]): Promise<void> {
  const prepared = subjects(jobs, 'ingest', 'sound');
  for (const id of await readdir(mediaFolder()))
    if (prepared.has(id))
      for (const file of await readdir(join(mediaFolder(), id))) if (file.endsWith('.part')) await remove(mediaFolder(), id, file);
}

async function sweepExports(jobs: readonly JobRecord[]): Promise<void> {
  const sent = subjects(jobs, 'send');
  const isHalf = (file: string): boolean => file.endsWith('.part') || file.endsWith('.frames');
  for (const file of await readdir(exportsFolder())) if (isHalf(file) && sent.has(file.split('.')[0]!)) await remove(exportsFolder(), file);
}

/** Received files, and what was unpacked of them, whose job has ended. */
async function sweepIncoming(jobs: readonly JobRecord[]): Promise<void> {
  const files = jobs
    .filter((j) => j.kind === 'bring in')
    .map((j) => ({
      file: (JSON.parse(j.payload ?? '{}') as { file?: string }).file,
      isOpen: j.state === 'queued' || j.state === 'running',
    }));
  const open = new Set(files.filter((f) => f.isOpen).map((f) => f.file));
  const named = new Set(files.map((f) => f.file));
  for (const entry of await readdir(incomingFolder())) {
    const [file] = entry.split('.');
    if (named.has(file) && (!open.has(file) || entry !== file)) await remove(incomingFolder(), entry);
  }
}

/** Uploads that have a record of their own beside them, and have not been written to for so long. */
async function sweepUploads(): Promise<void> {
  const entries = await readdir(uploadsFolder());
  for (const record of entries.filter((e) => e.endsWith('.json'))) {
    const file = record.slice(0, -'.json'.length);
    const { mtimeMs } = await stat(join(uploadsFolder(), entries.includes(file) ? file : record));
    if (Date.now() - mtimeMs <= STALE_UPLOAD_MS) continue;
    await remove(uploadsFolder(), file);
    await remove(uploadsFolder(), record);
  }
}

/** Results of comparing that nobody has asked for in so long: they are named by what was compared, and are found again. */
async function sweepPairs(): Promise<void> {
  for (const file of await readdir(pairsFolder())) {
    const { mtimeMs } = await stat(join(pairsFolder(), file));
    if (file.endsWith('.json') && Date.now() - mtimeMs > STALE_PAIRS_MS) await remove(pairsFolder(), file);
  }
}

/** Media that were taken off the shelf so long ago that it can no longer be taken back, and that nothing else uses. */
async function sweepShelf(db: Knex): Promise<void> {
  for (const { id } of await listFilms(db)) {
    const { offShelf = [] } = (await loadFilm(db, id)).film;
    for (const mediumId of offShelf)
      if (!(await isSpokenOf(db, id, mediumId)) && (await usesElsewhere(db, mediumId)).length === 0) await removeMedium(db, mediumId);
  }
}
