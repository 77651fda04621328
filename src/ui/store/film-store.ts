import type { Draft } from 'immer';
import { createStore } from 'zustand';
import type { Film } from '../../core/film/film';
import {
  applyEdit,
  areApart,
  inTheWay,
  isFollowing,
  makeEdit,
  redoEdit,
  undoEdit,
  undoStacks,
  type Edit,
  type StoredEdit,
  type UndoStacks,
} from '../../core/film/history';
import { isSame } from '../../core/film/patches';
import type { JobView } from '../../core/film/job';
import type { MatteFrame } from '../../core/film/matte-frame';
import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';
import { readyMedia, readySounds, type MediumFacts, type ShelfMedium, type Sounds } from '../../core/film/media-facts';
import { Paced } from './paced';
import { ApiError, call, messageOf, ownHeaders } from './api';
import { KeptEdits, type AsideEdit, type WaitingEdit } from './kept-edits';
import { receiveFile, type FileOnItsWay } from './send-file';
import { firstSeen, windowName } from './this-window';

/** How the newest change stands. */
export type SaveState =
  | { readonly kind: 'saved'; readonly at: number | null }
  | { readonly kind: 'saving' }
  | { readonly kind: 'offline'; readonly waiting: number };

/** A file on its way to the shelf. */
export interface Upload {
  readonly id: string;
  readonly name: string;
  readonly fraction: number;
  readonly error: string | null;
}

export interface FilmState {
  readonly film: Film | null;
  readonly history: readonly StoredEdit[];
  readonly save: SaveState;
  /** Whether the server answers. */
  readonly isConnected: boolean;
  readonly shelf: readonly ShelfMedium[];
  readonly media: ReadonlyMap<string, MediumFacts>;
  readonly sounds: Sounds;
  readonly uploads: readonly Upload[];
  readonly jobs: readonly JobView[];
  /** Stored frames of mattes that have been asked for, by matte. */
  readonly matteFrames: ReadonlyMap<string, readonly MatteFrame[]>;
  /** Something the user has to know; shown until it is put away. */
  readonly notice: string | null;
  /** Edits that were refused, or that ended the server. */
  readonly aside: readonly AsideEdit[];
}

interface Opened {
  film: Film;
  revision: number;
  edits: StoredEdit[];
}

const UNKNOWN: FilmState = {
  film: null,
  history: [],
  save: { kind: 'saved', at: null },
  isConnected: true,
  shelf: [],
  media: new Map(),
  sounds: new Map(),
  uploads: [],
  jobs: [],
  matteFrames: new Map(),
  notice: null,
  aside: [],
};

const RETRY_MS = 1500;
/** An edit at which the server has failed this often is not sent again by itself. */
const MOST_FAILURES = 2;
/** A matte that is being carried changes many times a second; its list of frames is fetched at most so often. */
const REFRESH_MS = 250;
/**
 * One film in this window. Changes apply at once, go to the server in order, and wait (also across a reload)
 * while it cannot be reached.
 */
export class FilmStore {
  readonly filmId: string;
  /** What is known of the film; the page reads parts of it by selectors. */
  readonly known = createStore<FilmState>(() => UNKNOWN);
  private readonly kept: KeptEdits;
  private readonly matteRefreshes = new Paced(REFRESH_MS);
  private queue: WaitingEdit[] = [];
  /** Revision of the film when this window first saw it. */
  private seenAt = 0;
  private readonly files = new Map<string, FileOnItsWay>();
  /** When the newest file was chosen, ms; the shelf keeps this order, whichever arrives first. */
  private chosenAt = 0;
  /** Revision the server is known to have. */
  private revision = 0;
  private sending = false;
  /** The edit that is on its way to the server. */
  private isTrying: string | null = null;
  /** The server's film holds more than this window's. */
  private isBehind = false;
  private retry: ReturnType<typeof setTimeout> | undefined;
  private events: EventSource | null = null;

  constructor(filmId: string) {
    this.filmId = filmId;
    this.kept = new KeptEdits(filmId, (text) => this.notify(text));
  }

  /** All that is known as it is now. */
  readonly snapshot = (): FilmState => this.known.getState();

