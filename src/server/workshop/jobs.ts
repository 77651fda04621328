import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import PQueue from 'p-queue';
import type { CarryOrder, JobKind, JobState, JobView } from '../../core/film/job';
import { dataFolder } from '../base/data-folder';
import { AppError, troubleOf } from '../base/errors';
import { tellFilm } from '../base/events';
import type { Asked } from '../films/film-edits';

interface JobRow {
  id: string;
  film_id: string;
  kind: JobKind;
  subject_id: string;
  label: string;
  state: JobState;
  error: string | null;
  payload: string | null;
  added_at: number;
  window: string | null;
  asked_at: number | null;
  /** How often it was begun. */
  attempts: number;
  cost: number;
  /** Ids of the jobs that it is begun after, as JSON; null for none. */
  after: string | null;
}

/** Does one job; throws to fail it. */
export type JobRunner = (
  job: {
    readonly id: string;
    readonly filmId: string;
    readonly subjectId: string;
    readonly asked: Asked;
    readonly order: unknown;
  },
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
) => Promise<void>;

interface Running {
  readonly row: JobRow;
  readonly abort: AbortController;
  readonly began: number;
  progress: number;
  told: number;
  readonly ended: Promise<void>;
}

/** Jobs that have ended which a page hears of. */
const ENDED_SHOWN = 30;

/** Until it has ended a job is never all done. */
const NEARLY = 0.99;

/** Progress reaches the pages at most this often. */
const TELL_EVERY_MS = 150;

/** What runs beside what: a long import holds up no carry, and a file that is being sent out neither. */
const LANES: Record<Lane, { readonly concurrency: number }> = {
  import: { concurrency: 2 },
  work: { concurrency: 1 },
  'short send': { concurrency: 1 },
  'long send': { concurrency: 1 },
};
type Lane = 'import' | 'work' | 'short send' | 'long send';

/** Frames up to which an order is a short one, that waits for no long one. */
const SHORT_SEND = 480;

function laneOf({ kind, cost }: Pick<JobRow, 'kind' | 'cost'>): Lane {
  if (kind === 'ingest' || kind === 'sound') return 'import';
  if (kind !== 'send') return 'work';
  return cost <= SHORT_SEND ? 'short send' : 'long send';
}

/** A job that was under way this often when the process ended is not tried again. */
const MOST_ATTEMPTS = 2;
const SET_ASIDE = 'This was under way twice when the program came to a sudden end, and was set aside. Try again with something smaller.';

export interface NewJob {
  readonly filmId: string;
  readonly kind: JobKind;
  readonly subjectId: string;
  readonly label: string;
  readonly order?: unknown;
  /** The window that asked for it. */
  readonly window?: string | null;
  /** What it will take, in a unit of its kind: of those that wait, what takes least comes first. */
  readonly cost?: number;
  /** Jobs that it is begun after, however they end. */
  readonly after?: readonly string[];
}

/** A job that ended without having been run to an end of its own. */
export interface AbandonedJob {
  readonly kind: JobKind;
  readonly subjectId: string;
  readonly order: unknown;
}

const UNFORESEEN = 'This came to an end with an error that nobody foresaw; the log of the server says which. Try again.';

/** What is told of a failure: what was meant to be read. What tools and the system say is for the log. */
const sentenceOf = (error: unknown): string =>
  error instanceof AppError ? error.message : (troubleOf(error, dataFolder())?.message ?? UNFORESEEN);

/** Work in lanes: each lane has its own queue. Jobs live in the database and survive restarts. */
export class JobQueue {
  private readonly db: Knex;
  private readonly runners: Record<JobKind, JobRunner>;
  private readonly onAbandoned: (job: AbandonedJob, why: string) => Promise<void>;
  private readonly lanes = Object.fromEntries(Object.entries(LANES).map(([lane, options]) => [lane, new PQueue(options)])) as Record<
    Lane,
    PQueue
  >;
  private readonly running = new Map<string, Running>();
  /** Jobs that wait for others to end. */
  private readonly held = new Map<string, JobRow>();
  private isLeaving = false;

  /** `onAbandoned` hears of jobs that end without having been run, and why. */
  constructor(db: Knex, runners: Record<JobKind, JobRunner>, onAbandoned: JobQueue['onAbandoned'] = () => Promise.resolve()) {
    this.db = db;
    this.runners = runners;
    this.onAbandoned = onAbandoned;
  }

