import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { produce } from 'immer';
import type { Knex } from 'knex';
import { addShot, makeWipePast, renameJoin, setOutline, trimStart } from '../core/film/edits';
import { createFilm, type Film, type Media } from '../core/film/film';
import { readyMedia } from '../core/film/media-facts';
import { placedJoins } from '../core/film/timing';
import { wipeMatte } from '../core/check/wipe';
import { corner, type Outline } from '../core/matte/outline';
import { rootFolder } from './data-folder';
import { addFilm } from './films';
import { copyMedium, ingestMedium, listMedia } from './media';

export const DEMO_FILM_NAME = 'Small Hours';

const FILES = ['street-tram.webm', 'shop-pan.webm'];

/** Film frame of street-tram → x of the tram's trailing edge at the top and at the bottom of the frame, from the centre. */
const TRAILING_EDGE: readonly (readonly [number, number, number])[] = [[73, 760, 760]];

/** Fills an empty data folder with the demo film; an existing one is left as it is. Gives the film's id. */
export async function seedDemoFilm(db: Knex, say: (line: string) => void): Promise<string> {
  const known = await db<{ id: string; document: string }>('films');
  const present = known.find((f) => (JSON.parse(f.document) as Film).name === DEMO_FILM_NAME);
  if (present !== undefined) return present.id;
  const filmId = await addFilm(db, createFilm(DEMO_FILM_NAME, 1280, 720, { numerator: 24, denominator: 1 }));
  for (const file of FILES) {
    const path = join(rootFolder(), 'demo/media', file);
    if (!existsSync(path)) throw new Error(`demo/media/${file} is missing; the checkout is incomplete`);
    say(`preparing ${file}`);
    const id = await copyMedium(db, filmId, file, path);
    await ingestMedium(db, id, new AbortController().signal, () => undefined);
  }
  const film = composeDemoFilm(readyMedia(await listMedia(db, filmId)));
  await db('films').where({ id: filmId }).update({ document: JSON.stringify(film) });
  return filmId;
}

/** The reel: the tram wipe as made, and the same pair once more as a plain cut, for trying. */
export function composeDemoFilm(media: Media): Film {
  const [street, shop] = [...media.values()];
  if (street === undefined || shop === undefined) throw new Error('the demo film needs both its shots');
  return produce(createFilm(DEMO_FILM_NAME, 1280, 720, { numerator: 24, denominator: 1 }), (film) => {
    [street, shop, street, shop].forEach((medium, i) => addShot(film, medium, i, randomUUID));
    for (const shot of film.shots) if (shot.mediumId === shop.id) trimStart(film, shop, shot.id, 24, randomUUID);
    const [made, back, unmade] = placedJoins(film).map((p) => p.join.id);
    renameJoin(film, made!, 'Tram wipe');
    renameJoin(film, back!, 'Back to the street');
    renameJoin(film, unmade!, 'Tram wipe, to try');
    makeWipePast(film, made!, randomUUID);
    const { matte } = wipeMatte(film, placedJoins(film)[0]!)!;
    setOutline(film, media, matte.id, trailingEdgeOutline());
  });
}

/** Four corners beyond the frame; the left side follows the trailing edge. */
function trailingEdgeOutline(): Outline {
  return {
    closed: true,
    keys: TRAILING_EDGE.map(([frame, top, bottom]) => ({
      frame,
      ease: 'straight' as const,
      points: [corner(top, -460), corner(1500, -460), corner(1500, 460), corner(bottom, 460)],
    })),
  };
}
