import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { NextResponse } from 'next/server';
import { receiveMatteFile } from '../../../../../../../server/bring-in-matte';
import { AppError } from '../../../../../../../server/errors';
import { bringInQuery, idSchema, parse } from '../../../../../../../server/film-schema';
import { loadFilm } from '../../../../../../../server/films';
import { handle } from '../../../../../../../server/http';
import { getWorkshop } from '../../../../../../../server/workshop';

/** The body is the file itself: a grey video or a zip of pictures. */
export const PUT = handle<{ film: string; matte: string }>(async (request, { params }) => {
  const { db, jobs } = await getWorkshop();
  const { film, matte: matteId } = await params;
  const filmId = parse(idSchema, film);
  const { first } = parse(bringInQuery, Object.fromEntries(request.nextUrl.searchParams), true);
  const matte = (await loadFilm(db, filmId)).film.mattes.find((m) => m.id === matteId);
  if (matte?.painted === undefined) throw new AppError('not-found', 'There is no such painted matte in this film.');
  if (request.body === null) throw new AppError('unusable-file', 'The file is empty.');
  const file = await receiveMatteFile(Readable.fromWeb(request.body as ReadableStream<Uint8Array>));
  const id = await jobs.add(filmId, 'bring in', matte.id, `Bringing in ${matte.name}`, { matteId: matte.id, file, first });
  return NextResponse.json({ id }, { status: 201 });
});
