import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { NextResponse } from 'next/server';
import { AppError } from '../../../../../server/errors';
import { tellFilm } from '../../../../../server/events';
import { idSchema, parse } from '../../../../../server/film-schema';
import { loadFilm } from '../../../../../server/films';
import { handle } from '../../../../../server/http';
import { listMedia, receiveMedium } from '../../../../../server/media';
import { getWorkshop } from '../../../../../server/workshop';

export const GET = handle<{ film: string }>(async (_, { params }) => {
  const { db, jobs } = await getWorkshop();
  return NextResponse.json(await listMedia(db, parse(idSchema, (await params).film), (id) => jobs.progressOf(id)));
});

/** The body is the file itself; its name is in the query. */
export const PUT = handle<{ film: string }>(async (request, { params }) => {
  const { db, jobs } = await getWorkshop();
  const filmId = parse(idSchema, (await params).film);
  await loadFilm(db, filmId);
  const name = (request.nextUrl.searchParams.get('name') ?? '').split(/[\\/]/).pop()!.trim().slice(0, 200);
  if (name === '') throw new AppError('bad-request', 'The file has no name.');
  if (request.body === null) throw new AppError('unusable-file', `${name} is empty.`);
  const length = request.headers.get('content-length');
  const id = await receiveMedium(
    db,
    filmId,
    name,
    Readable.fromWeb(request.body as ReadableStream<Uint8Array>),
    length === null ? null : Number(length),
  );
  await jobs.add(filmId, 'ingest', id, `Preparing ${name}`);
  tellFilm(filmId, { kind: 'media' });
  return NextResponse.json({ id }, { status: 201 });
});
