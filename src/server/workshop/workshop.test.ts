import { execFile, execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';
import Database from 'better-sqlite3';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { createFilm } from '../../core/film/film';
import { makeEdit } from '../../core/film/history';
import { takeOffShelf } from '../../core/film/edits/shelf';
import { rational } from '../../core/geometry/rational';
import { dataFolder, exportsFolder, incomingFolder, mediaFolder, mediumFile, uploadsFolder } from '../base/data-folder';
import { lockDataFolder, openDataDb } from '../database/db';
import { troubleOf } from '../base/errors';
import { storeEdit } from '../films/film-edits';
import { addFilm } from '../films/films';
import type { FoundThing } from '../../core/film/media-facts';
import { listFound, moveAside, takeInFound } from './found';
import { copyMedium, listMedia } from '../media/media';
import { sweepDataFolder } from './sweep';
import { openTestWorkplace, type TestWorkplace } from '../database/test-workplace';
import { getWorkshop, reopenWorkshop } from './workshop';

let place: TestWorkplace;
beforeEach(async () => {
  place = await openTestWorkplace();
});
afterEach(async () => {
  await reopenWorkshop();
  await place.close();
});

const database = (): string => join(dataFolder(), 'irimi.sqlite');
/** What the user is told when the data folder is opened as it is. */
const told = (): Promise<string> =>
  getWorkshop().then(
    () => 'opened',
    (error: unknown) => troubleOf(error, 'DATA')?.message ?? (error as Error).message,
  );

it('puts every acknowledged change on the disk before it is acknowledged', async () => {
  const { db } = await getWorkshop();
  expect(await db.raw('PRAGMA synchronous')).toEqual([{ synchronous: 2 }]);
  expect(await db.raw('PRAGMA journal_mode')).toEqual([{ journal_mode: 'wal' }]);
});

describe('a data folder in trouble', () => {
  it('that is damaged is said so, and opens again once it is mended, without a restart', async () => {
    mkdirSync(dataFolder(), { recursive: true });
    writeFileSync(database(), 'this is no database, but long enough to be read as the head of one'.repeat(100));
    expect(await told()).toMatch(/^The database in DATA is damaged/);
    writeFileSync(database(), '');
    expect(await told()).toBe('opened');
  });

  it('made by a newer version is said so', async () => {
    await (await getWorkshop()).db('knex_migrations').insert({ name: '999-from-the-future', batch: 9 });
    await reopenWorkshop();
    expect(await told()).toMatch(/^The data folder DATA was made by a newer Irimi/);
  });

  it('held by another program is said so', async () => {
    await getWorkshop();
    await reopenWorkshop();
    const other = new Database(database());
    other.exec('PRAGMA locking_mode = EXCLUSIVE; BEGIN EXCLUSIVE');
    expect(await told()).toMatch(/^The database in DATA is held by another program/);
    other.close();
    expect(await told()).toBe('opened');
  }, 30_000);

  it.each([
    ['SQLITE_FULL', /The disk is full/],
    ['ENOSPC', /The disk is full/],
    ['SQLITE_READONLY_DIRECTORY', /cannot be written to/],
    ['EROFS', /cannot be written to/],
    ['SQLITE_IOERR_READ', /cannot be read/],
    ['SQLITE_CONSTRAINT', null],
  ])('with %s is told in one sentence', (code, sentence) => {
    const message = troubleOf(Object.assign(new Error('x'), { code }), 'DATA')?.message ?? null;
    if (sentence === null) expect(message).toBeNull();
    else expect(message).toMatch(sentence);
  });
});

describe('the lock on a data folder', () => {
  it('keeps a second process out, and goes with the first, however that ends', async () => {
    if (!existsSync('dist/cli.mjs')) execFileSync(process.execPath, ['scripts/build.mjs', '--tools']);
    const second = (): Promise<string> =>
      promisify(execFile)(process.execPath, ['dist/cli.mjs', 'try-data'], { env: process.env }).then(
        () => 'opened',
        (error: { stderr: string }) => error.stderr.trim(),
      );
    const unlock = lockDataFolder();
    expect(await second()).toMatch(/^irimi try-data: Another Irimi is at work on .* choose another folder with IRIMI_DATA\.$/);
    unlock();
    expect(await second()).toBe('opened');
  }, 30_000);
});

describe('what a sudden end left behind', () => {
  const put = (path: string): void => {
    mkdirSync(join(path, '..'), { recursive: true });
    writeFileSync(path, 'x');
  };
  const job = (id: string, kind: string, subject: string, state: string, payload: object = {}) => ({
    id,
    kind,
    subject_id: subject,
    state,
    label: 'x',
    added_at: 1,
    payload: JSON.stringify(payload),
  });

  it('is swept away as far as a job’s record names it, and nothing else', async () => {
    const db = await openDataDb();
    const filmId = await addFilm(db, createFilm('Swept', 64, 64, rational(24, 1)));
    const medium = { film_id: filmId, name: 'x', status: 'ready', bytes: 1, added_at: 1 };
    await db('media').insert(['kept', 'hidden', 'gone', 'asked'].map((id) => ({ ...medium, id })));
    await db('exports').insert({ id: 'out', film_id: filmId, name: 'x', format: 'webm', order: '{}', revision: 0, added_at: 1 });
    const jobs = [
      job('j', 'bring in', 'm', 'queued', { file: 'wanted' }),
      job('k', 'bring in', 'm', 'failed', { file: 'done' }),
      job('l', 'ingest', 'kept', 'running'),
      job('o', 'send', 'out', 'done'),
    ];
    await db('jobs').insert(jobs.map((j) => ({ ...j, film_id: filmId })));
    for (const id of ['kept', 'hidden', 'gone', 'asked', 'nobody']) put(mediumFile(id, 'original'));
    for (const id of ['kept', 'nobody']) put(`${mediumFile(id, 'proxy.webm')}.part`);
    for (const name of ['out.webm', 'out.webm.part', 'out.zip.frames/00001.png', 'none.webm', 'none.webm.part'])
      put(join(exportsFolder(), name));
    for (const name of ['wanted', 'wanted.pictures/000000', 'done', 'unknown']) put(join(incomingFolder(), name));
    put(join(uploadsFolder(), 'begun'));
    // one was taken off the shelf just now, others so long ago that no edit tells of it; a recipe asks for one of those
    const base = { ...createFilm('Swept', 64, 64, rational(24, 1)), offShelf: ['gone', 'asked'] };
    await db('films')
      .where({ id: filmId })
      .update({ document: JSON.stringify(base) });
    await db('own_recipes').insert({ id: 'r', document: '{"name":"Mine","layers":[{"mediumId":"asked"}]}', made_at: 1 });
    const { edit } = makeEdit(base, 'Took it off', (d) => takeOffShelf(d, 'hidden'))!;
    await storeEdit(db, filmId, { base: 0, edit });

    await sweepDataFolder(db);
    expect(readdirSync(mediaFolder()).sort()).toEqual(['asked', 'hidden', 'kept', 'nobody']);
    expect(readdirSync(join(mediaFolder(), 'kept'))).toEqual(['original']);
    expect(readdirSync(join(mediaFolder(), 'nobody')).sort()).toEqual(['original', 'proxy.webm.part']);
    expect(readdirSync(exportsFolder()).sort()).toEqual(['none.webm', 'none.webm.part', 'out.webm']);
    expect(readdirSync(incomingFolder()).sort()).toEqual(['unknown', 'wanted']);
    expect(readdirSync(uploadsFolder())).toEqual(['begun']);
    await db.destroy();
  });

  it.each([
    ['emptied', () => writeFileSync(database(), '')],
    ['taken away', () => rmSync(database())],
    [
      'one of another data folder',
      () => {
        const other = new Database(database());
        other.exec('DELETE FROM media; DELETE FROM jobs; DELETE FROM exports; DELETE FROM films');
        other.close();
      },
    ],
  ])('leaves every original and sent file where it is when the database is %s, and tells of them', async (_, lose) => {
    const { db } = await getWorkshop();
    const filmId = await addFilm(db, createFilm('Lost', 64, 64, rational(24, 1)));
    for (let n = 0; n < 19; n++) {
      put(place.file(`take-${n}.mov`));
      await copyMedium(db, filmId, `take-${n}.mov`, place.file(`take-${n}.mov`));
    }
    put(join(exportsFolder(), 'sent.webm'));
    await reopenWorkshop();
    for (const side of ['-wal', '-shm']) rmSync(database() + side, { force: true });
    lose();
    const { db: fresh } = await getWorkshop();
    expect(readdirSync(mediaFolder())).toHaveLength(19);
    const found = await listFound(fresh);
    expect(
      found
        .filter((f) => f.place === 'media')
        .map((f) => f.name)
        .sort(),
    ).toEqual(Array.from({ length: 19 }, (_x, n) => `take-${n}.mov`).sort());
    expect(found.filter((f) => f.place === 'exports').map((f) => f.entry)).toEqual(['sent.webm']);

    // one comes back in under its id, one is moved aside, and no name becomes a path
    const again = await addFilm(fresh, createFilm('Found', 64, 64, rational(24, 1)));
    const [first, second] = found.filter((f) => f.place === 'media') as [FoundThing, FoundThing];
    expect(await takeInFound(fresh, 'media', first.entry, again)).toMatchObject({ id: first.entry, name: first.name });
    expect((await listMedia(fresh, again)).map((m) => [m.id, m.name, m.status])).toEqual([[first.entry, first.name, 'waiting']]);
    const aside = await moveAside(fresh, 'media', second.entry);
    expect(readdirSync(aside)).toContain('original');
    expect(await listFound(fresh)).toHaveLength(18);
    await expect(moveAside(fresh, 'media', '../exports')).rejects.toThrow(/no longer there/);
    await expect(takeInFound(fresh, 'media', first.entry, again)).rejects.toThrow(/a film uses it by now/);
  });

  it('is never made by asking for what is not there', () => {
    mediumFile('nothing', 'proxy.webm');
    expect(readdirSync(mediaFolder())).toEqual([]);
  });
});

it('ends a program that does not come to an end, and says so', async () => {
  const { run } = await import('../base/processes');
  const began = Date.now();
  await expect(run('sleep', ['30'], { seconds: 0.3 })).rejects.toThrow(/did not come to an end within/);
  expect(Date.now() - began).toBeLessThan(5000);
  await expect(run('no-such-program', [], { seconds: 5 })).rejects.toThrow(/no-such-program is not installed/);
});

it('ends its programs when it is killed itself', async () => {
  const script = `import { start } from './src/server/base/processes.ts'; const c = start('sleep', ['47.5'], { seconds: 60 }); console.log('started'); setTimeout(() => {}, 1e6)`;
  const { spawn } = await import('node:child_process');
  const { buildSync } = await import('esbuild');
  buildSync({
    stdin: { contents: script, resolveDir: process.cwd() },
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    outfile: '.run/killed.mjs',
  });
  const parent = spawn(process.execPath, ['.run/killed.mjs'], { stdio: ['ignore', 'pipe', 'inherit'] });
  await new Promise((resolve) => parent.stdout.once('data', resolve));
  const sleeping = (): boolean => {
    try {
      return execFileSync('pgrep', ['-f', 'sleep 47.5'], { encoding: 'utf8' }).trim() !== '';
    } catch {
      return false; // none
    }
  };
  expect(sleeping()).toBe(true);
  parent.kill('SIGKILL');
  for (const since = Date.now(); sleeping() && Date.now() - since < 3000;) await new Promise((r) => setTimeout(r, 50));
  expect(sleeping()).toBe(false);
});
