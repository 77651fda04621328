import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { createFilm } from '../core/film/film';
import { rational } from '../core/geometry/rational';
import { addFilm } from './films';
import { JobQueue, type JobRunner } from './jobs';
import { openTestWorkplace, type TestWorkplace } from './test-workplace';

let place: TestWorkplace;
let filmId: string;
beforeAll(async () => {
  place = await openTestWorkplace();
  filmId = await addFilm(place.db, createFilm('Jobs', 64, 64, rational(24, 1)));
});
afterAll(() => place.close());

const never: JobRunner = (_, signal) =>
  new Promise((_resolve, reject) => signal.addEventListener('abort', () => reject(signal.reason as Error)));
/** The kinds of work a test does not look at. */
const idle = { ingest: never, send: never, carry: never, smooth: never, follow: never, 'find edge': never, 'bring in': never };
const stateOf = async (queue: JobQueue, id: string) => (await queue.list(filmId)).find((j) => j.id === id);
const reaches = (queue: JobQueue, id: string, state: string): Promise<void> =>
  vi.waitFor(async () => expect((await stateOf(queue, id))?.state).toBe(state));

describe('JobQueue', () => {
  it('runs one job after the other and tells how far it is', async () => {
    const order: string[] = [];
    const queue = new JobQueue(place.db, {
      ...idle,
      ingest: async ({ subjectId: subject }, _signal, onProgress) => {
        order.push(`start ${subject}`);
        onProgress(0.5);
        await new Promise((r) => setTimeout(r, 20));
        order.push(`end ${subject}`);
      },
      send: never,
    });
    await queue.add(filmId, 'ingest', 'one', 'One');
    const second = await queue.add(filmId, 'ingest', 'two', 'Two');
    await reaches(queue, second, 'done');
    expect(order).toEqual(['start one', 'end one', 'start two', 'end two']);
  });

  it('stops a running job and takes out a waiting one', async () => {
    const queue = new JobQueue(place.db, { ...idle, ingest: never, send: never });
    const running = await queue.add(filmId, 'send', 'a', 'A');
    const waiting = await queue.add(filmId, 'send', 'b', 'B');
    await reaches(queue, running, 'running');
    await queue.cancel(waiting);
    await queue.cancel(running);
    await reaches(queue, running, 'cancelled');
    expect(await stateOf(queue, waiting)).toMatchObject({ state: 'cancelled' });
  });

  it('keeps the reason of a failure', async () => {
    const quiet = vi.spyOn(console, 'error').mockImplementation(() => undefined);
    const queue = new JobQueue(place.db, { ...idle, ingest: () => Promise.reject(new Error('the disk is full')), send: never });
    const id = await queue.add(filmId, 'ingest', 'c', 'C');
    await reaches(queue, id, 'failed');
    expect(await stateOf(queue, id)).toMatchObject({ error: 'the disk is full' });
    quiet.mockRestore();
  });

  it('takes up again what a stopped process left behind', async () => {
    await place
      .db('jobs')
      .insert({ id: 'left', film_id: filmId, kind: 'ingest', subject_id: 'x', label: 'Left', state: 'running', error: null, added_at: 1 });
    const done: string[] = [];
    const queue = new JobQueue(place.db, {
      ...idle,
      ingest: ({ subjectId }) => {
        done.push(subjectId);
        return Promise.resolve();
      },
      send: never,
    });
    await queue.resume();
    await reaches(queue, 'left', 'done');
    expect(done).toEqual(['x']);
  });
});
