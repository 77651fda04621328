import { call } from './api';
import type { FilmStore } from './film-store';

/** Saves a picture of a film frame as a file, at the film's own size, once every change has been stored. */
export async function savePicture(store: FilmStore, frame: number): Promise<void> {
  if (await store.allSent()) location.assign(`/api/films/${store.filmId}/frames/${frame}`);
}

/** Puts a picture of a film frame on the shelf as a still. */
export async function keepPicture(store: FilmStore, frame: number): Promise<void> {
  if (!(await store.allSent())) return;
  try {
    const { name } = await call<{ name: string }>('POST', `/api/films/${store.filmId}/frames/${frame}`);
    store.notify(`${name.replace(/\.png$/, '')} is on the shelf as a still.`);
  } catch (error) {
    store.notify(`The picture could not be made: ${(error as Error).message}`);
  }
}
