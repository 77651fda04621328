import type { Strokes } from '../core/matte/cut/strokes';
import type { StoredCoverage } from '../core/matte/coverage/stored-coverage';
import type { ProxySource } from './pictures/protocol';

/** A matte to be cut from strokes on one frame. Only the newest one that waits is done. */
export interface CutRequest {
  readonly kind: 'cut';
  readonly job: number;
  readonly source: ProxySource;
  /** The medium's own size; strokes are in its pixels from the centre. */
  readonly mediumWidth: number;
  readonly mediumHeight: number;
  readonly frame: number;
  readonly strokes: Strokes;
  /** A carried matte that the strokes correct, at analysis size. */
  readonly prior: StoredCoverage | null;
  /** While the pointer is down: answered on a smaller picture, at that size. */
  readonly quick: boolean;
}

/** Each job ends in exactly one reply. */
export type CutReply =
  | { readonly kind: 'cut'; readonly job: number; readonly coverage: StoredCoverage }
  | { readonly kind: 'dropped'; readonly job: number }
  | { readonly kind: 'failed'; readonly job: number; readonly reason: string };
