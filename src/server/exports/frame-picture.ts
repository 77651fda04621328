import type { Knex } from 'knex';
import sharp from 'sharp';
import { filmLength } from '../../core/film/timing';
import { AppError } from '../base/errors';
import { loadFilm } from '../films/films';
import { sourcesOf } from './exports';
import { FrameDrawer } from './frame-drawer';

/** A film frame as it is sent out, drawn from the originals, as PNG. @throws AppError 'not-found' for a frame the film has not */
export async function frameAsPng(
  db: Knex,
  filmId: string,
  frame: number,
  signal: AbortSignal,
): Promise<{ readonly name: string; readonly png: Buffer }> {
  const { film } = await loadFilm(db, filmId);
  if (frame < 0 || frame >= filmLength(film)) throw new AppError('not-found', `The film has no frame ${frame}.`);
  const drawer = new FrameDrawer({ ...(await sourcesOf(db, filmId, film, { from: frame, to: frame + 1 })), film, signal }, 'rgba');
  try {
    for await (const { slot } of drawer.draw([frame])) {
      const { width, height } = film;
      const pixels = Uint8Array.from(slot.bytes.subarray(0, 4 * width * height));
      slot.release();
      const png = await sharp(pixels, { raw: { width, height, channels: 4 } }).removeAlpha().png().toBuffer(); // prettier-ignore
      return { name: `${film.name}, frame ${frame}.png`, png };
    }
    throw new AppError('unavailable', `Frame ${frame} could not be drawn.`);
  } finally {
    await drawer.close();
  }
}
