import { createHash } from 'node:crypto';
import { readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Knex } from 'knex';
import type { PairOrder, PairSpan } from '../../core/film/job';
import type { FoundPairs } from '../../core/pair/find-pairs';
import { SIGNS_WIDTH } from '../../core/pair/frame-signs';
import { MATCH_PARTS } from '../../core/pair/match-map';
import { copyImage } from '../../core/image/image';
import { readyMedium, type Progress } from './analysis';
import { AnalysisFrames } from '../video/analysis-frames';
import { AnalysisWorker } from './analysis-worker';
import { pairsFolder } from '../base/data-folder';
import { AppError } from '../base/errors';
import { listMedia, pictureFileOf } from '../media/media';

/** Goes up when what is found changes, so that what an older version found is not taken for it. */
const VERSION = 1;

/** What an order is known by: the same shots compared the same way are found once. */
export const pairKey = (order: PairOrder): string =>
  createHash('sha256')
    .update(JSON.stringify([VERSION, order.a, order.b]))
    .digest('hex')
    .slice(0, 32);

const fileOf = (key: string): string => join(pairsFolder(), `${key}.json`);

/** What was found as text: the parts of the map as base64. */
export type SentPairs = Omit<FoundPairs, 'map'> & {
  readonly map: Omit<FoundPairs['map'], 'parts'> & { readonly parts: Readonly<Record<string, string>> };
};

/** What comparing came to, as it is stored; null while that has not been done. */
export async function loadPairs(key: string): Promise<string | null> {
  try {
    return await readFile(fileOf(key), 'utf8');
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
    throw error;
  }
}

/** Compares two shots and stores what that came to; what is known already is not looked for again. */
export async function runPair(db: Knex, filmId: string, order: PairOrder, signal: AbortSignal, onProgress: Progress): Promise<void> {
  const key = pairKey(order);
  if ((await loadPairs(key)) !== null) return;
  const shelf = await listMedia(db, filmId);
  const worker = new AnalysisWorker(signal);
  try {
    await worker.ask({ kind: 'begin pairing' });
    const all = order.a.count + order.b.count;
    let done = 0;
    const look = async (side: 'a' | 'b', span: PairSpan): Promise<void> => {
      const medium = readyMedium(shelf, span.mediumId);
      const height = Math.max(16, Math.round((SIGNS_WIDTH * medium.height) / medium.width));
      const frames = new AnalysisFrames(await pictureFileOf(db, span.mediumId), SIGNS_WIDTH, height);
      try {
        for (let i = 0; i < span.count; i++) {
          const picture = copyImage(await frames.frame(span.first + i * span.step));
          await worker.ask({ kind: 'sign', side, picture });
          onProgress((0.3 * ++done) / all);
        }
      } finally {
        frames.close();
      }
    };
    await look('a', order.a);
    await look('b', order.b);
    for (;;) {
      const reply = await worker.ask({ kind: 'pair' });
      if (reply.kind === 'pairing') onProgress(0.3 + 0.7 * reply.share);
      else if (reply.kind === 'paired') return await store(key, reply.found);
      else throw new AppError('bad-request', 'The comparison answered something else.');
    }
  } finally {
    await worker.close();
  }
}

async function store(key: string, { map, ...rest }: FoundPairs): Promise<void> {
  const parts = Object.fromEntries(MATCH_PARTS.map((p) => [p, Buffer.from(map.parts[p]).toString('base64')]));
  const sent: SentPairs = { ...rest, map: { ...map, parts } };
  const path = fileOf(key);
  await writeFile(`${path}.part`, JSON.stringify(sent));
  await rename(`${path}.part`, path);
}
