import type { Knex } from 'knex';
import type { BringInOrder, CarryOrder, FindEdgeOrder, FollowOrder, PairOrder, SmoothOrder } from '../../core/film/job';
import { runFindEdge, runFollow } from '../work/analysis';
import { forgetMatteFile, runBringIn } from '../work/bring-in-matte';
import { runCarry } from '../work/carry-matte';
import { lockDataFolder, openDataDb } from '../database/db';
import { forgetOrder, runExport } from '../exports/exports';
import { JobQueue } from './jobs';
import { tellFilm } from '../base/events';
import { runPair } from '../work/find-pairs';
import { runFindBeats } from '../work/find-beats';
import { addSound, ingestMedium, mediaWithoutSound } from '../media/ingest';
import { giveUpMedium, noteMedia } from '../media/media';
import { runSmooth } from '../work/smooth-matte';
import { sweepDataFolder } from './sweep';

/** The database and the job queue of this process. */
export interface Workshop {
  readonly db: Knex;
  readonly jobs: JobQueue;
  close(): Promise<void>;
}

const shared = globalThis as { irimiWorkshop?: Promise<Workshop> };

async function openWorkshop(): Promise<Workshop> {
  const unlock = lockDataFolder();
  let db: Knex | null = null;
  try {
    db = await openDataDb();
    await sweepDataFolder(db);
    await noteMedia(db);
    const jobs = queueOf(db);
    await jobs.resume();
    await addMissingSounds(db, jobs);
    const opened = db;
    return {
      db,
      jobs,
      async close() {
        await opened.destroy();
        unlock();
      },
    };
  } catch (error) {
    await db?.destroy();
    unlock();
    throw error;
  }
}

/** Sounds of media that were brought in by a version that did not keep them. */
async function addMissingSounds(db: Knex, jobs: JobQueue): Promise<void> {
  for (const { id, filmId, name } of await mediaWithoutSound(db))
    if (!(await jobs.isWaiting('sound', id))) await jobs.add({ filmId, kind: 'sound', subjectId: id, label: `Sound of ${name}` });
}

function queueOf(db: Knex): JobQueue {
  return new JobQueue(
    db,
    {
      ingest: ({ subjectId, filmId }, signal, onProgress) =>
        ingestMedium(db, subjectId, signal, onProgress, () => tellFilm(filmId, { kind: 'media' })),
      send: ({ subjectId }, signal, onProgress) => runExport(db, subjectId, signal, onProgress),
      carry: ({ id, filmId, asked, order }, signal, onProgress) =>
        runCarry(db, filmId, order as CarryOrder, signal, onProgress, { editId: id, asked }),
      smooth: ({ id, filmId, asked, order }, signal, onProgress) =>
        runSmooth(db, filmId, order as SmoothOrder, signal, onProgress, { editId: id, asked }),
      follow: ({ filmId, asked, order }, signal, onProgress) => runFollow(db, filmId, order as FollowOrder, signal, onProgress, asked),
      'find edge': ({ filmId, asked, order }, signal, onProgress) =>
        runFindEdge(db, filmId, order as FindEdgeOrder, signal, onProgress, asked),
      sound: ({ subjectId }, signal, onProgress) => addSound(db, subjectId, signal, onProgress),
      'find beats': ({ filmId, subjectId, asked }, signal, onProgress) => runFindBeats(db, filmId, subjectId, signal, onProgress, asked),
      pair: ({ filmId, order }, signal, onProgress) => runPair(db, filmId, order as PairOrder, signal, onProgress),
      'bring in': ({ id, filmId, asked, order }, signal, onProgress) =>
        runBringIn(db, filmId, order as BringInOrder, signal, onProgress, { editId: id, asked }),
    },
    async ({ kind, subjectId, order }, why) => {
      if (kind === 'ingest') await giveUpMedium(db, subjectId, why);
      if (kind === 'send') await forgetOrder(db, subjectId);
      if (kind === 'bring in') await forgetMatteFile(order as BringInOrder);
    },
  );
}

/** Opened once; where that fails, the next call tries again. @throws Error as the disk or the database has it */
export function getWorkshop(): Promise<Workshop> {
  shared.irimiWorkshop ??= openWorkshop().catch((error: unknown) => {
    delete shared.irimiWorkshop;
    throw error;
  });
  return shared.irimiWorkshop;
}

/** Closes what the disk or the database no longer serves well, so that the next call opens it as it is by then. */
export async function reopenWorkshop(): Promise<void> {
  const opened = shared.irimiWorkshop;
  delete shared.irimiWorkshop;
  await opened?.then((w) => w.close()).catch(() => undefined); // what is broken may not close either; it is left alone then
}
