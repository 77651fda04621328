import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { createFilm } from '../../core/film/film';
import { rational } from '../../core/geometry/rational';
import { AppError } from '../base/errors';
import { addFilm } from '../films/films';
import { JobQueue, type JobRunner } from './jobs';
import { openTestWorkplace, type TestWorkplace } from '../database/test-workplace';

let place: TestWorkplace;
let filmId: string;
beforeAll(async () => {
  place = await openTestWorkplace();
  filmId = await addFilm(place.db, createFilm('Jobs', 64, 64, rational(24, 1)));
});
afterAll(() => place.close());
afterEach(() => place.db('jobs').delete());

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

  it.each([
    [new AppError('unusable-file', 'This file is empty.'), /^This file is empty\.$/],
    [Object.assign(new Error('write failed'), { code: 'ENOSPC' }), /^The disk is full/],
    [new Error('Error opening filters @ 0x55d0'), /nobody foresaw; the log of the server says which/],
  ])('keeps the reason of a failure, in words for whoever reads them: %s', async (error, words) => {
    const quiet = vi.spyOn(console, 'error').mockImplementation(() => undefined);
    const queue = new JobQueue(place.db, { ...idle, ingest: () => Promise.reject(error), send: never });
    const id = await queue.add({ filmId, kind: 'ingest', subjectId: 'c', label: 'C' });
    await reaches(queue, id, 'failed');
    expect((await stateOf(queue, id))!.error).toMatch(words);
    quiet.mockRestore();
  });

  it('sends a short order out beside a long one, and the shortest first', async () => {
    const began: string[] = [];
    const ends = new Map<string, () => void>();
    const send: JobRunner = ({ subjectId }) => {
      began.push(subjectId);
      return new Promise((resolve) => ends.set(subjectId, resolve));
    };
    const queue = new JobQueue(place.db, { ...idle, send });
    for (const [subjectId, cost] of Object.entries({ film: 9000, longer: 20_000, join: 24, 'long join': 200, 'short join': 12 }))
      await queue.add({ filmId, kind: 'send', subjectId, label: subjectId, cost });
    await vi.waitFor(() => expect(began).toEqual(['film', 'join']));
    ends.get('join')!();
    await vi.waitFor(() => expect(began.at(-1)).toBe('short join'));
    for (const end of ends.values()) end();
  });

  it('stops all of a kind, those that wait too, and nothing else', async () => {
    const queue = new JobQueue(place.db, idle);
    const ids: string[] = [];
    for (const subject of ['a1', 'a2', 'a3']) ids.push(await queue.add({ filmId, kind: 'carry', subjectId: subject, label: subject }));
    const other = await queue.add({ filmId, kind: 'send', subjectId: 'o', label: 'O', cost: 1 });
    await reaches(queue, ids[0]!, 'running');
    await queue.cancelKind(filmId, 'carry');
    for (const id of ids) expect((await stateOf(queue, id))!.state).toBe('cancelled');
    expect((await stateOf(queue, other))!.state).toBe('running');
    await queue.cancel(other);
  });

  it('begins a job after those it waits for, however they end, also after a restart', async () => {
    const ends = new Map<string, () => void>();
    const wait: JobRunner = ({ subjectId }) => new Promise((resolve) => ends.set(subjectId, resolve));
    const sent: string[] = [];
    const send: JobRunner = ({ subjectId }) => Promise.resolve(void sent.push(subjectId));
    const runners = { ...idle, carry: wait, follow: never, send };
    const queue = new JobQueue(place.db, runners);
    const carry = await queue.add({ filmId, kind: 'carry', subjectId: 'first', label: 'Carrying Cart' });
    const follow = await queue.add({ filmId, kind: 'follow', subjectId: 'second', label: 'Following Sign' });
    const order = await queue.add({ filmId, kind: 'send', subjectId: 'film', label: 'F', cost: 1, after: [carry, follow] });
    // one that waits holds up none that does not
    const other = await queue.add({ filmId, kind: 'send', subjectId: 'other', label: 'O', cost: 1 });
    await reaches(queue, other, 'done');
    expect((await stateOf(queue, order))!).toMatchObject({ state: 'queued', waitsFor: expect.any(String) as string });
    ends.get('first')!();
    await reaches(queue, carry, 'done');
    expect((await stateOf(queue, order))!).toMatchObject({ state: 'queued', waitsFor: 'Following Sign' });
    await queue.leave();
    const restarted = new JobQueue(place.db, runners);
    await restarted.resume();
    await reaches(restarted, follow, 'running');
    expect((await stateOf(restarted, order))!.state).toBe('queued');
    await restarted.cancel(follow);
    await reaches(restarted, order, 'done');
    expect(sent).toEqual(['other', 'film']);
  });

  it('lists whatever runs or waits, however many have ended since', async () => {
    const queue = new JobQueue(place.db, idle);
    const running = await queue.add({ filmId, kind: 'pair', subjectId: 'long', label: 'Long' });
    await reaches(queue, running, 'running');
    const ended = { film_id: filmId, kind: 'carry', label: 'E', state: 'done', error: null, added_at: Date.now() + 1000 };
    await place.db('jobs').insert(Array.from({ length: 60 }, (_, n) => ({ ...ended, id: `ended-${n}`, subject_id: 'e' })));
    const list = await queue.list(filmId);
    expect(list.some((j) => j.id === running)).toBe(true);
    expect(list.filter((j) => j.state === 'done').length).toBe(30);
    await queue.cancel(running);
    await place.db('jobs').where({ subject_id: 'e' }).delete();
  });

  it('is never all done before it has ended', async () => {
    let end = (): void => undefined;
    const carry: JobRunner = (_job, _signal, onProgress) => {
      onProgress(1);
      return new Promise((resolve) => (end = resolve));
    };
    const queue = new JobQueue(place.db, { ...idle, carry });
    const id = await queue.add({ filmId, kind: 'carry', subjectId: 'p', label: 'P' });
    await vi.waitFor(async () => expect((await stateOf(queue, id))!.progress).toBe(0.99));
    end();
    await reaches(queue, id, 'done');
    expect((await stateOf(queue, id))!.progress).toBe(1);
  });

  it('counts an end in good order not as a sudden one', async () => {
    for (let n = 0; n < 4; n++) {
      let fail = (_: Error): void => undefined;
      const follow: JobRunner = () => new Promise((_, reject) => (fail = reject));
      const queue = new JobQueue(place.db, { ...idle, follow });
      if (n === 0) await queue.add({ filmId, kind: 'follow', subjectId: 'good', label: 'Good' });
      else await queue.resume();
      const id = (await queue.list(filmId)).find((j) => j.subjectId === 'good')!.id;
      await reaches(queue, id, 'running');
      await queue.leave();
      // what it had started ends with the program, and that is no failure
      fail(new Error('killed'));
      await new Promise((resolve) => setTimeout(resolve, 20));
      expect((await stateOf(queue, id))!.state).toBe('queued');
    }
    await place.db('jobs').where({ subject_id: 'good' }).delete();
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
