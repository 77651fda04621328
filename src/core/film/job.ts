export const JOB_KINDS = ['ingest', 'send', 'carry', 'smooth', 'follow', 'find edge', 'bring in', 'sound', 'find beats', 'pair'] as const;
export type JobKind = (typeof JOB_KINDS)[number];
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
  /** The medium, export, matte or track it makes. */
  readonly subjectId: string;
  /** What it is begun after, in words; null where it waits for nothing but its turn. */
  readonly waitsFor: string | null;
  /** What a carry was told to do, so that a stopped one can go on. */
  readonly carry: CarryOrder | null;
}

/** Carry a matte from one of its frames to another, both included. Medium frames; either may be the later one. */
export interface CarryOrder {
  readonly matteId: string;
  readonly from: number;
  readonly to: number;
}

/** Take jitter out of the stored frames of a matte between these medium frames, both included; strength 0..1. */
export interface SmoothOrder {
  readonly matteId: string;
  readonly first: number;
  readonly last: number;
  readonly strength: number;
}

/** Follow a track from its keys through these medium frames. */
export interface FollowOrder {
  readonly trackId: string;
  readonly first: number;
  readonly last: number;
}

/** Frames of each shot that are compared at most. */
export const MOST_PAIRED = 240;

/** Compare frames of two media, all with all: medium frames from `first` on, every `step`-th, `count` of them. */
export interface PairOrder {
  readonly a: PairSpan;
  readonly b: PairSpan;
}

export interface PairSpan {
  readonly mediumId: string;
  readonly first: number;
  readonly count: number;
  readonly step: number;
}

/** Find the trailing edge of what crosses these medium frames, and make the outline of a matte follow it. */
export interface FindEdgeOrder {
  readonly matteId: string;
  readonly first: number;
  readonly last: number;
}

export type SendFormat = 'webm' | 'mp4' | 'wav';

/** A matte as numbered PNGs in a zip, as lossless grey video, or the picture with the matte as its alpha. */
export type MatteFormat = 'png' | 'grey' | 'alpha webm' | 'alpha mov' | 'alpha mkv';

/** Send a matte out on these medium frames, both included. */
export interface MatteSendOrder {
  readonly matteId: string;
  readonly format: MatteFormat;
  readonly first: number;
  readonly last: number;
}

/** Endings of the files that are sent out. */
export type ExportEnding = SendFormat | 'zip' | 'mkv' | 'mov';

/** What to export, a picture with its sound or the sound alone: the whole film, or one join with `handles` frames on both sides. */
export interface SendOrder {
  readonly format: SendFormat;
  readonly joinId: string | null;
  readonly handles: number;
  /** Jobs that change what is sent, and that it waits for: the film is taken as it is then. */
  readonly after?: readonly string[];
}

/** Kinds of work that change what a film shows when they end. */
const CHANGES_FILM: ReadonlySet<JobKind> = new Set(['ingest', 'carry', 'smooth', 'follow', 'find edge', 'bring in', 'find beats', 'sound']);

/** Jobs under way, or waiting, that change what a film shows. */
export const filmChangers = (jobs: readonly JobView[]): readonly JobView[] => jobs.filter((j) => isUnderWay(j) && CHANGES_FILM.has(j.kind));

/** Bring the frames of a received file in as coverage of a painted matte, from this medium frame on. */
export interface BringInOrder {
  readonly matteId: string;
  readonly file: string;
  readonly first: number;
}

/** Whether a job waits or runs. */
export const isUnderWay = ({ state }: JobView): boolean => state === 'queued' || state === 'running';
