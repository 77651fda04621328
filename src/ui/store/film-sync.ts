import type { Draft } from 'immer';
import type { Film } from '../../core/film/film';
import {
  applyEdit,
  inTheWay,
  isFollowing,
  makeEdit,
  redoEdit,
  undoEdit,
  undoStacks,
  type Edit,
  type UndoStacks,
} from '../../core/film/history';
import { ApiError, call } from './api';
import { acknowledged, laidOnTop, setAside, withEdit, withFailure, type Edited, type Opened } from './edit-queue';
import type { FilmState } from './film-state';
import { KeptEdits, type AsideEdit, type WaitingEdit } from './kept-edits';
import { firstSeen, windowName } from './this-window';
import { newId } from './new-id';

const RETRY_MS = 1500;

/** What the sending of edits asks of the window it belongs to. */
export interface FilmHost {
  snapshot(): FilmState;
  set(part: Partial<FilmState>): void;
  /** @returns what ends the listening */
  subscribe(listener: () => void): () => void;
  notify(text: string): void;
  /** Does what may find no server; the next event asks again. */
  quietly(work: () => Promise<void>): Promise<void>;
  /** What the shelf holds on the server. */
  fetchShelf(): Promise<Partial<FilmState>>;
}

/** The edits of a film: made here at once, sent in order, kept while the server is out of reach, undone and redone. */
export class FilmSync {
  private readonly filmId: string;
  private readonly host: FilmHost;
  private readonly kept: KeptEdits;
  /** Null until it is loaded. */
  private edited: Edited | null = null;
  /** Revision of the film when this window first saw it. */
  private seenAt = 0;
  private sending = false;
  /** The edit that is on its way to the server. */
  private isTrying: string | null = null;
  private retry: ReturnType<typeof setTimeout> | undefined;

  constructor(filmId: string, host: FilmHost) {
    this.filmId = filmId;
    this.host = host;
    this.kept = new KeptEdits(filmId, (text) => host.notify(text));
  }

  /** @throws ApiError, or TypeError when no server answers */
  async open(): Promise<void> {
    this.host.set({ aside: this.kept.aside() });
    await this.load();
  }

  close(): void {
    clearTimeout(this.retry);
  }

  /** The server has the film as of a revision. */
  async heard(revision: number): Promise<void> {
    if (revision > this.revision && this.waiting.length === 0) await this.load();
  }

  /** The server is there again. */
  reconnected(): void {
    if (this.waiting.length > 0) void this.send();
  }

  /** Makes a named change. Nothing is stored when it changes nothing. */
  edit(name: string, change: (draft: Draft<Film>) => void): void {
    const { film } = this.host.snapshot();
    if (film === null) return;
    const made = makeEdit(film, name, change);
    if (made !== null) this.push(made.edit, made.film);
  }

  /** What this window can take back and bring back: what was there when it opened, and what it has done itself. */
  stacks(): UndoStacks {
    const name = windowName();
    return undoStacks(this.host.snapshot().history, (edit) => edit.window === name || edit.revision <= this.seenAt);
  }

