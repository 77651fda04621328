import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import type { Film } from '../core/film/film';
import { makeEdit } from '../core/film/history';
import { noteFrameEdit } from '../core/film/edits/mattes';
import { AppError } from './errors';
import { tellFilm } from './events';
import { storeEdit } from './film-edits';
import { loadFilm } from './films';
import { hasFrames } from './matte-frames';

const LAST_TRY = 5;

/** A change of stored frames: the id it is remembered under, and the window it was asked for in. */
export interface FrameEdit {
  readonly editId: string;
  readonly window: string | null;
}

/** One that no window asked for. */
export const newFrameEdit = (window: string | null = null): FrameEdit => ({ editId: randomUUID(), window });

/**
 * Stores an edit that the server makes for a window, or for none; `make` gives null when there is nothing to change any more.
 */
export async function editFilm(
  db: Knex,
  filmId: string,
  window: string | null,
  make: (film: Film) => ReturnType<typeof makeEdit>,
): Promise<void> {
  for (let attempt = 1; ; attempt++) {
    const { film, revision } = await loadFilm(db, filmId);
    const made = make(film);
    if (made === null) return;
    try {
      tellFilm(filmId, { kind: 'film', revision: await storeEdit(db, filmId, { base: revision, edit: made.edit, window }) });
      return;
    } catch (error) {
      // a page stored something in between: once more on what there is now
      if (!(error instanceof AppError && error.code === 'conflict') || attempt === LAST_TRY) throw error;
    }
  }
}

/** Makes a change of stored frames one that can be taken back by name; one that changed no frame is not worth an edit. */
export async function noteFrames(
  db: Knex,
  filmId: string,
  matteId: string,
  { editId, window }: FrameEdit,
  name: (matte: string) => string,
): Promise<void> {
  if (!(await hasFrames(db, filmId, matteId, editId))) return;
  await editFilm(db, filmId, window, (film) => {
    const matte = film.mattes.find((m) => m.id === matteId);
    return matte === undefined ? null : makeEdit(film, name(matte.name), (draft) => noteFrameEdit(draft, matteId, editId));
  });
}
