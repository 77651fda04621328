import type { Film } from '../../core/film/film';
import type { StoredEdit } from '../../core/film/history';
import type { JobView } from '../../core/film/job';
import type { MatteFrame } from '../../core/film/matte-frame';
import type { MediumFacts, ShelfMedium, Sounds } from '../../core/film/media-facts';
import type { AsideEdit } from './kept-edits';
import type { Upload } from './uploads';

/** How the newest change stands. */
export type SaveState =
  | { readonly kind: 'saved'; readonly at: number | null }
  | { readonly kind: 'saving' }
  | { readonly kind: 'offline'; readonly waiting: number };

/** Something to be done by a button beside a notice. */
export interface Offer {
  readonly label: string;
  readonly take: () => void;
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
  /** What can be done about that at once; null where nothing can. */
  readonly offer: Offer | null;
  /** Edits that were refused, or that ended the server. */
  readonly aside: readonly AsideEdit[];
}

/** Before anything is loaded. */
export const UNKNOWN: FilmState = {
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
  offer: null,
  aside: [],
};