  /** Takes up what a stopped process left behind, but for what ended it before. */
  async resume(): Promise<void> {
    for (const row of await this.db<JobRow>('jobs').where({ state: 'running' }).where('attempts', '>=', MOST_ATTEMPTS)) {
      await this.mark(row, 'failed', SET_ASIDE);
      await this.abandon(row, SET_ASIDE);
    }
    await this.db<JobRow>('jobs').where({ state: 'running' }).update({ state: 'queued' });
    for (const row of await this.db<JobRow>('jobs').where({ state: 'queued' }).orderBy(['added_at', 'id'])) await this.enqueue(row);
  }

  async add({ filmId, kind, subjectId, label, order = null, window = null, cost = 0, after = [] }: NewJob): Promise<string> {
    const film = await this.db<{ id: string; revision: number }>('films').where({ id: filmId }).first('revision');
    const row: JobRow = {
      id: randomUUID(),
      film_id: filmId,
      kind,
      subject_id: subjectId,
      label,
      state: 'queued',
      error: null,
      payload: JSON.stringify(order),
      added_at: Date.now(),
      window,
      asked_at: film?.revision ?? null,
      attempts: 0,
      cost: Math.round(cost),
      after: after.length === 0 ? null : JSON.stringify(after),
    };
    await this.db<JobRow>('jobs').insert(row);
    tellFilm(filmId, { kind: 'jobs' });
    await this.enqueue(row);
    return row.id;
  }

  /** Stops a running job, and waits until it has ended, or takes a queued one out. One that has ended stays as it is. */
  async cancel(id: string): Promise<void> {
    const running = this.running.get(id);
    if (running !== undefined) {
      running.abort.abort(new Error('cancelled'));
      await running.ended;
      return;
    }
    const row = await this.db<JobRow>('jobs').where({ id, state: 'queued' }).first();
    if (row === undefined) return;
    this.held.delete(id);
    await this.mark(row, 'cancelled', null);
    await this.abandon(row, 'Stopped before it was begun.');
    await this.release();
  }

  /** Whether a job of this kind is under way, or waits, for a thing. */
  async isWaiting(kind: JobKind, subjectId: string): Promise<boolean> {
    return (
      (await this.db<JobRow>('jobs').where({ kind, subject_id: subjectId }).whereIn('state', ['queued', 'running']).first()) !== undefined
    );
  }

  /** Cancels what is under way, or waits, for one medium, export, matte or track. */
  async cancelOf(subjectId: string): Promise<void> {
    const open = await this.db<JobRow>('jobs').where({ subject_id: subjectId }).whereIn('state', ['queued', 'running']);
    for (const { id } of open) await this.cancel(id);
  }

  /** Cancels all of a kind that is under way, or waits, in a film. */
  async cancelKind(filmId: string, kind: JobKind): Promise<void> {
    const open = await this.db<JobRow>('jobs').where({ film_id: filmId, kind }).whereIn('state', ['queued', 'running']);
    // those that wait first, so that none of them begins in between
    for (const { id } of open.sort((a, b) => Number(a.state === 'running') - Number(b.state === 'running'))) await this.cancel(id);
  }

  /**
   * For when the program ends in good order: what is under way goes back among what waits, as if it had not been begun, and begins
   * again with the program. Nothing is begun any more, and nothing that ends now counts.
   */
  async leave(): Promise<void> {
    this.isLeaving = true;
    for (const lane of Object.values(this.lanes)) lane.pause();
    for (const { row } of this.running.values())
      await this.db<JobRow>('jobs').where({ id: row.id }).update({ state: 'queued', attempts: row.attempts });
  }

  /** Every job of a film that is under way or waits, and the newest of those that have ended; newest first. */
  async list(filmId: string): Promise<JobView[]> {
    const jobs = (): Knex.QueryBuilder<JobRow, JobRow[]> => this.db<JobRow>('jobs').where({ film_id: filmId });
    const open = await jobs().whereIn('state', ['queued', 'running']);
    const ended = await jobs().whereNotIn('state', ['queued', 'running']).orderBy('added_at', 'desc').limit(ENDED_SHOWN);
    const views = [...open, ...ended].sort((a, b) => b.added_at - a.added_at).map((row) => this.view(row));
    return Promise.all(views);
  }

