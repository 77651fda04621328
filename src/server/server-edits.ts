import type { Knex } from 'knex';
import type { Film } from '../core/film/film';
import { makeEdit } from '../core/film/history';
import { noteFrameEdit } from '../core/film/matte-edits';
import { AppError } from './errors';
import { tellFilm } from './events';
import { loadFilm, storeEdit } from './films';
import { hasFrames } from './matte-frames';

const LAST_TRY = 5;

/** Stores an edit of the server's own; `make` gives null when there is nothing to change any more. */
export async function editFilm(db: Knex, filmId: string, make: (film: Film) => ReturnType<typeof makeEdit>): Promise<void> {
  for (let attempt = 1; ; attempt++) {
    const { film, revision } = await loadFilm(db, filmId);
    const made = make(film);
    if (made === null) return;
    try {
      tellFilm(filmId, { kind: 'film', revision: await storeEdit(db, filmId, revision, made.edit) });
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
  editId: string,
  name: (matte: string) => string,
): Promise<void> {
  if (!(await hasFrames(db, filmId, matteId, editId))) return;
  await editFilm(db, filmId, (film) => {
    const matte = film.mattes.find((m) => m.id === matteId);
    return matte === undefined ? null : makeEdit(film, name(matte.name), (draft) => noteFrameEdit(draft, matteId, editId));
  });
}
