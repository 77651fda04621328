import type { Knex } from 'knex';
import { getDb } from './db';
import { runExport } from './exports';
import { JobQueue } from './jobs';
import { ingestMedium } from './media';

/** The database and the job queue of this process. */
export interface Workshop {
  readonly db: Knex;
  readonly jobs: JobQueue;
}

const shared = globalThis as { irimiWorkshop?: Promise<Workshop> };

async function openWorkshop(): Promise<Workshop> {
  const db = await getDb();
  const jobs = new JobQueue(db, {
    ingest: (id, signal, onProgress) => ingestMedium(db, id, signal, onProgress),
    send: (id, signal, onProgress) => runExport(db, id, signal, onProgress),
  });
  await jobs.resume();
  return { db, jobs };
}

export const getWorkshop = (): Promise<Workshop> => (shared.irimiWorkshop ??= openWorkshop());
