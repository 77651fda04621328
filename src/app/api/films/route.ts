import { NextResponse } from 'next/server';
import { addEmptyFilm, listFilms } from '../../../server/films/films';
import { parse } from '../../../server/base/parse';
import { newFilmBody } from '../../../server/http/request-schema';
import { handle, readJson } from '../../../server/http/http';
import { getWorkshop } from '../../../server/workshop/workshop';

export const GET = handle(async () => NextResponse.json(await listFilms((await getWorkshop()).db)));

export const POST = handle(async (request) => {
  const { name, width, height, rate } = parse(newFilmBody, await readJson(request));
  return NextResponse.json({ id: await addEmptyFilm((await getWorkshop()).db, name, width, height, rate) }, { status: 201 });
});