  /** Loads the film and follows what happens to it on the server. */
  async open(): Promise<void> {
    this.set({ aside: this.kept.aside() });
    try {
      await this.load();
    } catch (error) {
      this.set({
        notice:
          error instanceof ApiError
            ? error.message
            : 'The film could not be loaded: the server does not answer. Reload the page to try again.',
      });
      return;
    }
    this.events = new EventSource(`/api/films/${this.filmId}/events`);
    this.events.onopen = () => {
      this.set({ isConnected: true });
      void this.refresh();
    };
    this.events.onerror = () => this.set({ isConnected: false });
    this.events.onmessage = ({ data }: MessageEvent<string>) => {
      const event = JSON.parse(data) as { kind: string; revision?: number; matteId?: string; frame?: number | null };
      if (event.kind === 'jobs') void this.refreshJobs();
      if (event.kind === 'media') void this.refreshMedia();
      if (event.kind === 'matte') void this.matteChanged(event.matteId!, event.frame!);
      if (event.kind === 'film' && event.revision! > this.revision && this.queue.length === 0) void this.load();
    };
  }

  close(): void {
    this.events?.close();
    clearTimeout(this.retry);
  }

  /** Makes a named change. Nothing is stored when it changes nothing. */
  edit(name: string, change: (draft: Draft<Film>) => void): void {
    const { film } = this.snapshot();
    if (film === null) return;
    const made = makeEdit(film, name, change);
    if (made !== null) this.push(made.edit, made.film);
  }

  /** What this window can take back and bring back: what was there when it opened, and what it has done itself. */
  stacks(): UndoStacks {
    const name = windowName();
    return undoStacks(this.snapshot().history, (edit) => edit.window === name || edit.revision <= this.seenAt);
  }

  /** Whether the film was changed before, in ways that can no longer be taken back here. */
  isCutOff(): boolean {
    return this.revision > 0 && this.snapshot().history.length === 0;
  }

  /** Takes the newest edit back, with what followed of it. */
  undo(): void {
    for (let target = this.stacks().undo.at(-1); target !== undefined; target = this.stacks().undo.at(-1)) {
      if (!this.pushStep(undoEdit(target)) || !isFollowing(target)) return;
    }
  }

  /** Brings the edit taken back last back, with what followed of it. */
  redo(): void {
    for (let target = this.stacks().redo.at(-1); target !== undefined;) {
      if (!this.pushStep(redoEdit(target))) return;
      target = this.stacks().redo.at(-1);
      if (target === undefined || !isFollowing(target)) return;
    }
  }

  notify(notice: string | null): void {
    this.set({ notice });
  }

  /** Sends a file to the shelf and tells how far it is. What is interrupted goes on where it was, also when the same file is brought in again later. */
  upload(file: File): void {
    const id = crypto.randomUUID();
    const change = (part: Partial<Upload>): void =>
      this.set({ uploads: this.snapshot().uploads.map((u) => (u.id === id ? { ...u, ...part } : u)) });
    this.set({ uploads: [...this.snapshot().uploads, { id, name: file.name, fraction: 0, error: null }] });
    this.chosenAt = Math.max(Date.now(), this.chosenAt + 1);
    const facts = { chosenAt: String(this.chosenAt) };
    const sending = receiveFile(this.filmId, file, file.name, facts, (fraction) => change({ fraction }));
    this.files.set(id, sending);
    sending.done.then(
      () => {
        this.files.delete(id);
        this.forgetUpload(id);
        void this.refreshMedia();
      },
      (error: Error) => change({ error: error.message }),
    );
  }

  /** Stops a file on its way, or puts its error away. What of it has arrived is thrown away. */
  forgetUpload(id: string): void {
    this.files.get(id)?.stop();
    this.files.delete(id);
    this.set({ uploads: this.snapshot().uploads.filter((u) => u.id !== id) });
  }

  /** Called when the stored coverage of a matte has changed on a medium frame, or with null on any. */
  onMatte: (matteId: string, frame: number | null) => void = () => undefined;

  /** Loads what frames a matte has, unless that is known. */
  async wantMatteFrames(matteId: string): Promise<void> {
    if (!this.snapshot().matteFrames.has(matteId)) await this.refreshMatte(matteId);
  }

  /** Fetches anew what frames a matte has; done when they are there as they are now or later. */
  private refreshMatte(matteId: string): Promise<void> {
    return this.matteRefreshes.ask(matteId, () =>
      this.quietly(async () => {
        const frames = await call<MatteFrame[]>('GET', `/api/films/${this.filmId}/mattes/${matteId}`);
        this.set({ matteFrames: new Map(this.snapshot().matteFrames).set(matteId, frames) });
      }),
    );
  }

