export type JobKind = 'ingest' | 'send';
export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';

/** A piece of long work as the page sees it. */
export interface JobView {
  readonly id: string;
  readonly kind: JobKind;
  readonly filmId: string;
  /** What it works on, in words. */
  readonly label: string;
  readonly state: JobState;
  /** 0..1 */
  readonly progress: number;
  /** Seconds still to go, once that can be told. */
  readonly secondsLeft: number | null;
  readonly error: string | null;
  /** The medium or the export it makes. */
  readonly subjectId: string;
}

export type SendFormat = 'webm' | 'mp4';

/** What to send out: the whole film, or one join with `handles` frames on both sides. */
export interface SendOrder {
  readonly format: SendFormat;
  readonly joinId: string | null;
  readonly handles: number;
}
