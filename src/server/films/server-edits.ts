import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import type { Film } from '../../core/film/film';
import { makeEdit } from '../../core/film/history';
import { noteFrameEdit } from '../../core/film/edits/mattes';
import { AppError } from '../base/errors';
import { tellFilm } from '../base/events';
import { BY_NO_ONE, storeEdit, type Asked } from './film-edits';
import { loadFilm } from './films';
import { hasFrames } from './matte-frames';

const LAST_TRY = 5;

/** A change of stored frames: the id it is remembered under, and who asked for it. */
export interface FrameEdit {
  readonly editId: string;
  readonly asked: Asked;
}

/** One that no window asked for. */
export const newFrameEdit = (asked = BY_NO_ONE): FrameEdit => ({ editId: randomUUID(), asked });

/**
 * Stores an edit that the server makes for who asked; `make` gives null when there is nothing to change any more.
 */
export async function editFilm(db: Knex, filmId: string, asked: Asked, make: (film: Film) => ReturnType<typeof makeEdit>): Promise<void> {
  for (let attempt = 1; ; attempt++) {
    const { film, revision } = await loadFilm(db, filmId);
    const made = make(film);
    if (made === null) return;
    try {
      tellFilm(filmId, { kind: 'film', revision: await storeEdit(db, filmId, { base: revision, edit: made.edit, asked }) });
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
  { editId, asked }: FrameEdit,
  name: (matte: string) => string,
): Promise<void> {
  if (!(await hasFrames(db, filmId, matteId, editId))) return;
  await editFilm(db, filmId, asked, (film) => {
    const matte = film.mattes.find((m) => m.id === matteId);
    return matte === undefined ? null : makeEdit(film, name(matte.name), (draft) => noteFrameEdit(draft, matteId, editId));
  });
}
