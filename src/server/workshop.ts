import type { Knex } from 'knex';
import type { BringInOrder, CarryOrder, FindEdgeOrder, FollowOrder, SmoothOrder } from '../core/film/job';
import { runFindEdge, runFollow } from './analysis';
import { runBringIn } from './bring-in-matte';
import { runCarry } from './carry-matte';
import { getDb } from './db';
import { runExport } from './exports';
import { JobQueue } from './jobs';
import { ingestMedium } from './media';
import { runSmooth } from './smooth-matte';

/** The database and the job queue of this process. */
export interface Workshop {
  readonly db: Knex;
  readonly jobs: JobQueue;
}

const shared = globalThis as { irimiWorkshop?: Promise<Workshop> };

async function openWorkshop(): Promise<Workshop> {
  const db = await getDb();
  const jobs = new JobQueue(db, {
    ingest: ({ subjectId }, signal, onProgress) => ingestMedium(db, subjectId, signal, onProgress),
    send: ({ subjectId }, signal, onProgress) => runExport(db, subjectId, signal, onProgress),
    carry: ({ id, filmId, order }, signal, onProgress) => runCarry(db, filmId, order as CarryOrder, signal, onProgress, id),
    smooth: ({ id, filmId, order }, signal, onProgress) => runSmooth(db, filmId, order as SmoothOrder, signal, onProgress, id),
    follow: ({ filmId, order }, signal, onProgress) => runFollow(db, filmId, order as FollowOrder, signal, onProgress),
    'find edge': ({ filmId, order }, signal, onProgress) => runFindEdge(db, filmId, order as FindEdgeOrder, signal, onProgress),
    'bring in': ({ id, filmId, order }, signal, onProgress) => runBringIn(db, filmId, order as BringInOrder, signal, onProgress, id),
  });
  await jobs.resume();
  return { db, jobs };
}

export const getWorkshop = (): Promise<Workshop> => (shared.irimiWorkshop ??= openWorkshop());
