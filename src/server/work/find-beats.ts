import { join } from 'node:path';
import type { Knex } from 'knex';
import { makeEdit } from '../../core/film/history';
import { setBeats } from '../../core/film/edits/marks';
import { findBeats, type Beats } from '../../core/sound/beats';
import { ONSET_MARGIN, samplesOfOnsets, type Onsets } from '../../core/sound/onsets';
import type { OnsetsTask } from '../../workers/onsets';
import { rootFolder } from '../base/data-folder';
import { AppError } from '../base/errors';
import { listMedia } from '../media/media';
import type { Asked } from '../films/film-edits';
import { editFilm } from '../films/server-edits';
import { streamSound } from '../media/sound-files';
import { workerPool } from '../base/worker-pool';

/** Strengths that are worked out at one time. */
const AT_ONCE = 2000;
/** Samples of a stream of 16-bit pairs that beats are looked for in at most: two hours. */
const MOST_SAMPLES = 2 * 3600 * 48_000;

/**
 * Finds the beats of a sound as it comes, a stretch at a time.
 * @throws AppError 'bad-request' where there are none
 */
export async function beatsOf(
  pairs: AsyncIterable<Int16Array>,
  samples: number,
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
): Promise<Beats> {
  if (samples > MOST_SAMPLES)
    throw new AppError('bad-request', 'Beats can be found in up to two hours of sound. Import the part that is wanted.');
  const step = samplesOfOnsets(AT_ONCE);
  // each stretch is seen with what lies before and after it
  let held = new Float32Array(ONSET_MARGIN);
  const parts: Onsets[] = [];
  let done = 0;
  const take = async (count: number): Promise<void> => {
    const task: OnsetsTask = { sound: held.slice(0, samplesOfOnsets(count) + 2 * ONSET_MARGIN), count };
    parts.push((await workerPool().run(task, { filename: join(rootFolder(), 'dist/onsets.mjs'), signal })) as Onsets);
    held = held.slice(samplesOfOnsets(count));
    done += samplesOfOnsets(count);
    onProgress(Math.min(1, done / Math.max(1, samples)));
  };
  for await (const chunk of pairs) {
    signal.throwIfAborted();
    held = joined(held, chunk);
    while (held.length >= step + 2 * ONSET_MARGIN) await take(AT_ONCE);
  }
  const rest = Math.floor((held.length - ONSET_MARGIN) / samplesOfOnsets(1));
  if (rest > 0) await take(rest);
  const found = findBeats({ all: whole(parts, 'all'), low: whole(parts, 'low'), loud: whole(parts, 'loud') });
  if (found === null)
    throw new AppError('bad-request', 'No beats were found: nothing in this sound repeats evenly. Tap the beats instead.');
  return found;
}

function joined(held: Float32Array, pairs: Int16Array): Float32Array<ArrayBuffer> {
  const out = new Float32Array(held.length + (pairs.length >> 1));
  out.set(held);
  for (let i = 0, o = held.length; o < out.length; i += 2, o++) out[o] = (pairs[i]! + pairs[i + 1]!) / 65_536;
  return out;
}

function whole(parts: readonly Onsets[], field: keyof Onsets): Float32Array {
  const out = new Float32Array(parts.reduce((sum, p) => sum + p[field].length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part[field], at);
    at += part[field].length;
  }
  return out;
}

/** Finds the beats of a medium and stores them as an edit. */
export async function runFindBeats(
  db: Knex,
  filmId: string,
  mediumId: string,
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
  asked: Asked,
): Promise<void> {
  const sound = (await listMedia(db, filmId)).find((m) => m.id === mediumId)?.sound ?? null;
  if (sound === null) throw new AppError('not-found', 'This media has no sound, or it is not ready.');
  const beats = await beatsOf(streamSound(mediumId), sound.samples, signal, onProgress);
  await editFilm(db, filmId, asked, (film) =>
    makeEdit(film, `Found the beats of ${sound.name}`, (draft) => setBeats(draft, { mediumId, ...beats })),
  );
}
