import type { Draft } from 'immer';
import { createStore } from 'zustand';
import { bringBack, joinsAside } from '../../core/film/edits/aside';
import type { Film } from '../../core/film/film';
import type { UndoStacks } from '../../core/film/history';
import type { JobView } from '../../core/film/job';
import { namedShelf, readyMedia, readySounds, type ShelfMedium } from '../../core/film/media-facts';
import { isSame } from '../../core/film/patches';
import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';
import { ApiError, call } from './api';
import { UNKNOWN, type FilmState, type Offer } from './film-state';
import { FilmSync } from './film-sync';
import { MatteStore } from './matte-store';
import { Uploads, type SendHow } from './uploads';
import { newId } from './new-id';

/**
 * One film in this window. Changes apply at once, go to the server in order, and wait (also across a reload)
 * while it cannot be reached.
 */
/** After how long a stream of events that was given up is opened anew, ms. */
const LISTEN_AGAIN_MS = 1500;

export class FilmStore {
  readonly filmId: string;
  /** What is known of the film; the page reads parts of it by selectors. */
  readonly known = createStore<FilmState>(() => UNKNOWN);
  readonly uploads: Uploads;
  private readonly mattes: MatteStore;
  private readonly sync: FilmSync;
  /** The shelf as the server tells it; the film may call media otherwise. */
  private toldShelf: readonly ShelfMedium[] = [];
  private events: EventSource | null = null;
  private listenAgain: ReturnType<typeof setTimeout> | undefined;

  constructor(filmId: string) {
    this.filmId = filmId;
    this.sync = new FilmSync(filmId, {
      snapshot: this.snapshot,
      set: (part) => this.set(part),
      subscribe: (listener) => this.known.subscribe(listener),
      notify: (text) => this.notify(text),
      quietly: (work) => this.quietly(work),
      fetchShelf: () => this.fetchShelf(),
    });
    this.uploads = new Uploads(
      filmId,
      (uploads) => this.set({ uploads }),
      ({ knownId }, file, how) => {
        if (knownId === null) void this.refreshMedia();
        else this.tellOfKnown(knownId, file, how);
      },
    );
    this.mattes = new MatteStore(
      filmId,
      (matteId, frames) => this.set({ matteFrames: new Map(this.snapshot().matteFrames).set(matteId, frames) }),
      (work) => this.quietly(work),
    );
  }

  /** All that is known as it is now. */
  readonly snapshot = (): FilmState => this.known.getState();

  /** Loads the film and follows what happens to it on the server. */
  async open(): Promise<void> {
    try {
      await this.sync.open();
    } catch (error) {
      this.set({
        notice:
          error instanceof ApiError
            ? error.message
            : 'The film could not be loaded: the server does not answer. Reload the page to try again.',
      });
      return;
    }
    this.listen();
  }

  /** Hears what happens to the film. A stream that the browser has given up is opened anew. */
  private listen(): void {
    this.events = new EventSource(`/api/films/${this.filmId}/events`);
    this.events.onopen = () => {
      this.set({ isConnected: true });
      void this.refresh();
    };
    this.events.onerror = () => {
      this.set({ isConnected: false });
      if (this.events?.readyState === EventSource.CLOSED) this.listenAgain = setTimeout(() => this.listen(), LISTEN_AGAIN_MS);
    };
    this.events.onmessage = ({ data }: MessageEvent<string>) => {
      const event = JSON.parse(data) as { kind: string; revision?: number; matteId?: string; frame?: number | null };
      if (event.kind === 'jobs') void this.refreshJobs();
      if (event.kind === 'media') void this.refreshMedia();
      if (event.kind === 'matte') void this.matteChanged(event.matteId!, event.frame!);
      if (event.kind === 'film') void this.sync.heard(event.revision!);
    };
  }

  close(): void {
    clearTimeout(this.listenAgain);
    this.events?.close();
    this.sync.close();
  }

  /** Makes a named change. Nothing is stored when it changes nothing. */
  edit(name: string, change: (draft: Draft<Film>) => void): void {
    const { film: before } = this.snapshot();
    this.sync.edit(name, change);
    const { film: after } = this.snapshot();
    if (before !== null && after !== null && before.shots !== after.shots) this.tellOfParted(before, after);
  }

  private tellOfKnown(mediumId: string, file: File, how: SendHow): void {
    const known = this.snapshot().shelf.find((m) => m.id === mediumId);
    const name = known?.facts?.name ?? known?.sound?.name ?? known?.name ?? 'another name';
    this.notify(`${file.name} is on the shelf already, as ${name}.`, {
      label: 'Import it again',
      take: () => this.uploads.send(file, { ...how, isAgain: true }),
    });
  }

