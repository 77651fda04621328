import { NextResponse } from 'next/server';
import type { Film } from '../../../../core/film/film';
import { AppError } from '../../../../server/errors';
import { tellFilm } from '../../../../server/events';
import { idSchema, parse } from '../../../../server/film-schema';
import { loadFilm } from '../../../../server/films';
import { handle } from '../../../../server/http';
import { filmOfMedium, removeMedium } from '../../../../server/media';
import { getWorkshop } from '../../../../server/workshop';

const uses = (film: Film, id: string): boolean => film.shots.some((s) => s.mediumId === id) || film.mattes.some((m) => m.mediumId === id);

export const DELETE = handle<{ medium: string }>(async (_, { params }) => {
  const { db } = await getWorkshop();
  const id = parse(idSchema, (await params).medium);
  const filmId = await filmOfMedium(db, id);
  if (uses((await loadFilm(db, filmId)).film, id))
    throw new AppError('conflict', 'This medium is on the reel or carries a matte. Take its shots off the reel first.');
  await removeMedium(db, id);
  tellFilm(filmId, { kind: 'media' });
  return NextResponse.json({});
});
