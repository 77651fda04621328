import { NextResponse } from 'next/server';
import { tellFilm } from '../../../../../server/events';
import { editBody, idSchema, parse } from '../../../../../server/film-schema';
import { storeEdit } from '../../../../../server/films';
import { handle, readJson } from '../../../../../server/http';
import { getWorkshop } from '../../../../../server/workshop';

export const POST = handle<{ film: string }>(async (request, { params }) => {
  const id = parse(idSchema, (await params).film);
  const { base, edit } = parse(editBody, await readJson(request));
  const revision = await storeEdit((await getWorkshop()).db, id, base, edit);
  tellFilm(id, { kind: 'film', revision });
  return NextResponse.json({ revision });
});
