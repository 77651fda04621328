import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { NextRequest } from 'next/server';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Film } from '../../core/film/film';
import { makeEdit, type StoredEdit } from '../../core/film/history';
import { mediumFile, mediumFolder } from '../../server/base/data-folder';
import { getWorkshop, reopenWorkshop } from '../../server/workshop/workshop';
import * as exportRoute from './exports/[export]/route';
import * as carryRoute from './films/[film]/carry/route';
import * as editsRoute from './films/[film]/edits/route';
import * as exportsRoute from './films/[film]/exports/route';
import * as jobsRoute from './films/[film]/jobs/route';
import * as coverageRoute from './films/[film]/mattes/[matte]/[frame]/route';
import * as matteRoute from './films/[film]/mattes/[matte]/route';
import * as mediaRoute from './films/[film]/media/route';
import * as pairsRoute from './films/[film]/pairs/route';
import * as filmRoute from './films/[film]/route';
import * as filmsRoute from './films/route';
import * as foundRoute from './found/route';
import * as healthRoute from './health/route';
import * as jobRoute from './jobs/[job]/route';
import * as fileRoute from './media/[medium]/[file]/route';
import * as mediumRoute from './media/[medium]/route';

type Route = (request: NextRequest, context: { params: Promise<never> }) => Promise<Response>;
interface Answer<T> {
  readonly status: number;
  readonly headers: Headers;
  readonly body: T;
}

const HOST = '127.0.0.1:4310';
const folder = mkdtempSync(join(tmpdir(), 'irimi-routes-'));

interface Asked {
  readonly method?: string;
  readonly params?: Readonly<Record<string, string>>;
  readonly query?: string;
  readonly body?: unknown;
  readonly headers?: Readonly<Record<string, string>>;
}

/** Asks a route as a page of this program would. */
async function ask<T = { message: string }>(
  route: unknown,
  { method = 'GET', params = {}, query = '', body, headers = {} }: Asked = {},
): Promise<Answer<T>> {
  const raw = body instanceof Uint8Array ? new Uint8Array(body) : undefined;
  const request = new NextRequest(`http://${HOST}/api${query}`, {
    method,
    headers: { host: HOST, origin: `http://${HOST}`, 'content-type': 'application/json', ...headers },
    ...(body === undefined ? {} : { body: raw ?? (typeof body === 'string' ? body : JSON.stringify(body)) }),
  });
  const answer = await (route as Route)(request, { params: Promise.resolve(params as never) });
  const type = answer.headers.get('content-type') ?? '';
  const read = type.includes('json') ? ((await answer.json()) as T) : (new Uint8Array(await answer.arrayBuffer()) as T);
  return { status: answer.status, headers: answer.headers, body: read };
}

let filmId: string;
beforeAll(async () => {
  process.env.IRIMI_DATA = join(folder, 'data');
  process.env.IRIMI_ROOT = process.cwd();
  const made = await ask<{ id: string }>(filmsRoute.POST, { method: 'POST', body: { name: 'Rushes' } });
  expect(made.status).toBe(201);
  filmId = made.body.id;
});
afterAll(async () => {
  await (await getWorkshop()).db.destroy();
  rmSync(folder, { recursive: true, force: true });
});

const film = async (): Promise<{ film: Film; revision: number; edits: StoredEdit[] }> =>
  (await ask<{ film: Film; revision: number; edits: StoredEdit[] }>(filmRoute.GET, { params: { film: filmId } })).body;

describe('films', () => {
  it('are made with usual settings, listed and opened', async () => {
    const list = await ask<{ id: string; name: string }[]>(filmsRoute.GET);
    expect(list.body).toMatchObject([{ id: filmId, name: 'Rushes' }]);
    expect((await film()).film).toMatchObject({ name: 'Rushes', width: 1280, height: 720, rate: { numerator: 24, denominator: 1 } });
    expect(await ask(filmRoute.GET, { params: { film: 'none' } })).toMatchObject({ status: 404 });
    expect(await ask(filmsRoute.POST, { method: 'POST', body: { name: 'Wide', width: 9000 } })).toMatchObject({ status: 400 });
    expect(await ask(healthRoute.GET)).toMatchObject({ status: 200, body: { ok: true } });
  });

  it('take edits in order, know one that comes twice, and refuse one that another has overtaken', async () => {
    const { film: before, revision } = await film();
    const { edit } = makeEdit(before, 'Named it', (d) => void (d.name = 'Dusk'))!;
    const send = (body: object): Promise<Answer<{ revision: number; message: string }>> =>
      ask(editsRoute.POST, { method: 'POST', params: { film: filmId }, body, headers: { 'x-irimi-window': 'here' } });
    expect(await send({ base: revision, edit, id: 'one' })).toMatchObject({ status: 200, body: { revision: revision + 1 } });
    expect(await send({ base: revision, edit, id: 'one' })).toMatchObject({ status: 200, body: { revision: revision + 1 } });
    const late = makeEdit(before, 'Named it otherwise', (d) => void (d.name = 'Dawn'))!.edit;
    expect(await send({ base: revision, edit: late, id: 'two' })).toMatchObject({ status: 409 });
    const now = await film();
    expect([now.film.name, now.edits.at(-1)!.window]).toEqual(['Dusk', 'here']);
  });
});

