import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import type { CarryOrder, JobKind, JobState, JobView } from '../core/film/job';
import { tellFilm } from './events';

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
}

/** Does one job; throws to fail it. */
export type JobRunner = (
  job: { readonly id: string; readonly filmId: string; readonly subjectId: string; readonly order: unknown },
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
) => Promise<void>;

interface Running {
  readonly row: JobRow;
  readonly abort: AbortController;
  readonly began: number;
  progress: number;
  told: number;
}

/** Progress reaches the pages at most this often. */
const TELL_EVERY_MS = 150;

/** One queue, one job at a time: the work itself uses all cores. Jobs live in the database and survive restarts. */
export class JobQueue {
  private readonly db: Knex;
  private readonly runners: Record<JobKind, JobRunner>;
  private running: Running | null = null;
  private looking = false;

  constructor(db: Knex, runners: Record<JobKind, JobRunner>) {
    this.db = db;
    this.runners = runners;
  }

  /** Puts jobs that a stopped process left behind back into the queue, and starts. */
  async resume(): Promise<void> {
    await this.db<JobRow>('jobs').where({ state: 'running' }).update({ state: 'queued' });
    void this.next();
  }

  async add(filmId: string, kind: JobKind, subjectId: string, label: string, order: unknown = null): Promise<string> {
    const id = randomUUID();
    await this.db<JobRow>('jobs').insert({
      id,
      film_id: filmId,
      kind,
      subject_id: subjectId,
      label,
      state: 'queued',
      error: null,
      payload: JSON.stringify(order),
      added_at: Date.now(),
    });
    tellFilm(filmId, { kind: 'jobs' });
    void this.next();
    return id;
  }

  /** Stops a running job or takes a queued one out. One that has ended stays as it is. */
  async cancel(id: string): Promise<void> {
    if (this.running?.row.id === id) {
      this.running.abort.abort(new Error('cancelled'));
      return;
    }
    const row = await this.db<JobRow>('jobs').where({ id, state: 'queued' }).first();
    if (row === undefined) return;
    await this.db<JobRow>('jobs').where({ id }).update({ state: 'cancelled' });
    tellFilm(row.film_id, { kind: 'jobs' });
  }

  /** The newest jobs of a film, newest first. */
  async list(filmId: string): Promise<JobView[]> {
    const rows = await this.db<JobRow>('jobs').where({ film_id: filmId }).orderBy('added_at', 'desc').limit(30);
    return rows.map((row) => this.view(row));
  }

  progressOf(subjectId: string): number {
    return this.running?.row.subject_id === subjectId ? this.running.progress : 0;
  }

  private view(row: JobRow): JobView {
    const live = this.running?.row.id === row.id ? this.running : null;
    const elapsed = live === null ? 0 : (Date.now() - live.began) / 1000;
    const secondsLeft = live !== null && live.progress > 0.02 ? (elapsed * (1 - live.progress)) / live.progress : null;
    const progress = row.state === 'done' ? 1 : (live?.progress ?? 0);
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
      carry: row.kind === 'carry' ? (JSON.parse(row.payload ?? 'null') as CarryOrder | null) : null,
    };
  }

  private async next(): Promise<void> {
    if (this.looking || this.running !== null) return;
    this.looking = true;
    try {
      for (let row = await this.firstQueued(); row !== undefined; row = await this.firstQueued()) await this.work(row);
    } finally {
      this.looking = false;
    }
  }

  private firstQueued(): Promise<JobRow | undefined> {
    return this.db<JobRow>('jobs').where({ state: 'queued' }).orderBy(['added_at', 'id']).first();
  }

  private async work(row: JobRow): Promise<void> {
    const running: Running = { row, abort: new AbortController(), began: Date.now(), progress: 0, told: 0 };
    this.running = running;
    await this.mark(row, 'running', null);
    try {
      const job = { id: row.id, filmId: row.film_id, subjectId: row.subject_id, order: JSON.parse(row.payload ?? 'null') as unknown };
      await this.runners[row.kind](job, running.abort.signal, (fraction) => {
        running.progress = fraction;
        if (Date.now() - running.told < TELL_EVERY_MS) return;
        running.told = Date.now();
        tellFilm(row.film_id, { kind: 'jobs' });
      });
      this.running = null;
      await this.mark(row, 'done', null);
    } catch (error) {
      this.running = null;
      const cancelled = running.abort.signal.aborted;
      if (!cancelled) console.error(`Job ${row.label} failed:`, error);
      await this.mark(row, cancelled ? 'cancelled' : 'failed', cancelled ? null : (error as Error).message);
    }
  }

  private async mark(row: JobRow, state: JobState, error: string | null): Promise<void> {
    await this.db<JobRow>('jobs').where({ id: row.id }).update({ state, error });
    tellFilm(row.film_id, { kind: 'jobs' });
    tellFilm(row.film_id, { kind: 'media' });
  }
}
