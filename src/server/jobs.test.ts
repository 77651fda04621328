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
const idle = {
  ingest: never,
  send: never,
  carry: never,
  smooth: never,
  follow: never,
  'find edge': never,
  'bring in': never,
  sound: never,
  'find beats': never,
  pair: never,
};
const stateOf = async (queue: JobQueue, id: string) => (await queue.list(filmId)).find((j) => j.id === id);
const reaches = (queue: JobQueue, id: string, state: string): Promise<void> =>
  vi.waitFor(async () => expect((await stateOf(queue, id))?.state).toBe(state));

describe('JobQueue', () => {
  it('runs one job after the other and tells how far it is', async () => {
    const order: string[] = [];
    const queue = new JobQueue(place.db, {
      ...idle,
      carry: async ({ subjectId: subject }, _signal, onProgress) => {
        order.push(`start ${subject}`);
        onProgress(0.5);
        await new Promise((r) => setTimeout(r, 20));
        order.push(`end ${subject}`);
      },
      send: never,
    });
    await queue.add({ filmId, kind: 'carry', subjectId: 'one', label: 'One' });
    const second = await queue.add({ filmId, kind: 'carry', subjectId: 'two', label: 'Two' });
    await reaches(queue, second, 'done');
    expect(order).toEqual(['start one', 'end one', 'start two', 'end two']);
  });

  it('prepares two media at once, small ones first, and lets a carry by', async () => {
    const began: string[] = [];
    const ends = new Map<string, () => void>();
    const wait: JobRunner = ({ subjectId }) => {
      began.push(subjectId);
      return new Promise((resolve) => ends.set(subjectId, resolve));
    };
    const queue = new JobQueue(place.db, { ...idle, ingest: wait, carry: wait });
    for (const [subjectId, cost] of Object.entries({ huge: 9e9, large: 5e8, middling: 3e8, small: 1e6 }))
      await queue.add({ filmId, kind: 'ingest', subjectId, label: subjectId, cost });
    await queue.add({ filmId, kind: 'carry', subjectId: 'carry', label: 'Carry' });
    await vi.waitFor(() => expect(began).toEqual(['huge', 'large', 'carry']));
    ends.get('large')!();
    await vi.waitFor(() => expect(began.at(-1)).toBe('small'));
    ends.get('small')!();
    await vi.waitFor(() => expect(began.at(-1)).toBe('middling'));
    for (const end of ends.values()) end();
  });

  it('sets a job aside that ended the process twice, and says so', async () => {
    const row = { film_id: filmId, kind: 'ingest', label: 'L', state: 'running', error: null, added_at: 2 };
    await place.db('jobs').insert([
      { ...row, id: 'first', subject_id: 'p', attempts: 1 },
      { ...row, id: 'again', subject_id: 'q', attempts: 2 },
    ]);
    const given: string[] = [];
    const ran: string[] = [];
    const runners = { ...idle, ingest: ({ subjectId }: { subjectId: string }) => Promise.resolve(void ran.push(subjectId)) };
    const queue = new JobQueue(place.db, runners, ({ subjectId }) => Promise.resolve(void given.push(subjectId)));
    await queue.resume();
    await reaches(queue, 'first', 'done');
    expect(await stateOf(queue, 'again')).toMatchObject({ state: 'failed', error: expect.stringMatching(/set aside/) as string });
    expect([ran, given]).toEqual([['p'], ['q']]);
  });

  it('gives up what a cancelled job in the queue was for', async () => {
    const given: string[] = [];
    const queue = new JobQueue(place.db, idle, ({ subjectId }, why) => Promise.resolve(void given.push(`${subjectId}: ${why}`)));
    await queue.add({ filmId, kind: 'send', subjectId: 'x', label: 'X' });
    const waiting = await queue.add({ filmId, kind: 'send', subjectId: 'y', label: 'Y' });
    await queue.cancel(waiting);
    expect(given).toEqual(['y: Stopped before it was begun.']);
    await queue.cancelOf('x');
    expect((await queue.list(filmId)).filter((j) => j.subjectId === 'x')[0]!.state).toBe('cancelled');
  });

  it('stops a running job and takes out a waiting one', async () => {
    const queue = new JobQueue(place.db, { ...idle, ingest: never, send: never });
    const running = await queue.add({ filmId, kind: 'send', subjectId: 'a', label: 'A' });
    const waiting = await queue.add({ filmId, kind: 'send', subjectId: 'b', label: 'B' });
    await reaches(queue, running, 'running');
    await queue.cancel(waiting);
    await queue.cancel(running);
    await reaches(queue, running, 'cancelled');
    expect(await stateOf(queue, waiting)).toMatchObject({ state: 'cancelled' });
  });

  it('keeps the reason of a failure', async () => {
    const quiet = vi.spyOn(console, 'error').mockImplementation(() => undefined);
    const queue = new JobQueue(place.db, { ...idle, ingest: () => Promise.reject(new Error('the disk is full')), send: never });
    const id = await queue.add({ filmId, kind: 'ingest', subjectId: 'c', label: 'C' });
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
