import { EventEmitter } from 'node:events';

/** Something a page that shows the film wants to hear of at once. */
export type FilmEvent =
  | { readonly kind: 'jobs' }
  | { readonly kind: 'media' }
  /** Its stored coverage on a medium frame has changed, or with null on several. */
  | { readonly kind: 'matte'; readonly matteId: string; readonly frame: number | null }
  | { readonly kind: 'film'; readonly revision: number };

const shared = globalThis as { irimiEvents?: EventEmitter };

function emitter(): EventEmitter {
  shared.irimiEvents ??= new EventEmitter().setMaxListeners(0);
  return shared.irimiEvents;
}

export const tellFilm = (filmId: string, event: FilmEvent): boolean => emitter().emit(filmId, event);

/** Calls `listener` for every event of a film until the returned function is called. */
export function listenToFilm(filmId: string, listener: (event: FilmEvent) => void): () => void {
  emitter().on(filmId, listener);
  return () => void emitter().off(filmId, listener);
}
