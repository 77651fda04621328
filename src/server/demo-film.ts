import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { produce } from 'immer';
import type { Knex } from 'knex';
import { addShot, makeWipePast, renameJoin, setMatteUse, setOutline, trimEnd, trimStart } from '../core/film/edits';
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

/** The tram's trailing edge in street-tram: frame, and x from the centre at the top, the middle and the bottom of the frame. */
const TRAILING_EDGE: readonly (readonly [number, number, number, number])[] = [
  [74, 652, 656, 650],
  [81, 34, 34, 34],
  [82, -38, -36, -40],
  [93, -600, -586, -616],
  [95, -704, -690, -720],
];
/** The tram moves about 40 px while the shutter is open; the matte's edge is as soft as the tram's. */
const EDGE_FEATHER_PX = 24;

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
  await db('films')
    .where({ id: filmId })
    .update({ document: JSON.stringify(film) });
  return filmId;
}

/** The reel: the tram wipe as made, and the same pair once more as a plain cut, for trying. */
export function composeDemoFilm(media: Media): Film {
  const [street, shop] = [...media.values()];
  if (street === undefined || shop === undefined) throw new Error('the demo film needs both its shots');
  return produce(createFilm(DEMO_FILM_NAME, 1280, 720, { numerator: 24, denominator: 1 }), (film) => {
    [street, shop, street, shop].forEach((medium, i) => addShot(film, medium, i, randomUUID));
    for (const shot of film.shots) {
      // the tram passes around frame 85; the shop needs pictures before its first frame for the overlap
      if (shot.mediumId === shop.id) trimStart(film, shop, shot.id, 20, randomUUID);
      else trimEnd(film, street, shot.id, 86 - street.frames, randomUUID);
    }
    const [made, back, unmade] = placedJoins(film).map((p) => p.join.id);
    renameJoin(film, made!, 'Tram wipe');
    renameJoin(film, back!, 'Back to the street');
    renameJoin(film, unmade!, 'Tram wipe, to try');
    makeWipePast(film, made!, randomUUID);
    const { matte } = wipeMatte(film, placedJoins(film)[0]!)!;
    const leavingLayer = film.joins.find((j) => j.id === made)!.layers.find((l) => l.source === 'leaving')!;
    setMatteUse(film, made!, leavingLayer.id, matte.id, { featherPx: EDGE_FEATHER_PX });
    setOutline(film, media, matte.id, trailingEdgeOutline());
  });
}

/** Lies beyond the frame on three sides; the left one, slightly bowed, follows the trailing edge. */
function trailingEdgeOutline(): Outline {
  return {
    closed: true,
    keys: TRAILING_EDGE.map(([frame, top, middle, bottom]) => ({
      frame,
      ease: 'straight' as const,
      points: [
        corner(top, -460),
        corner(1500, -460),
        corner(1500, 460),
        corner(bottom, 460),
        { x: middle, y: 0, inX: 0, inY: 150, outX: 0, outY: -150 },
      ],
    })),
  };
}
