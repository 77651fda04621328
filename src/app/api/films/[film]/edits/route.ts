import { NextResponse } from 'next/server';
import { tellFilm } from '../../../../../server/base/events';
import { parse } from '../../../../../server/base/parse';
import { editBody, idSchema } from '../../../../../server/http/request-schema';
import { askedIn, storeEdit } from '../../../../../server/films/film-edits';
import { keepHourly } from '../../../../../server/films/versions';
import { handle, readJson, windowOf } from '../../../../../server/http/http';
import { getWorkshop } from '../../../../../server/workshop/workshop';

export const POST = handle<{ film: string }>(async (request, { params }) => {
  const id = parse(idSchema, (await params).film);
  const sent = parse(editBody, await readJson(request));
  const { db } = await getWorkshop();
  await keepHourly(db, id);
  const revision = await storeEdit(db, id, { ...sent, asked: askedIn(windowOf(request)) });
  tellFilm(id, { kind: 'film', revision });
  return NextResponse.json({ revision });
});