  /** What was made of joins is never lost in silence. */
  private tellOfParted(before: Film, after: Film): void {
    const known = new Set(joinsAside(before).map((a) => a.join.id));
    const parted = joinsAside(after).filter((a) => !known.has(a.join.id));
    if (parted.length === 0) return;
    const names = parted.map((a) => a.join.name).join(', ');
    this.notify(`Put aside, since ${parted.length === 1 ? 'its shots part' : 'their shots part'}: ${names}.`, {
      label: 'Bring back',
      take: () => {
        const ids = parted.map((a) => a.join.id);
        this.edit(`Brought ${names} back`, (d) => {
          for (const id of ids) if (joinsAside(d).some((a) => a.join.id === id)) bringBack(d, id, newId);
        });
      },
    });
  }

  /** What this window can undo and redo: what was there when it opened, and what it has done itself. */
  stacks(): UndoStacks {
    return this.sync.stacks();
  }

  /** Whether the film was changed before, in ways that can no longer be undone here. */
  isCutOff(): boolean {
    return this.sync.isCutOff();
  }

  undo(): void {
    this.sync.undo();
  }

  redo(): void {
    this.sync.redo();
  }

  /** Forgets what was set aside. */
  discardAside(): void {
    this.sync.discardAside();
  }

  /** Tries once more to store what was set aside, as far as it still fits the film. */
  retryAside(): void {
    this.sync.retryAside();
  }

  /** Waits until every change has reached the server. @returns whether they have; a server that is out of reach is told */
  allSent(): Promise<boolean> {
    return this.sync.allSent();
  }

  notify(notice: string | null, offer: Offer | null = null): void {
    this.set({ notice, offer });
  }

  /** Called when the stored coverage of a matte has changed on a medium frame, or with null on any. */
  onMatte: (matteId: string, frame: number | null) => void = () => undefined;

  /** Loads what frames a matte has, unless that is known. */
  async wantMatteFrames(matteId: string): Promise<void> {
    if (!this.snapshot().matteFrames.has(matteId)) await this.mattes.refresh(matteId);
  }

  /** Stores what a hand has painted on one frame. */
  async storeMatteFrame(matteId: string, frame: number, coverage: StoredCoverage, madeFrom: string): Promise<void> {
    await this.mattes.put(matteId, frame, coverage, madeFrom);
    await this.matteChanged(matteId, frame);
  }

  /** Coverage of one frame from the server; null where it has none. */
  coverage(matteId: string, frame: number, which: 'coverage' | 'base'): Promise<StoredCoverage | null> {
    return this.mattes.coverage(matteId, frame, which);
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
    await this.askWhenSaved(`mattes/${matteId}`, { do: settled ? 'settle' : 'open' });
    await this.mattes.refresh(matteId);
  }

  /**
   * Something for the server to do with the film as it is here: asked once every change has reached it.
   * @returns whether it was asked; what keeps it from that is told
   */
  async askWhenSaved(path: string, body: unknown): Promise<boolean> {
    const isSent = await this.allSent();
    if (isSent) await this.ask(path, body);
    return isSent;
  }

  private async matteChanged(matteId: string, frame: number | null): Promise<void> {
    this.onMatte(matteId, frame);
    await this.mattes.refresh(matteId);
  }

  async refreshJobs(): Promise<void> {
    await this.quietly(async () => this.set({ jobs: await call<JobView[]>('GET', `/api/films/${this.filmId}/jobs`) }));
  }

  async refreshMedia(): Promise<void> {
    await this.quietly(async () => this.set(await this.fetchShelf()));
  }

  /** What the shelf holds. What is as it was stays the same, so that nothing is drawn anew for a card's progress. */
  private async fetchShelf(): Promise<Pick<FilmState, 'shelf' | 'media' | 'sounds'>> {
    this.toldShelf = await call<ShelfMedium[]>('GET', `/api/films/${this.filmId}/media`);
    return this.shelfOf(this.snapshot().film);
  }

  private shelfOf(film: Film | null): Pick<FilmState, 'shelf' | 'media' | 'sounds'> {
    const shelf = namedShelf(this.toldShelf, film?.mediumNames ?? []);
    const { media, sounds } = this.snapshot();
    return { shelf, media: sameOr(media, readyMedia(shelf)), sounds: sameOr(sounds, readySounds(shelf)) };
  }

  private async refresh(): Promise<void> {
    await Promise.all([this.refreshJobs(), this.refreshMedia()]);
    this.sync.reconnected();
  }

  /** For refreshes: the next event or retry asks again, so a lost connection needs no words of its own. */
  private async quietly(work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      if (error instanceof ApiError) this.set({ notice: error.message });
    }
  }

  private set(given: Partial<FilmState>): void {
    const { film } = this.snapshot();
    const isNamedAnew = given.film != null && given.film.mediumNames !== film?.mediumNames;
    const part = isNamedAnew ? { ...given, ...this.shelfOf(given.film) } : given;
    // what was offered went with the notice it was for
    this.known.setState('notice' in part && !('offer' in part) ? { ...part, offer: null } : part);
  }
}

/** The map as it was where the new one holds the same. */
const sameOr = <V>(before: ReadonlyMap<string, V>, now: ReadonlyMap<string, V>): ReadonlyMap<string, V> =>
  isSame([...before], [...now]) ? before : now;