  /** Stores what a hand has painted on one frame. */
  async storeMatteFrame(matteId: string, frame: number, coverage: StoredCoverage, madeFrom: string): Promise<void> {
    const { width, height, data } = coverage;
    const query = new URLSearchParams({ width: String(width), height: String(height), madeFrom });
    const response = await fetch(`/api/films/${this.filmId}/mattes/${matteId}/${frame}?${query}`, {
      method: 'PUT',
      headers: ownHeaders(),
      body: new Uint8Array(data),
    });
    if (!response.ok) throw new Error(messageOf(await response.text()));
    await this.matteChanged(matteId, frame);
  }

  /** Coverage of one frame from the server; null where it has none. */
  async coverage(matteId: string, frame: number, which: 'coverage' | 'base'): Promise<StoredCoverage | null> {
    const response = await fetch(`/api/films/${this.filmId}/mattes/${matteId}/${frame}?which=${which}`);
    if (!response.ok) throw new Error('The matte could not be fetched.');
    if (response.status === 204) return null;
    return {
      width: Number(response.headers.get('x-width')),
      height: Number(response.headers.get('x-height')),
      data: new Uint8Array(await response.arrayBuffer()),
    };
  }

  /** Something for the server to do; what goes wrong is told. */
  async ask(path: string, body: unknown): Promise<void> {
    try {
      await call('POST', `/api/films/${this.filmId}/${path}`, body);
    } catch (error) {
      this.set({
        notice: error instanceof ApiError ? error.message : 'The server does not answer. Nothing was changed; try again in a moment.',
      });
    }
  }

  /** Settles a matte, or opens it again. It counts as settled from here on, so that no stroke comes in between. */
  async settle(matteId: string, settled: boolean): Promise<void> {
    const known = this.snapshot().matteFrames.get(matteId) ?? [];
    const frames = known.map((f) => ({ ...f, settled }));
    if (settled) this.set({ matteFrames: new Map(this.snapshot().matteFrames).set(matteId, frames) });
    await this.allSent();
    await this.ask(`mattes/${matteId}`, { do: settled ? 'settle' : 'open' });
    await this.refreshMatte(matteId);
  }

  /** Waits until every change has reached the server. */
  async allSent(): Promise<boolean> {
    for (let tries = 0; tries < 100 && this.queue.length > 0; tries++) await new Promise((resolve) => setTimeout(resolve, 50));
    return this.queue.length === 0;
  }

  private async matteChanged(matteId: string, frame: number | null): Promise<void> {
    this.onMatte(matteId, frame);
    await this.refreshMatte(matteId);
  }

  async refreshJobs(): Promise<void> {
    await this.quietly(async () => this.set({ jobs: await call<JobView[]>('GET', `/api/films/${this.filmId}/jobs`) }));
  }

  async refreshMedia(): Promise<void> {
    await this.quietly(async () => {
      const shelf = await call<ShelfMedium[]>('GET', `/api/films/${this.filmId}/media`);
      const { media, sounds } = this.snapshot();
      // what is as it was stays the same, so that nothing is drawn anew for a card's progress
      this.set({ shelf, media: sameOr(media, readyMedia(shelf)), sounds: sameOr(sounds, readySounds(shelf)) });
    });
  }

  private async refresh(): Promise<void> {
    await Promise.all([this.refreshJobs(), this.refreshMedia()]);
    if (this.queue.length > 0) void this.send();
  }

  /** Shows the film as the server has it now, with what waits to be sent laid on top. */
  private async load(): Promise<void> {
    const [opened, shelf] = await Promise.all([
      call<Opened>('GET', `/api/films/${this.filmId}`),
      call<ShelfMedium[]>('GET', `/api/films/${this.filmId}/media`),
    ]);
    // edits of this window were stored while the answer was on its way: it is older than what is known already
    if (opened.revision < this.revision) return this.load();
    const unsent = this.snapshot().film === null ? this.kept.unsent() : null;
    const { save } = this.snapshot();
    const waiting = unsent?.edits ?? this.queue;
    const base = unsent?.base ?? this.revision;
    if (this.snapshot().film === null) this.seenAt = firstSeen(this.filmId, opened.revision);
    const { film, kept, lost } = laidOnTop(opened, base, waiting);
    this.revision = opened.revision;
    this.isBehind = false;
    this.queue = [...kept];
    this.set({
      film,
      history: [...opened.edits, ...kept.map(({ id, edit }, i) => this.stored(edit, id, opened.revision + i + 1))],
      shelf,
      media: readyMedia(shelf),
      sounds: readySounds(shelf),
      ...(kept.length > 0 ? {} : { save: { kind: 'saved', at: save.kind === 'saved' ? save.at : null } }),
      ...(lost.length === 0 ? {} : { notice: `The film was changed elsewhere; not applied: ${lost.map((w) => w.edit.name).join(', ')}.` }),
    });
    this.keepUnsent();
    if (lost.length > 0)
      this.keepAside([...this.snapshot().aside, ...lost.map(({ id, edit }) => ({ id, edit, why: 'the film was changed elsewhere' }))]);
    if (kept.length > 0) void this.send();
  }

