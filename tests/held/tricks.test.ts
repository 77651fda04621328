import { mkdtempSync, rmSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { Server } from '../screens/server';

/** Requests that no page would make: each is refused in a sentence, and nothing of the film is changed by it. */

let folder: string;
let server: Server;
let filmId: string;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'irimi-tricks-'));
  server = await Server.start(join(folder, 'data'));
  filmId = ((await (await server.send('POST', 'films', { name: 'Tricked', width: 320, height: 180 })).json()) as { id: string }).id;
});
afterAll(async () => {
  await server?.stop();
  rmSync(folder, { recursive: true, force: true });
});

interface Trick {
  readonly method?: string;
  readonly path: string;
  readonly body?: unknown;
  readonly headers?: Readonly<Record<string, string>>;
}

const edit = (patches: unknown, more: object = {}): Trick => ({
  path: 'films/FILM/edits',
  body: { base: 0, id: 'trick', edit: { name: 'Trick', kind: 'edit', target: null, patches, inverse: [], ...more } },
});
const replace = (path: readonly unknown[], value: unknown): Trick => edit([{ op: 'replace', path, value }]);
const add = (list: string, value: unknown): Trick => edit([{ op: 'add', path: [list, 0], value }]);
const shot = (own: object): object => ({ id: 's', mediumId: 'none', name: 's', inFrame: 0, length: 10, ...own });
const deep = (levels: number): unknown => JSON.parse('['.repeat(levels) + ']'.repeat(levels)) as unknown;

const TRICKS: Readonly<Record<string, Trick>> = {
  'a body that is no JSON': { path: 'films', body: '{"name":' },
  'an empty body': { path: 'films', body: '' },
  'a list for a film': { path: 'films', body: [] },
  'null for a film': { path: 'films', body: 'null' },
  'a film without a name': { path: 'films', body: { width: 100, height: 100 } },
  'a name of spaces': { path: 'films', body: { name: '   ', width: 100, height: 100 } },
  'a name of a megabyte': { path: 'films', body: { name: 'x'.repeat(1 << 20), width: 100, height: 100 } },
  'a width of zero': { path: 'films', body: { name: 'a', width: 0, height: 100 } },
  'a width below zero': { path: 'films', body: { name: 'a', width: -1, height: 100 } },
  'a width of 1e9': { path: 'films', body: { name: 'a', width: 1e9, height: 100 } },
  'a width as text': { path: 'films', body: { name: 'a', width: 'wide', height: 100 } },
  'a width that is no number': { path: 'films', body: '{"name":"a","width":NaN,"height":100}' },
  'half a pixel': { path: 'films', body: { name: 'a', width: 100.5, height: 100 } },
  'a rate of nothing': { path: 'films', body: { name: 'a', width: 100, height: 100, rate: { numerator: 0, denominator: 1 } } },
  'a rate over nothing': { path: 'films', body: { name: 'a', width: 100, height: 100, rate: { numerator: 24, denominator: 0 } } },
  'a field of its own': { path: 'films', body: { name: 'a', width: 100, height: 100, admin: true } },
  'a film of a thousand levels': { path: 'films', body: { name: deep(1000), width: 100, height: 100 } },
  'a method that is none': { method: 'PATCH', path: 'films' },
  'a film that is not there': { method: 'GET', path: 'films/00000000-0000-4000-8000-000000000000' },
  'a film above the folder': { method: 'GET', path: 'films/..%2f..%2fetc%2fpasswd' },
  'a film with a null byte': { method: 'GET', path: 'films/a%00b' },
  'a film by a very long name': { method: 'GET', path: `films/${'a'.repeat(5000)}` },
  'a film called __proto__': { method: 'GET', path: 'films/__proto__' },
  'a medium above the folder': { method: 'GET', path: 'media/..%2f..%2f/proxy.webm' },
  'a file above the medium': { method: 'GET', path: 'media/a/..%2f..%2firimi.db' },
  'a file that no medium has': { method: 'GET', path: 'media/a/original' },
  'an export that is not there': { method: 'DELETE', path: 'exports/none' },
  'a medium that is not there': { method: 'DELETE', path: 'media/none' },
  'a recipe that is none': { path: 'recipes', body: { format: 'irimi recipe', version: 99 } },
  'an edit without patches': { path: 'films/FILM/edits', body: { base: 0, id: 'a', edit: { name: 'a' } } },
  'patches that are no list': edit('all'),
  'a patch that is none': edit([42]),
  'a patch of another kind': edit([{ op: 'move', path: ['name'], value: 'a' }]),
  'a path as text': edit([{ op: 'replace', path: 'name', value: 'a' }]),
  'a path into the prototype': replace(['__proto__', 'polluted'], true),
  'a path into the constructor': replace(['constructor', 'prototype', 'polluted'], true),
  'a path to nowhere': replace(['shots', 0, 'length'], 5),
  'a place beyond the list': edit([{ op: 'add', path: ['shots', 1e9], value: shot({}) }]),
  'a place below the list': edit([{ op: 'add', path: ['shots', -1], value: shot({}) }]),
  'a list made a billion long': replace(['shots', 'length'], 1e9),
  'the name away': edit([{ op: 'remove', path: ['name'] }]),
  'the whole film replaced': replace([], { name: 'mine' }),
  'another version of the film': replace(['schemaVersion'], 99),
  'a field that films have not': edit([{ op: 'add', path: ['secret'], value: 1 }]),
  'a shot of a medium that is not there': add('shots', shot({})),
  'a shot of no frames': add('shots', shot({ length: 0 })),
  'a shot of 1e12 frames': add('shots', shot({ length: 1e12 })),
  'a matte of a medium that is not there': add('mattes', { id: 'm', mediumId: 'x', name: 'm', outline: { closed: false, keys: [] } }),
  'a join of shots that are not there': add('joins', { id: 'j', name: 'j', leavingShotId: 'a', enteringShotId: 'b', before: 0, after: 0, layers: [], carriers: [], finish: [] }), // prettier-ignore
  'a step back to what never was': edit([], { kind: 'undo', target: 77 }),
  'a step on to what never was': edit([], { kind: 'redo', target: 77 }),
  'an edit from the future': { path: 'films/FILM/edits', body: { base: 1e6, id: 'f', edit: { name: 'a', kind: 'edit', target: null, patches: [{ op: 'replace', path: ['name'], value: 'b' }], inverse: [] } } }, // prettier-ignore
  'an edit at a revision of half': { path: 'films/FILM/edits', body: { base: 0.5, id: 'f', edit: { name: 'a', kind: 'edit', target: null, patches: [], inverse: [] } } }, // prettier-ignore
  'a carry of no matte': { path: 'films/FILM/carry', body: { matteId: 'none', from: 0, to: 10 } },
  'an edge of no matte': { path: 'films/FILM/find-edge', body: { matteId: 'none', first: 0, last: 10 } },
  'a track that is not there': { path: 'films/FILM/follow', body: { trackId: 'none', first: 0, last: 10 } },
  'an export of a join that is not there': { path: 'films/FILM/exports', body: { format: 'webm', joinId: 'none', handles: 0 } },
  'an export with 1e9 handles': { path: 'films/FILM/exports', body: { format: 'webm', joinId: null, handles: 1e9 } },
  'an export in no format': { path: 'films/FILM/exports', body: { format: 'exe', joinId: null, handles: 0 } },
  'an upload of no length': { path: 'films/FILM/uploads', body: '', headers: { 'tus-resumable': '1.0.0' } },
  'an upload of a negative length': { path: 'films/FILM/uploads', body: '', headers: { 'tus-resumable': '1.0.0', 'upload-length': '-5' } },
  'another site’s page': { path: 'films', body: { name: 'a', width: 100, height: 100 }, headers: { origin: 'http://elsewhere.example' } },
};