describe('a request', () => {
  it.each([
    ['another site', { headers: { origin: 'http://elsewhere.test' } }, 403],
    ['no page at all', { headers: { origin: '' } }, 403],
    ['a page by another name', { headers: { host: 'films.test' } }, 403],
    ['what is no JSON', { body: '{"name":' }, 400],
    ['JSON of another type', { headers: { 'content-type': 'text/plain' } }, 400],
    ['fields that nobody knows', { body: { name: 'x', colour: 'red' } }, 400],
  ])('from or with %s is refused, in a sentence', async (_, asked, status) => {
    const answer = await ask(filmsRoute.POST, { method: 'POST', body: { name: 'x' }, ...asked });
    expect(answer.status).toBe(status);
    expect(answer.body.message).toMatch(/[a-z].*\.$/i);
  });

  it('for what is not there is answered so', async () => {
    const params = { film: filmId, matte: 'none', frame: '0', job: 'none', medium: 'none', file: 'proxy.webm', export: 'none' };
    const gone = [
      [carryRoute.POST, { method: 'POST', body: { matteId: 'none', from: 0, to: 1 } }],
      [coverageRoute.PUT, { method: 'PUT', query: '?width=2&height=2&madeFrom=x', body: new Uint8Array(4) }],
      [mediumRoute.DELETE, { method: 'DELETE' }],
      [fileRoute.GET, {}],
      [exportRoute.GET, {}],
      [exportsRoute.POST, { method: 'POST', body: { format: 'webm', joinId: 'none', handles: 0 } }],
    ] as const;
    for (const [route, asked] of gone) expect((await ask(route, { params, ...asked })).status, String(route)).toBe(404);
    expect(await ask(coverageRoute.GET, { params })).toMatchObject({ status: 204 });
    expect(await ask(matteRoute.GET, { params })).toMatchObject({ status: 200, body: [] });
    expect(await ask(jobRoute.DELETE, { method: 'DELETE', params })).toMatchObject({ status: 200 });
  });

  it('for jobs, media, exports and found files lists what there is', async () => {
    const params = { film: filmId };
    for (const route of [jobsRoute.GET, mediaRoute.GET, exportsRoute.GET, foundRoute.GET])
      expect(await ask(route, { params })).toMatchObject({ status: 200, body: [] });
    expect(await ask(jobsRoute.DELETE, { method: 'DELETE', params, query: '?kind=paint' })).toMatchObject({ status: 400 });
    expect(await ask(pairsRoute.GET, { params, query: '?order=[' })).toMatchObject({ status: 400 });
    expect(await ask(exportsRoute.POST, { method: 'POST', params, body: { format: 'webm' } })).toMatchObject({ status: 400 });
  });
});

describe('a file of a medium', () => {
  const get = (range?: string): Promise<Answer<Uint8Array>> =>
    ask(fileRoute.GET, { params: { medium: 'm', file: 'sound.s16' }, ...(range === undefined ? {} : { headers: { range } }) });
  beforeAll(() => {
    mkdirSync(mediumFolder('m'), { recursive: true });
    writeFileSync(
      mediumFile('m', 'sound.s16'),
      Uint8Array.from({ length: 10 }, (_, i) => i),
    );
    writeFileSync(mediumFile('m', 'original'), 'secret');
  });

  it.each([
    [undefined, 200, [0, 1, 2, 3, 4, 5, 6, 7, 8, 9], null],
    ['bytes=2-4', 206, [2, 3, 4], 'bytes 2-4/10'],
    ['bytes=8-', 206, [8, 9], 'bytes 8-9/10'],
    ['bytes=-3', 206, [7, 8, 9], 'bytes 7-9/10'],
    ['bytes=8-99', 206, [8, 9], 'bytes 8-9/10'],
  ])('is served for the range %s', async (range, status, bytes, told) => {
    const answer = await get(range);
    expect([answer.status, [...answer.body], answer.headers.get('content-range')]).toEqual([status, bytes, told]);
  });

  it('ends at its end, and no other file is served', async () => {
    expect((await get('bytes=10-')).status).toBe(416);
    for (const file of ['original', '../../irimi.sqlite', 'about.json'])
      expect((await ask(fileRoute.GET, { params: { medium: 'm', file } })).status).toBe(404);
  });
});

it('a database that is opened anew holds what was stored', async () => {
  await reopenWorkshop();
  expect((await film()).film.name).toBe('Dusk');
});