  /** @returns whether it was done; what is in the way is said */
  private pushStep(edit: Edit): boolean {
    const other = inTheWay(this.snapshot().history, edit);
    if (other !== null) {
      const what = edit.kind === 'undo' ? 'undone' : 'redone';
      this.notify(`“${edit.name}” cannot be ${what}: “${other.name}” has changed the same since, in another window.`);
      return false;
    }
    this.push(edit, applyEdit(this.snapshot().film!, edit));
    return true;
  }

  private push(edit: Edit, film: Film): void {
    const id = crypto.randomUUID();
    this.queue.push({ id, edit });
    this.set({
      film,
      history: [...this.snapshot().history, this.stored(edit, id, this.revision + this.queue.length)],
      save: this.snapshot().save.kind === 'offline' ? { kind: 'offline', waiting: this.queue.length } : { kind: 'saving' },
    });
    this.keepUnsent();
    void this.send();
  }

  private stored(edit: Edit, id: string, revision: number): StoredEdit {
    return { ...edit, id, revision, window: windowName(), askedAt: null };
  }

  /** Sends what waits, one edit at a time, in order. */
  private async send(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    clearTimeout(this.retry);
    try {
      for (let [next] = this.queue; next !== undefined; [next] = this.queue) {
        // one at which the server failed is sent only to a server that answers
        if ((next.failures ?? 0) > 0) await requireServer();
        await this.store(next);
      }
      this.set({ save: { kind: 'saved', at: Date.now() } });
      if (this.isBehind) await this.quietly(() => this.load());
    } catch (error) {
      if (error instanceof ApiError && error.status < 500) await this.refused(error);
      else this.waitLonger(error);
    } finally {
      this.sending = false;
    }
    if (this.queue.length > 0 && this.snapshot().save.kind !== 'offline') void this.send();
  }

  /** The server does not take the first edit that waits: it is set aside, with what builds on it. */
  private async refused(error: ApiError): Promise<void> {
    const [first] = this.queue;
    if (first !== undefined) this.setAside(first, error.message);
    this.keepUnsent();
    await this.quietly(() => this.load());
    this.set({
      save: this.queue.length === 0 ? { kind: 'saved', at: Date.now() } : { kind: 'saving' },
      notice: error.status === 409 ? `${error.message} You now see the newer film.` : error.message,
    });
  }

  /** The server cannot be reached, or failed: what waits is tried again, but nothing that the server has failed at twice. */
  private waitLonger(error: unknown): void {
    const [first, ...rest] = this.queue;
    if (first !== undefined) {
      const failures = (first.failures ?? 0) + (this.isTrying === first.id ? 1 : 0);
      this.queue = [{ ...first, failures }, ...rest];
      if (failures >= MOST_FAILURES) this.setAside(first, 'the server failed twice when it was to be stored');
      this.keepUnsent();
    }
    this.isTrying = null;
    this.set({
      save: this.queue.length === 0 ? { kind: 'saved', at: null } : { kind: 'offline', waiting: this.queue.length },
      ...(error instanceof ApiError ? { notice: error.message } : {}),
    });
    if (this.queue.length === 0) void this.quietly(() => this.load());
    else this.retry = setTimeout(() => void this.send(), RETRY_MS);
  }

  /** Takes an edit out of what waits, with those that touch the same, and keeps them apart. */
  private setAside(edit: WaitingEdit, why: string): void {
    const gone = [edit];
    for (const other of this.queue)
      if (other.id !== edit.id && !gone.every((g) => areApart(g.edit, other.edit) && other.edit.target === null)) gone.push(other);
    const ids = new Set(gone.map((g) => g.id));
    this.queue = this.queue.filter((w) => !ids.has(w.id));
    const aside = gone.map((g, i): AsideEdit => ({ id: g.id, edit: g.edit, why: i === 0 ? why : `it builds on “${edit.edit.name}”` }));
    this.keepAside([...this.snapshot().aside, ...aside]);
  }

