import { NextResponse } from 'next/server';
import { AppError } from '../../../../../server/errors';
import { followBody, idSchema, parse } from '../../../../../server/film-schema';
import { loadFilm } from '../../../../../server/films';
import { handle, readJson, windowOf } from '../../../../../server/http';
import { getWorkshop } from '../../../../../server/workshop';

export const POST = handle<{ film: string }>(async (request, { params }) => {
  const { db, jobs } = await getWorkshop();
  const filmId = parse(idSchema, (await params).film);
  const order = parse(followBody, await readJson(request));
  const track = (await loadFilm(db, filmId)).film.tracks?.find((t) => t.id === order.trackId);
  if (track === undefined) throw new AppError('not-found', 'There is no such track in this film.');
  const id = await jobs.add({
    filmId,
    kind: 'follow',
    subjectId: track.id,
    label: `Following ${track.name}`,
    order,
    window: windowOf(request),
  });
  return NextResponse.json({ id }, { status: 201 });
});
