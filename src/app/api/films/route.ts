import { NextResponse } from 'next/server';
import { addEmptyFilm, listFilms } from '../../../server/films';
import { parse } from '../../../server/parse';
import { newFilmBody } from '../../../server/request-schema';
import { handle, readJson } from '../../../server/http';
import { getWorkshop } from '../../../server/workshop';

export const GET = handle(async () => NextResponse.json(await listFilms((await getWorkshop()).db)));

export const POST = handle(async (request) => {
  const { name, width, height, rate } = parse(newFilmBody, await readJson(request));
  return NextResponse.json({ id: await addEmptyFilm((await getWorkshop()).db, name, width, height, rate) }, { status: 201 });
});
