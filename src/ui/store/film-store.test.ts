import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Film } from '../../core/film/film';
import { followingName, applyEdit, areApart, type Edit, type StoredEdit } from '../../core/film/history';
import { sampleFilm, sampleMedium } from '../../core/film/sample-film';
import { patchesBetween } from '../../core/film/patches';
import { FilmStore } from './film-store';

type Handler = (body: unknown) => { status: number; body: unknown };

/** A film's server in memory, that can be out of reach, lose its answers, and change the film by itself. */
class FakeServer {
  film: Film = sampleFilm([sampleMedium('a', 50), sampleMedium('b', 60)]);
  edits: StoredEdit[] = [];
  reachable = true;
  /** The next edit is stored, and its answer lost. */
  losesAnswer = false;
  refusal: { status: number; message: string } | null = null;
  /** Edits of such names are refused; at such ones the server ends, and is there again at once. */
  refuses: RegExp | null = null;
  endsAt: RegExp | null = null;
  ended = 0;
  readonly asked: string[] = [];
  /** The window that asks. */
  private window: string | null = null;
  /** Answers wait for it. */
  gate: Promise<void> | null = null;
  matteFrames: { frame: number }[] = [];

  get revision(): number {
    return this.edits.length;
  }

  take(edit: Edit, id: string = crypto.randomUUID(), window: string | null = null): void {
    const before = this.film;
    this.film = applyEdit(before, edit);
    this.edits.push({ ...edit, inverse: patchesBetween(this.film, before), id, window, askedAt: null, revision: this.revision + 1 });
  }

  readonly fetch = (url: string, init: { method?: string; body?: string; headers?: Record<string, string> } = {}): Promise<Response> => {
    const what = `${init.method ?? 'GET'} ${url.replace(/^\/api\/films\/f/, '')}`;
    this.asked.push(what);
    if (!this.reachable) return Promise.reject(new TypeError('fetch failed'));
    const handler = this.handlers[what];
    if (handler === undefined) return Promise.resolve(Response.json({ message: `no ${what}` }, { status: 404 }));
    this.window = init.headers?.['x-irimi-window'] ?? null;
    if (what === 'POST /edits' && this.endsAt?.test(init.body ?? '') === true) {
      this.ended++;
      return Promise.reject(new TypeError('connection lost'));
    }
    const { status, body } = handler(init.body === undefined ? null : (JSON.parse(init.body) as unknown));
    if (this.losesAnswer && what === 'POST /edits') {
      this.losesAnswer = false;
      return Promise.reject(new TypeError('connection lost'));
    }
    const answer = Response.json(body, { status });
    return (this.gate ?? Promise.resolve()).then(() => answer);
  };

  private readonly handlers: Record<string, Handler> = {
    'GET /api/health': () => ({ status: 200, body: { ok: true } }),
    'GET ': () => ({ status: 200, body: { film: this.film, revision: this.revision, edits: this.edits } }),
    'GET /media': () => ({ status: 200, body: [] }),
    'GET /jobs': () => ({ status: 200, body: [] }),
    'GET /mattes/m': () => ({ status: 200, body: this.matteFrames }),
    'POST /carry': () => ({ status: 400, body: { message: 'There is nothing to carry.' } }),
    'POST /edits': (body) => {
      const { base, edit, id } = body as { base: number; edit: Edit; id: string };
      const known = this.edits.find((e) => e.id === id);
      if (known !== undefined) return { status: 200, body: { revision: known.revision } };
      if (this.refuses?.test(edit.name) === true) return { status: 400, body: { message: 'No such name.' } };
      if (this.refusal !== null) return { status: this.refusal.status, body: { message: this.refusal.message } };
      if (!this.edits.slice(base).every((e) => areApart(e, edit)))
        return { status: 409, body: { message: 'The film was changed elsewhere.' } };
      this.take(edit, id, this.window);
      return { status: 200, body: { revision: this.revision } };
    },
  };
}