const stored = async (): Promise<unknown> => (await fetch(`${server.url}/api/films/${filmId}`)).json();

it(`refuses ${Object.keys(TRICKS).length} tricks in a sentence, and nothing is changed`, async () => {
  const before = await stored();
  const answers: [string, number, boolean][] = [];
  for (const [name, { method = 'POST', path, body = null, headers = {} }] of Object.entries(TRICKS)) {
    const answer = await fetch(`${server.url}/api/${path.replace('FILM', filmId)}`, {
      method,
      headers: { origin: server.url, 'content-type': 'application/json', ...headers },
      ...(method === 'GET' || body === null ? {} : { body: typeof body === 'string' ? body : JSON.stringify(body) }),
    });
    const text = await answer.text();
    // no stack, no path of this machine, no raw page of an error
    const isPlain = text.length < 600 && !/\bat .*:\d+:\d+|\/tmp\/|node_modules|<html/.test(text);
    answers.push([name, answer.status, isPlain]);
  }
  expect(answers.filter(([, status, isPlain]) => status < 400 || status >= 500 || !isPlain)).toEqual([]);
  expect(await stored()).toEqual(before);
  expect(({} as Record<string, unknown>).polluted).toBeUndefined();
}, 60_000);

it('outlives what is no request at all', async () => {
  const sent = [
    'GARBAGE\r\n\r\n',
    'GET / HTTP/9.9\r\n\r\n',
    `GET /${'a'.repeat(100_000)} HTTP/1.1\r\n\r\n`,
    '\0\0\0\0',
    'POST /api/films HTTP/1.1\r\nContent-Length: -1\r\n\r\n',
  ];
  for (const text of sent)
    await new Promise<void>((resolve) => {
      const socket = connect(server.port, '127.0.0.1', () => socket.end(text));
      socket.on('close', () => resolve());
      socket.on('error', () => resolve()); // it may be closed at once
      socket.resume();
    });
  expect((await fetch(`${server.url}/api/health`)).ok).toBe(true);
});
