import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { makeNumberedVideo } from '../fixtures/numbered-video';
import { Server } from '../screens/server';
import { sendFile, UploadedPart } from './sent-file';
import { seeded, times } from './seeded';

let folder: string;
let server: Server;
let filmId: string;
/** What the mattes that are written belong to. */
let mediumId: string;
const random = seeded(118);
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'irimi-kills-'));
  server = await Server.start(join(folder, 'data'));
  const made = await server.send('POST', 'films', { name: 'Killed', width: 160, height: 90 });
  filmId = ((await made.json()) as { id: string }).id;
  const path = join(folder, 'first.mp4');
  await makeNumberedVideo(path, { width: 160, height: 90, frames: 12, rate: '24' });
  await sendFile(server, filmId, path);
  for (let status: string | undefined; status !== 'ready'; await sleep(200)) {
    const [medium] = await new UploadedPart(server, filmId, path).shelf();
    mediumId = medium?.id ?? '';
    status = medium?.status;
  }
});
afterAll(async () => {
  await server?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const killed = async (): Promise<void> => {
  const { port } = server;
  await server.stop('SIGKILL');
  server = await Server.start(join(folder, 'data'), port);
};
interface Opened {
  readonly revision: number;
  readonly film: { readonly mattes: readonly { readonly id: string }[] };
}
const opened = async (): Promise<Opened> => (await (await fetch(`${server.url}/api/films/${filmId}`)).json()) as Opened;
const processesOn = (what: string): string[] => {
  try {
    return execFileSync('pgrep', ['-f', what], { encoding: 'utf8' }).trim().split('\n');
  } catch {
    return []; // pgrep ends with 1 where there is none
  }
};

it('loses no acknowledged edit, however often it is killed in the middle of them', async () => {
  const acknowledged = new Set<string>();
  const edit = async (base: number, n: number): Promise<number | null> => {
    const id = `matte-${n}`;
    const value = { id, mediumId, name: id, outline: { closed: false, keys: [] } };
    const patches = [{ op: 'add', path: ['mattes', base], value }];
    const inverse = [{ op: 'remove', path: ['mattes', base] }];
    const body = { base, id: `edit-${n}`, edit: { name: id, kind: 'edit', target: null, patches, inverse } };
    try {
      const answer = await server.send('POST', `films/${filmId}/edits`, body);
      const { revision } = (await answer.json()) as { revision: number };
      if (answer.ok) acknowledged.add(id);
      return answer.ok ? revision : null;
    } catch {
      return null; // it was killed before it had answered
    }
  };
  let n = 0;
  for (let kill = 0; kill < times(10, 200); kill++) {
    const { revision } = await opened();
    const dies = new Promise((resolve) => setTimeout(resolve, 20 + random(400))).then(killed);
    for (let base: number | null = revision; base !== null;) base = await edit(base, ++n);
    await dies;
    const { film, revision: now } = await opened();
    const there = new Set(film.mattes.map((m) => m.id));
    expect([...acknowledged].filter((id) => !there.has(id))).toEqual([]);
    expect(now).toBe(film.mattes.length);
  }
  expect(acknowledged.size).toBeGreaterThan(times(10, 200));
}, 600_000);

it('goes on with a file on its way where it was, after it was killed', async () => {
  const path = join(folder, 'numbered.mp4');
  await makeNumberedVideo(path, { width: 160, height: 90, frames: 48, rate: '24' });
  const part = new UploadedPart(server, filmId, path);
  await part.begin();
  await part.send(0.4);
  await killed();
  expect(await part.arrived()).toBeGreaterThan(0);
  await part.send(1);
  await expect
    .poll(async () => (await part.shelf()).find((m) => m.name === 'numbered.mp4')?.status, { timeout: 20_000, interval: 200 })
    .toBe('ready');
  expect(readdirSync(join(folder, 'data/uploads'))).toEqual([]);
}, 60_000);

it('leaves no program behind, and prepares a medium again that it was killed with', async () => {
  const path = join(folder, 'long.mkv');
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    'testsrc2=size=1920x1080:rate=25',
    '-frames:v',
    '150',
    '-c:v',
    'ffv1',
    path,
  ]);
  await sendFile(server, filmId, path);
  await expect.poll(() => processesOn('proxy.webm.part').length, { timeout: 20_000, interval: 20 }).toBeGreaterThan(0);
  const { port } = server;
  await server.stop('SIGKILL');
  await expect.poll(() => processesOn('proxy.webm.part'), { timeout: 3000 }).toEqual([]);
  server = await Server.start(join(folder, 'data'), port);
  const status = async (): Promise<string | undefined> =>
    (await new UploadedPart(server, filmId, path).shelf()).find((m) => m.name === 'long.mkv')?.status;
  await expect.poll(status, { timeout: 60_000, interval: 300 }).toBe('ready');
}, 120_000);

it('keeps the document right with two that write at once', async () => {
  const before = (await opened()).revision;
  const write = async (who: string, count: number): Promise<void> => {
    for (let i = 0; i < count; i++) {
      for (let stored = false; !stored;) {
        const { film, revision } = await opened();
        const id = `${who}-${i}`;
        const value = { id, mediumId, name: id, outline: { closed: false, keys: [] } };
        const patches = [{ op: 'add', path: ['mattes', film.mattes.length], value }];
        const body = { base: revision, id: `${id}-${revision}`, edit: { name: id, kind: 'edit', target: null, patches, inverse: [] } };
        stored = (await server.send('POST', `films/${filmId}/edits`, body, { 'x-irimi-window': who })).ok;
      }
    }
  };
  const each = times(25, 75);
  await Promise.all([write('one', each), write('two', each)]);
  const { film, revision } = await opened();
  expect(revision).toBe(before + 2 * each);
  expect(new Set(film.mattes.map((m) => m.id)).size).toBe(film.mattes.length);
}, 120_000);
