import type { Medium, MediumName } from './film';

/** What the shelf shows of a medium, while it comes in too. */
export type MediumStatus = 'waiting' | 'working' | 'ready' | 'failed';

/**
 * A medium as the server describes it. `facts` is null until it can be used: while it is prepared they tell of the first part of it, as
 * far as that can be used.
 */
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
  /** Its sound, once that is ready; null for a medium without. */
  readonly sound: SoundFacts | null;
  /** Its file is no longer on the server: frames are shown from what was prepared, and cannot be exported. */
  readonly isLost?: true;
}

/** What is known of the sound of a medium. It is kept as stereo at `SOUND_RATE`, on the clock of its pictures where it has any. */
export interface SoundFacts {
  readonly id: string;
  readonly name: string;
  readonly samples: number;
  readonly codec: string;
  /** As it was recorded. */
  readonly sourceRate: number;
  readonly sourceChannels: number;
}

/** Sounds by medium. */
export type Sounds = ReadonlyMap<string, SoundFacts>;

/** Whether a sound had more than two channels, which were mixed down. */
export const isMixedDown = ({ sourceChannels }: SoundFacts): boolean => sourceChannels > 2;

/** Everything the page knows of a medium that is ready. */
export interface MediumFacts extends Medium {
  readonly codec: string;
  readonly hasSound: boolean;
  /** The file's own frames were not evenly spaced; frames were repeated or dropped to even them out. */
  readonly wasVariable: boolean;
  /** Of its first picture, as the file says it: hh:mm:ss:ff, with a semicolon where frames are dropped. */
  readonly timecode?: string | null;
  /** The reel or tape it was recorded on, as the file says it. */
  readonly reelName?: string | null;
  /** The file of it that the page draws from. */
  readonly proxy: 'proxy.webm' | 'proxy.png' | `part-${number}.webm`;
  readonly proxyWidth: number;
  readonly proxyHeight: number;
  /** The strip picture holds this many tiles in rows of `stripColumns`. */
  readonly stripTiles: number;
  readonly stripColumns: number;
}

/** Where in the data folder something was found that is of no film: media, files sent out, files received for a matte. */
export type FoundPlace = 'media' | 'exports' | 'incoming';

/** Something in the data folder that no film knows. */
export interface FoundThing {
  readonly place: FoundPlace;
  /** The name of its file or folder. */
  readonly entry: string;
  /** What it was called, where that is known. */
  readonly name: string;
  readonly bytes: number;
  /** ms */
  readonly changedAt: number;
  /** Whether there is a file in it that a film can use. */
  readonly isUsable: boolean;
}

/** Whether a medium, or the first part of it, can be used. */
export const isUsable = ({ status, facts }: ShelfMedium): boolean => status === 'ready' || (status === 'working' && facts !== null);

/** The sounds that are ready. */
export const readySounds = (shelf: readonly ShelfMedium[]): Sounds =>
  new Map(shelf.flatMap((m) => (m.status === 'ready' && m.sound !== null ? [[m.id, m.sound]] : [])));

/** The media that frames can be planned with. */
export const readyMedia = (shelf: readonly ShelfMedium[]): Map<string, MediumFacts> =>
  new Map(shelf.flatMap((m) => (isUsable(m) && m.facts !== null ? [[m.id, m.facts]] : [])));

/** A shelf whose media go by the names that a film gives them. */
export function namedShelf(shelf: readonly ShelfMedium[], names: readonly MediumName[]): readonly ShelfMedium[] {
  if (names.length === 0) return shelf;
  const nameOf = new Map(names.map((n) => [n.mediumId, n.name]));
  return shelf.map((m) => {
    const name = nameOf.get(m.id);
    if (name === undefined) return m;
    return { ...m, facts: m.facts === null ? null : { ...m.facts, name }, sound: m.sound === null ? null : { ...m.sound, name } };
  });
}