  /** Whether the film was changed before, in ways that can no longer be taken back here. */
  isCutOff(): boolean {
    return this.revision > 0 && this.host.snapshot().history.length === 0;
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

  /** Waits until every change has reached the server. @returns whether they have; a server that is out of reach is told */
  async allSent(): Promise<boolean> {
    const isOver = (): boolean => this.waiting.length === 0 || this.host.snapshot().save.kind === 'offline';
    if (!isOver())
      await new Promise<void>((resolve) => {
        const stop = this.host.subscribe(() => {
          if (!isOver()) return;
          stop();
          resolve();
        });
      });
    if (this.waiting.length === 0) return true;
    this.host.notify('Your newest changes have not reached the server, so nothing was started. Try again once they are saved.');
    return false;
  }

  /** Shows the film as the server has it now, with what waits to be sent laid on top. */
  async load(): Promise<void> {
    const [opened, shelf] = await Promise.all([call<Opened>('GET', `/api/films/${this.filmId}`), this.host.fetchShelf()]);
    // edits of this window were stored while the answer was on its way: it is older than what is known already
    if (opened.revision < this.revision) return this.load();
    const unsent = this.edited === null ? this.kept.unsent() : null;
    const { save, aside } = this.host.snapshot();
    if (this.edited === null) this.seenAt = firstSeen(this.filmId, opened.revision);
    const { edited, lost } = laidOnTop(opened, unsent?.base ?? this.revision, unsent?.edits ?? this.waiting, windowName());
    this.show(edited, {
      ...shelf,
      ...(edited.waiting.length > 0 ? {} : { save: { kind: 'saved', at: save.kind === 'saved' ? save.at : null } }),
      ...(lost.length === 0 ? {} : { notice: `The film was changed elsewhere; not applied: ${lost.map((w) => w.edit.name).join(', ')}.` }),
    });
    if (lost.length > 0) this.keepAside([...aside, ...lost.map(({ id, edit }) => ({ id, edit, why: 'the film was changed elsewhere' }))]);
    if (edited.waiting.length > 0) void this.send();
  }

  /** @returns whether it was done; what is in the way is said */
  private pushStep(edit: Edit): boolean {
    const other = inTheWay(this.host.snapshot().history, edit);
    if (other !== null) {
      const what = edit.kind === 'undo' ? 'undone' : 'redone';
      this.host.notify(`“${edit.name}” cannot be ${what}: “${other.name}” has changed the same since, in another window.`);
      return false;
    }
    this.push(edit, applyEdit(this.host.snapshot().film!, edit));
    return true;
  }

  private push(edit: Edit, film: Film): void {
    const edited = withEdit(this.edited!, edit, film, newId(), windowName());
    const { save } = this.host.snapshot();
    this.show(edited, { save: save.kind === 'offline' ? { kind: 'offline', waiting: edited.waiting.length } : { kind: 'saving' } });
    void this.send();
  }

  /** Shows the film as it is now, and keeps what waits in this browser. */
  private show(edited: Edited, more: Partial<FilmState> = {}): void {
    this.edited = edited;
    const { film, history } = edited;
    this.host.set({ film, history, ...more });
    this.kept.keepUnsent({ base: edited.revision, edits: edited.waiting });
  }

  private get waiting(): readonly WaitingEdit[] {
    return this.edited?.waiting ?? [];
  }

  /** The revision that the server is known to have. */
  private get revision(): number {
    return this.edited?.revision ?? 0;
  }

  /** Sends what waits, one edit at a time, in order. */
  private async send(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    clearTimeout(this.retry);
    try {
      for (let [next] = this.waiting; next !== undefined; [next] = this.waiting) {
        // one at which the server failed is sent only to a server that answers
        if ((next.failures ?? 0) > 0) await requireServer();
        await this.store(next);
      }
      this.host.set({ save: { kind: 'saved', at: Date.now() } });
      if (this.edited?.isBehind === true) await this.host.quietly(() => this.load());
    } catch (error) {
      if (error instanceof ApiError && error.status < 500) await this.refused(error);
      else this.waitLonger(error);
    } finally {
      this.sending = false;
    }
    if (this.waiting.length > 0 && this.host.snapshot().save.kind !== 'offline') void this.send();
  }

  /** The server does not take the first edit that waits: it is set aside, with what builds on it. */
  private async refused(error: ApiError): Promise<void> {
    const [first] = this.waiting;
    if (first !== undefined) this.part(setAside(this.edited!, first, error.message));
    await this.host.quietly(() => this.load());
    this.host.set({
      save: this.waiting.length === 0 ? { kind: 'saved', at: Date.now() } : { kind: 'saving' },
      notice: error.status === 409 ? `${error.message} You now see the newer film.` : error.message,
    });
  }

  /** The server cannot be reached, or failed: what waits is tried again, but nothing that the server has failed at twice. */
  private waitLonger(error: unknown): void {
    if (this.edited !== null && this.isTrying === this.waiting[0]?.id) this.part(withFailure(this.edited));
    this.isTrying = null;
    this.host.set({
      save: this.waiting.length === 0 ? { kind: 'saved', at: null } : { kind: 'offline', waiting: this.waiting.length },
      ...(error instanceof ApiError ? { notice: error.message } : {}),
    });
    if (this.waiting.length === 0) void this.host.quietly(() => this.load());
    else this.retry = setTimeout(() => void this.send(), RETRY_MS);
  }

  /** Goes on without the edits that were set aside, and keeps those apart. */
  private part({ edited, aside }: { readonly edited: Edited; readonly aside: readonly AsideEdit[] }): void {
    this.show(edited);
    if (aside.length > 0) this.keepAside([...this.host.snapshot().aside, ...aside]);
  }

  private keepAside(aside: readonly AsideEdit[]): void {
    this.host.set({ aside });
    this.kept.keepAside(aside);
  }

  /** Forgets what was set aside. */
  discardAside(): void {
    this.keepAside([]);
  }

  /** Tries once more to store what was set aside, as far as it still fits the film. */
  retryAside(): void {
    const { aside, film } = this.host.snapshot();
    this.keepAside([]);
    const again: AsideEdit[] = [];
    for (const one of aside) {
      try {
        this.push({ ...one.edit, kind: 'edit', target: null }, applyEdit(this.host.snapshot().film ?? film!, one.edit));
      } catch {
        again.push({ ...one, why: 'it no longer fits the film' });
      }
    }
    if (again.length > 0) this.keepAside([...this.host.snapshot().aside, ...again]);
  }

  /** Stores one edit. One that arrived before, its answer lost on the way back, is known to the server by its id. */
  private async store({ id, edit }: WaitingEdit): Promise<void> {
    const body = { base: this.revision, edit: { ...edit, inverse: [] }, id };
    this.isTrying = id;
    const { revision } = await call<{ revision: number }>('POST', `/api/films/${this.filmId}/edits`, body);
    this.isTrying = null;
    this.show(acknowledged(this.edited!, id, revision));
  }
}

/** @throws TypeError when no server answers, ApiError when it has trouble of its own */
async function requireServer(): Promise<void> {
  const { status } = await fetch('/api/health');
  if (status >= 500) throw new ApiError(status, 'The server has trouble with its data; your changes wait here until it is mended.');
}