/** What the page hears from the server. */
class FakeEvents {
  static newest: FakeEvents;
  onopen: (() => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;
  onerror: (() => void) | null = null;

  constructor() {
    FakeEvents.newest = this;
  }

  say(event: object): void {
    this.onmessage?.({ data: JSON.stringify(event) });
  }

  close(): void {
    this.onmessage = null;
  }
}

let server: FakeServer;
let kept: Map<string, string>;
let session: Map<string, string>;
let open: FilmStore[];

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
  server = new FakeServer();
  kept = new Map();
  session = new Map();
  open = [];
  vi.stubGlobal('fetch', server.fetch);
  vi.stubGlobal('EventSource', FakeEvents);
  vi.stubGlobal('sessionStorage', {
    getItem: (key: string) => session.get(key) ?? null,
    setItem: (key: string, value: string) => void session.set(key, value),
  });
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => void kept.set(key, value),
    removeItem: (key: string) => void kept.delete(key),
  });
});
afterEach(() => {
  for (const store of open) store.close();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

async function opened(): Promise<FilmStore> {
  const store = new FilmStore('f');
  open.push(store);
  await store.open();
  return store;
}

const names = (store: FilmStore): string[] => store.snapshot().aside.map((a) => a.edit.name);
const rename = (store: FilmStore, name: string): void =>
  store.edit(`Named it ${name}`, (d) => {
    d.name = name;
  });

/** A window that is closed with a change it could not send. */
async function leaveUnsent(): Promise<void> {
  const store = await opened();
  server.reachable = false;
  rename(store, 'Unsent');
  await settled();
  store.close();
  server.reachable = true;
}

/** Does something in another window on the same film. */
async function inAnotherWindow(work: (store: FilmStore) => void): Promise<void> {
  const mine = session;
  const newest = FakeEvents.newest;
  session = new Map();
  const other = new FilmStore('f');
  await other.open();
  work(other);
  await settled();
  other.close();
  session = mine;
  FakeEvents.newest = newest;
}

/** Lets everything that waits for the server go on. */
const settled = (): Promise<unknown> => vi.advanceTimersByTimeAsync(1);

describe('a film in the page', () => {
  it('shows a change at once and sends it', async () => {
    const store = await opened();
    rename(store, 'Dusk');
    expect(store.snapshot().film!.name).toBe('Dusk');
    expect(store.snapshot().save.kind).toBe('saving');
    await settled();
    expect(server.film.name).toBe('Dusk');
    expect(store.snapshot().save.kind).toBe('saved');
    expect(kept.size).toBe(0);
  });

  it('sends many changes one by one, in their order', async () => {
    const store = await opened();
    for (const name of ['One', 'Two', 'Three']) rename(store, name);
    const sent = store.allSent();
    await vi.advanceTimersByTimeAsync(200);
    expect(await sent).toBe(true);
    expect(server.edits.map((e) => e.name)).toEqual(['Named it One', 'Named it Two', 'Named it Three']);
    expect(server.edits.map((e) => e.revision)).toEqual([1, 2, 3]);
  });

  it('stores nothing for a change that changes nothing', async () => {
    const store = await opened();
    rename(store, store.snapshot().film!.name);
    await settled();
    expect(server.edits).toEqual([]);
    expect(store.snapshot().history).toEqual([]);
  });

  it('leaves everything as it was when a change fails halfway', async () => {
    const store = await opened();
    const before = store.snapshot();
    expect(() =>
      store.edit('Broke it', (d) => {
        d.name = 'Half';
        throw new Error('no such thing');
      }),
    ).toThrow('no such thing');
    expect(store.snapshot()).toBe(before);
  });

  it('takes back and brings back by edits of their own', async () => {
    const store = await opened();
    const first = store.snapshot().film!.name;
    rename(store, 'Dusk');
    store.undo();
    expect(store.snapshot().film!.name).toBe(first);
    store.redo();
    await settled();
    expect(server.film.name).toBe('Dusk');
    expect(server.edits).toHaveLength(3);
    // nothing more to bring back
    store.redo();
    await settled();
    expect(server.edits).toHaveLength(3);
  });

  it('takes what followed of an edit back with it, and brings both back', async () => {
    const store = await opened();
    const first = store.snapshot().film!;
    rename(store, 'Dusk');
    store.edit(followingName('Through the loupe'), (d) => void (d.width = 640));
    store.undo();
    expect(store.snapshot().film).toEqual(first);
    store.redo();
    expect(store.snapshot().film).toMatchObject({ name: 'Dusk', width: 640 });
    await settled();
    expect(server.film).toMatchObject({ name: 'Dusk', width: 640 });
    expect(
      store
        .stacks()
        .undo.map((e) => e.name)
        .at(-1),
    ).toBe('Through the loupe follows');
  });
});

describe('an edit made while the film is being loaded', () => {
  /** Makes `store` load the film anew, and gives what lets the answer through. */
  const loading = (store: FilmStore): (() => void) => {
    let open = (): void => undefined;
    server.gate = new Promise((resolve) => (open = resolve));
    FakeEvents.newest.say({ kind: 'film', revision: store.snapshot().history.length + 1 });
    return open;
  };

  it('is there afterwards, in the page and on the server', async () => {
    const store = await opened();
    await inAnotherWindow((other) => other.edit('Made it wider', (d) => void (d.width = 320)));
    const arrives = loading(store);
    server.gate = null;
    rename(store, 'Mine');
    arrives();
    await settled();
    await settled();
    expect(store.snapshot().film).toMatchObject({ name: 'Mine', width: 320 });
    expect(server.film).toMatchObject({ name: 'Mine', width: 320 });
    expect(store.snapshot().save.kind).toBe('saved');
  });

  it('is there when it was stored before the older answer came', async () => {
    const store = await opened();
    const arrives = loading(store);
    server.gate = null;
    rename(store, 'Mine');
    await settled();
    expect(server.film.name).toBe('Mine');
    arrives();
    await settled();
    expect(store.snapshot().film!.name).toBe('Mine');
    expect(store.stacks().undo.map((e) => e.name)).toEqual(['Named it Mine']);
  });
});

describe('without a connection', () => {
  it('says that there is none, although nothing waits', async () => {
    const store = await opened();
    FakeEvents.newest.onerror!();
    expect(store.snapshot().isConnected).toBe(false);
    FakeEvents.newest.onopen!();
    expect(store.snapshot().isConnected).toBe(true);
  });

  it('keeps changes, says how many wait, and sends them when the server is back', async () => {
    const store = await opened();
    server.reachable = false;
    rename(store, 'One');
    rename(store, 'Two');
    await settled();
    expect(store.snapshot().save).toEqual({ kind: 'offline', waiting: 2 });
    const sent = store.allSent();
    await vi.advanceTimersByTimeAsync(10_000);
    expect(await sent).toBe(false);
    expect(store.snapshot().film!.name).toBe('Two');
    server.reachable = true;
    await vi.advanceTimersByTimeAsync(2000);
    expect(server.film.name).toBe('Two');
    expect(store.snapshot().save.kind).toBe('saved');
  });

  it('brings changes that were never sent back after a reload', async () => {
    await leaveUnsent();
    const after = await opened();
    expect(after.snapshot().film!.name).toBe('Unsent');
    await settled();
    expect(server.film.name).toBe('Unsent');
    expect(kept.size).toBe(0);
  });

  it('does not send twice what had arrived when its answer was lost', async () => {
    const store = await opened();
    server.losesAnswer = true;
    rename(store, 'Once');
    await settled();
    expect(store.snapshot().save.kind).toBe('offline');
    await vi.advanceTimersByTimeAsync(2000);
    expect(server.edits.map((e) => e.name)).toEqual(['Named it Once']);
    expect(store.snapshot().save.kind).toBe('saved');
    expect(store.snapshot().notice).toBeNull();
  });

  it('says so when the film cannot even be loaded', async () => {
    server.reachable = false;
    const store = await opened();
    expect(store.snapshot().film).toBeNull();
    expect(store.snapshot().notice).toMatch(/could not be loaded/);
  });

  it('tells when something that was asked for did not reach the server, or was refused', async () => {
    const store = await opened();
    await store.ask('carry', {});
    expect(store.snapshot().notice).toBe('There is nothing to carry.');
    server.reachable = false;
    await store.ask('carry', {});
    expect(store.snapshot().notice).toMatch(/does not answer/);
  });
});

describe('a film changed elsewhere', () => {
  const elsewhere = async (name: string): Promise<void> => inAnotherWindow((other) => rename(other, name));

  it('is loaded anew when the server says so', async () => {
    const store = await opened();
    const events = FakeEvents.newest;
    await elsewhere('Theirs');
    expect(store.snapshot().film!.name).not.toBe('Theirs');
    events.say({ kind: 'film', revision: 1 });
    await settled();
    expect(store.snapshot().film!.name).toBe('Theirs');
  });

  it('is taken back only by the window that changed it', async () => {
    const store = await opened();
    rename(store, 'Mine');
    await settled();
    await inAnotherWindow((other) => other.edit('Made it wider', (d) => void (d.width = 320)));
    FakeEvents.newest.say({ kind: 'film', revision: 2 });
    await settled();
    expect(store.stacks().undo.map((e) => e.name)).toEqual(['Named it Mine']);
    store.undo();
    await settled();
    expect(server.film).toMatchObject({ name: 'sample', width: 320 });
    // what was there when a window opens can be taken back in it, after a restart too
    await inAnotherWindow((other) => expect(other.stacks().undo.map((e) => e.name)).toEqual(['Made it wider']));
  });

  it('is not taken back where the other has changed the same since, and says so', async () => {
    const store = await opened();
    rename(store, 'Mine');
    await settled();
    await elsewhere('Theirs');
    FakeEvents.newest.say({ kind: 'film', revision: 2 });
    await settled();
    store.undo();
    await settled();
    expect(server.film.name).toBe('Theirs');
    expect(store.snapshot().notice).toBe(
      '“Named it Mine” cannot be undone: “Named it Theirs” has changed the same since, in another window.',
    );
  });

  it('lets a step back that was made before its edit arrived find it, wherever that came to lie', async () => {
    const store = await opened();
    await inAnotherWindow((other) => other.edit('Made it wider', (d) => void (d.width = 320)));
    rename(store, 'Mine');
    store.undo();
    await settled();
    await settled();
    expect(server.edits.map((e) => [e.name, e.kind, e.revision, e.target])).toEqual([
      ['Made it wider', 'edit', 1, null],
      ['Named it Mine', 'edit', 2, null],
      ['Named it Mine', 'undo', 3, 2],
    ]);
    expect(store.snapshot().film).toMatchObject({ name: 'sample', width: 320 });
    expect(store.snapshot().notice).toBeNull();
  });

  it('is not loaded for what this window has sent itself', async () => {
    const store = await opened();
    rename(store, 'Mine');
    await settled();
    const asked = server.asked.length;
    FakeEvents.newest.say({ kind: 'film', revision: 1 });
    await settled();
    expect(server.asked.length).toBe(asked);
  });

  it('refuses a change made on the older film, shows the newer one and says so', async () => {
    const store = await opened();
    await elsewhere('Theirs');
    rename(store, 'Mine');
    await settled();
    expect(server.film.name).toBe('Theirs');
    expect(store.snapshot().film!.name).toBe('Theirs');
    expect(store.snapshot().notice).toMatch(/changed elsewhere.*You now see the newer film/);
    expect(names(store)).toEqual(['Named it Mine']);
    expect([...kept.keys()]).toEqual(['irimi:aside:f']);
  });

  it('sets aside what is refused with what builds on it, keeps the rest, and finds it again after a reload', async () => {
    const store = await opened();
    server.reachable = false;
    rename(store, 'Refused');
    rename(store, 'Builds on it');
    store.edit('Widened', (d) => void (d.width = 320));
    await settled();
    server.reachable = true;
    server.refuses = /Refused/;
    await vi.advanceTimersByTimeAsync(5000);
    expect(server.film).toMatchObject({ name: 'sample', width: 320 });
    expect(store.snapshot().aside.map((a) => [a.edit.name, a.why])).toEqual([
      ['Named it Refused', 'No such name.'],
      ['Named it Builds on it', 'it builds on “Named it Refused”'],
    ]);
    expect(store.snapshot()).toMatchObject({ film: { name: 'sample', width: 320 }, save: { kind: 'saved' } });
    const after = await opened();
    expect(names(after)).toEqual(['Named it Refused', 'Named it Builds on it']);
    server.refuses = null;
    after.retryAside();
    await settled();
    expect([server.film.name, names(after)]).toEqual(['Builds on it', []]);
  });

  it('sets aside what has ended the server twice, and goes on with the rest', async () => {
    const store = await opened();
    server.endsAt = /Deadly/;
    rename(store, 'Deadly');
    store.edit('Widened', (d) => void (d.width = 320));
    await vi.advanceTimersByTimeAsync(10_000);
    expect(server.ended).toBe(2);
    expect(store.snapshot().aside.map((a) => a.edit.name)).toEqual(['Named it Deadly']);
    expect(server.film).toMatchObject({ name: 'sample', width: 320 });
    store.discardAside();
    expect(kept.size).toBe(0);
  });

  it('does not get changes that were never sent before it', async () => {
    await leaveUnsent();
    // the unsent ones are kept by the window that was closed
    const mine = new Map(kept);
    kept.clear();
    await elsewhere('Theirs');
    mine.forEach((value, key) => kept.set(key, value));
    const after = await opened();
    expect(after.snapshot().film!.name).toBe('Theirs');
    expect(after.snapshot().notice).toMatch(/not applied: Named it Unsent/);
    expect(names(after)).toEqual(['Named it Unsent']);
  });

  it('drops a change the server finds wrong, and says why', async () => {
    const store = await opened();
    const first = store.snapshot().film!.name;
    server.refusal = { status: 400, message: 'This name is too long.' };
    rename(store, 'x'.repeat(5000));
    await settled();
    expect(store.snapshot().film!.name).toBe(first);
    expect(store.snapshot().notice).toBe('This name is too long.');
  });

  it('tries again when the server itself fails', async () => {
    const store = await opened();
    server.refusal = { status: 500, message: 'disk full' };
    rename(store, 'Kept');
    await settled();
    expect(store.snapshot().save).toEqual({ kind: 'offline', waiting: 1 });
    server.refusal = null;
    await vi.advanceTimersByTimeAsync(2000);
    expect(server.film.name).toBe('Kept');
  });
});

describe('a matte that is being carried', () => {
  it('is told of frame by frame, and its list fetched a few times a second, the last of it for certain', async () => {
    const store = await opened();
    const told: (number | null)[] = [];
    store.onMatte = (_, frame) => told.push(frame);
    const fetches = (): number => server.asked.filter((a) => a === 'GET /mattes/m').length;
    for (let frame = 0; frame < 40; frame++) {
      server.matteFrames = [...server.matteFrames, { frame }];
      FakeEvents.newest.say({ kind: 'matte', matteId: 'm', frame });
      await vi.advanceTimersByTimeAsync(25);
    }
    await vi.advanceTimersByTimeAsync(1000);
    expect(told).toEqual(Array.from({ length: 40 }, (_, frame) => frame));
    expect(store.snapshot().matteFrames.get('m')).toHaveLength(40);
    expect(fetches()).toBeGreaterThan(2);
    expect(fetches()).toBeLessThan(8);
    // and later changes are fetched again
    const before = fetches();
    FakeEvents.newest.say({ kind: 'matte', matteId: 'm', frame: null });
    await settled();
    expect(fetches()).toBe(before + 1);
  });
});
