import type { Medium } from './film';

/** What the shelf shows of a medium, while it comes in too. */
export type MediumStatus = 'waiting' | 'working' | 'ready' | 'failed';

/** A medium as the server describes it. `facts` is null until ffprobe has looked at it. */
export interface ShelfMedium {
  readonly id: string;
  readonly name: string;
  readonly status: MediumStatus;
  /** Why it failed, as a sentence for the card. */
  readonly error: string | null;
  readonly bytes: number;
  /** Share of the proxy that is made, 0..1. */
  readonly progress: number;
  readonly facts: MediumFacts | null;
}

export interface MediumFacts extends Medium {
  readonly codec: string;
  readonly hasSound: boolean;
  /** The file's own frames were not evenly spaced; frames were repeated or dropped to even them out. */
  readonly wasVariable: boolean;
  readonly proxyWidth: number;
  readonly proxyHeight: number;
  /** The strip picture holds this many tiles in rows of `stripColumns`. */
  readonly stripTiles: number;
  readonly stripColumns: number;
}

/** The media that frames can be planned with. */
export const readyMedia = (shelf: readonly ShelfMedium[]): Map<string, MediumFacts> =>
  new Map(shelf.flatMap((m) => (m.status === 'ready' && m.facts !== null ? [[m.id, m.facts]] : [])));
