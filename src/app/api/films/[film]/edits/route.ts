import { NextResponse } from 'next/server';
import { tellFilm } from '../../../../../server/events';
import { parse } from '../../../../../server/parse';
import { editBody, idSchema } from '../../../../../server/request-schema';
import { askedIn, storeEdit } from '../../../../../server/film-edits';
import { handle, readJson, windowOf } from '../../../../../server/http';
import { getWorkshop } from '../../../../../server/workshop';

export const POST = handle<{ film: string }>(async (request, { params }) => {
  const id = parse(idSchema, (await params).film);
  const sent = parse(editBody, await readJson(request));
  const revision = await storeEdit((await getWorkshop()).db, id, { ...sent, asked: askedIn(windowOf(request)) });
  tellFilm(id, { kind: 'film', revision });
  return NextResponse.json({ revision });
});