  private keepAside(aside: readonly AsideEdit[]): void {
    this.set({ aside });
    this.kept.keepAside(aside);
  }

  /** Forgets what was set aside. */
  discardAside(): void {
    this.keepAside([]);
  }

  /** Tries once more to store what was set aside, as far as it still fits the film. */
  retryAside(): void {
    const { aside, film } = this.snapshot();
    this.keepAside([]);
    const again: AsideEdit[] = [];
    for (const one of aside) {
      try {
        this.push({ ...one.edit, kind: 'edit', target: null }, applyEdit(this.snapshot().film ?? film!, one.edit));
      } catch {
        again.push({ ...one, why: 'it no longer fits the film' });
      }
    }
    if (again.length > 0) this.keepAside([...this.snapshot().aside, ...again]);
  }

  /** Stores one edit. One that arrived before, its answer lost on the way back, is known to the server by its id. */
  private async store({ id, edit }: WaitingEdit): Promise<void> {
    const body = { base: this.revision, edit: { ...edit, inverse: [] }, id };
    this.isTrying = id;
    const { revision } = await call<{ revision: number }>('POST', `/api/films/${this.filmId}/edits`, body);
    this.isTrying = null;
    this.queue = this.queue.filter((w) => w.id !== id);
    const shift = revision - (this.revision + 1);
    if (shift > 0) {
      // something else was changed meanwhile, and is fetched when all is sent; what follows comes later by as much
      const known = this.revision;
      const moved = (at: number): number => (at > known ? at + shift : at);
      this.isBehind = true;
      this.queue = this.queue.map((w) => retargeted(w, moved));
      this.set({ history: this.snapshot().history.map((e) => (e.revision > known ? { ...e, revision: moved(e.revision) } : e)) });
    }
    this.revision = Math.max(this.revision, revision);
    this.keepUnsent();
  }

  private keepUnsent(): void {
    this.kept.keepUnsent({ base: this.revision, edits: this.queue });
  }

  /** For refreshes: the next event or retry asks again, so a lost connection needs no words of its own. */
  private async quietly(work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      if (error instanceof ApiError) this.set({ notice: error.message });
    }
  }

  private set(part: Partial<FilmState>): void {
    this.known.setState(part);
  }
}

/** @throws TypeError when no server answers, ApiError when it has trouble of its own */
async function requireServer(): Promise<void> {
  const { status } = await fetch('/api/health');
  if (status >= 500) throw new ApiError(status, 'The server has trouble with its data; your changes wait here until it is mended.');
}

/** The map as it was where the new one holds the same. */
const sameOr = <V>(before: ReadonlyMap<string, V>, now: ReadonlyMap<string, V>): ReadonlyMap<string, V> =>
  isSame([...before], [...now]) ? before : now;

/** A step back or on, with the revision it is about as it is by now. */
const retargeted = (waits: WaitingEdit, place: (revision: number) => number): WaitingEdit =>
  waits.edit.target === null ? waits : { ...waits, edit: { ...waits.edit, target: place(waits.edit.target) } };

/** A film with what waits laid on it: what fits, and what does not since the same was changed after `base`. */
function laidOnTop(
  { film, revision, edits }: Opened,
  base: number,
  waiting: readonly WaitingEdit[],
): { film: Film; kept: readonly WaitingEdit[]; lost: readonly WaitingEdit[] } {
  const since = edits.filter((e) => e.revision > base);
  const isKnown = since.length === revision - base;
  const own = new Set(waiting.map((w) => w.id));
  const others = since.filter((e) => !own.has(e.id));
  const arrived = new Map(since.map((e) => [e.id, e.revision]));
  /** Where the revisions are that the waiting edits were expected to make. */
  const places = new Map<number, number>();
  let now = film;
  const kept: WaitingEdit[] = [];
  const lost: WaitingEdit[] = [];
  for (const [i, waits] of waiting.entries()) {
    places.set(base + i + 1, arrived.get(waits.id) ?? revision + kept.length + 1);
    if (arrived.has(waits.id)) continue;
    const next = retargeted(waits, (at) => places.get(at) ?? at);
    // what builds on one that is lost is lost with it
    const fits = lost.length === 0 && isKnown && others.every((e) => areApart(e, next.edit));
    if (fits) now = applyEdit(now, next.edit);
    (fits ? kept : lost).push(next);
  }
  return { film: now, kept, lost };
}