  progressOf(subjectId: string): number {
    for (const { row, progress } of this.running.values()) if (row.subject_id === subjectId) return progress;
    return 0;
  }

  private async view(row: JobRow): Promise<JobView> {
    const live = this.running.get(row.id) ?? null;
    const elapsed = live === null ? 0 : (Date.now() - live.began) / 1000;
    const secondsLeft = live !== null && live.progress > 0.02 ? (elapsed * (1 - live.progress)) / live.progress : null;
    const progress = row.state === 'done' ? 1 : Math.min(NEARLY, live?.progress ?? 0);
    return {
      id: row.id,
      kind: row.kind,
      filmId: row.film_id,
      label: row.label,
      state: row.state,
      progress,
      secondsLeft,
      error: row.error,
      subjectId: row.subject_id,
      waitsFor: row.state === 'queued' ? ((await this.awaitedBy(row))[0]?.label ?? null) : null,
      carry: row.kind === 'carry' ? (JSON.parse(row.payload ?? 'null') as CarryOrder | null) : null,
    };
  }

  private abandon(row: JobRow, why: string): Promise<void> {
    const order = JSON.parse(row.payload ?? 'null') as unknown;
    return this.onAbandoned({ kind: row.kind, subjectId: row.subject_id, order }, why);
  }

  private async enqueue(row: JobRow): Promise<void> {
    // held at first, so that what ends meanwhile lets it go
    this.held.set(row.id, row);
    if ((await this.awaitedBy(row)).length > 0 || !this.held.delete(row.id)) return;
    void this.lanes[laneOf(row)].add(() => this.work(row.id), { priority: -row.cost });
  }

  /** The jobs that one is begun after and that have not ended. */
  private async awaitedBy({ after }: JobRow): Promise<readonly JobRow[]> {
    if (after === null) return [];
    return this.db<JobRow>('jobs')
      .whereIn('id', JSON.parse(after) as string[])
      .whereIn('state', ['queued', 'running']);
  }

  /** Lets go what waited for a job that has ended. */
  private async release(): Promise<void> {
    for (const row of [...this.held.values()]) await this.enqueue(row);
  }

  private async work(id: string): Promise<void> {
    const row = await this.db<JobRow>('jobs').where({ id, state: 'queued' }).first();
    if (row === undefined || this.isLeaving) return; // cancelled while it waited
    let end = (): void => undefined;
    const ended = new Promise<void>((resolve) => (end = resolve));
    const running: Running = { row, abort: new AbortController(), began: Date.now(), progress: 0, told: 0, ended };
    this.running.set(id, running);
    try {
      await this.db<JobRow>('jobs').where({ id }).increment('attempts', 1);
      await this.mark(row, 'running', null);
      const [state, error] = await this.outcome(running);
      this.running.delete(id);
      if (!this.isLeaving) await this.mark(row, state, error);
    } finally {
      this.running.delete(id);
      end();
    }
    if (!this.isLeaving) await this.release();
  }

  /** Runs the job; how it ended, and why it failed. */
  private async outcome(running: Running): Promise<readonly [JobState, string | null]> {
    const { row, abort } = running;
    const job = {
      id: row.id,
      filmId: row.film_id,
      subjectId: row.subject_id,
      asked: { window: row.window, revision: row.asked_at },
      order: JSON.parse(row.payload ?? 'null') as unknown,
    };
    try {
      await this.runners[row.kind](job, abort.signal, (fraction) => {
        running.progress = fraction;
        if (Date.now() - running.told < TELL_EVERY_MS) return;
        running.told = Date.now();
        tellFilm(row.film_id, { kind: 'jobs' });
      });
      return ['done', null];
    } catch (error) {
      if (abort.signal.aborted) return ['cancelled', null];
      if (this.isLeaving) return ['queued', null];
      console.error(`Job ${row.label} failed:`, error);
      return ['failed', sentenceOf(error)];
    }
  }

  private async mark(row: JobRow, state: JobState, error: string | null): Promise<void> {
    await this.db<JobRow>('jobs').where({ id: row.id }).update({ state, error });
    tellFilm(row.film_id, { kind: 'jobs' });
    tellFilm(row.film_id, { kind: 'media' });
  }
}
