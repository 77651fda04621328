import { NextResponse } from 'next/server';
import { tellFilm } from '../../../../server/base/events';
import { parse } from '../../../../server/base/parse';
import { idSchema, mediumBody } from '../../../../server/http/request-schema';
import { handle, readJson } from '../../../../server/http/http';
import { deleteMedium } from '../../../../server/films/medium-uses';
import { renameMedium } from '../../../../server/media/media';
import { getWorkshop } from '../../../../server/workshop/workshop';

/** Calls a medium something else. */
export const POST = handle<{ medium: string }>(async (request, { params }) => {
  const { name } = parse(mediumBody, await readJson(request));
  const filmId = await renameMedium((await getWorkshop()).db, parse(idSchema, (await params).medium), name);
  tellFilm(filmId, { kind: 'media' });
  return NextResponse.json({ name });
});

/** Takes a medium away for good, while it waits, is prepared or could not be used. One that is ready is taken off the shelf by an edit. */
export const DELETE = handle<{ medium: string }>(async (_, { params }) => {
  const { db, jobs } = await getWorkshop();
  const filmId = await deleteMedium(db, parse(idSchema, (await params).medium), (id) => jobs.cancelOf(id));
  tellFilm(filmId, { kind: 'media' });
  return NextResponse.json({});
});
