import { NextResponse } from 'next/server';
import type { Film } from '../../../../core/film/film';
import { AppError } from '../../../../server/errors';
import { tellFilm } from '../../../../server/events';
import { parse } from '../../../../server/parse';
import { idSchema } from '../../../../server/request-schema';
import { loadFilm } from '../../../../server/films';
import { handle } from '../../../../server/http';
import { filmOfMedium, removeMedium } from '../../../../server/media';
import { getWorkshop } from '../../../../server/workshop';

const uses = ({ shots, mattes, tracks = [] }: Film, id: string): boolean =>
  [...shots, ...mattes, ...tracks].some((item) => item.mediumId === id);

/** Takes a medium away for good, while it waits, is being prepared, or could not be used. One that is ready is taken off the shelf by an edit. */
export const DELETE = handle<{ medium: string }>(async (_, { params }) => {
  const { db, jobs } = await getWorkshop();
  const id = parse(idSchema, (await params).medium);
  const filmId = await filmOfMedium(db, id);
  if (uses((await loadFilm(db, filmId)).film, id))
    throw new AppError('conflict', 'This medium is on the reel or carries a matte or a track. Take its shots off the reel first.');
  await jobs.cancelOf(id);
  await removeMedium(db, id);
  tellFilm(filmId, { kind: 'media' });
  return NextResponse.json({});
});
