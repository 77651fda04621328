import { NextResponse } from 'next/server';
import { AppError } from '../../../../../server/errors';
import { findEdgeBody, idSchema, parse } from '../../../../../server/film-schema';
import { loadFilm } from '../../../../../server/films';
import { handle, readJson, windowOf } from '../../../../../server/http';
import { getWorkshop } from '../../../../../server/workshop';

export const POST = handle<{ film: string }>(async (request, { params }) => {
  const { db, jobs } = await getWorkshop();
  const filmId = parse(idSchema, (await params).film);
  const order = parse(findEdgeBody, await readJson(request));
  const matte = (await loadFilm(db, filmId)).film.mattes.find((m) => m.id === order.matteId);
  if (matte === undefined) throw new AppError('not-found', 'There is no such matte in this film.');
  const id = await jobs.add({
    filmId,
    kind: 'find edge',
    subjectId: matte.id,
    label: `Finding the trailing edge of ${matte.name}`,
    order,
    window: windowOf(request),
  });
  return NextResponse.json({ id }, { status: 201 });
});
