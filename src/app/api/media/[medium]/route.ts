import { NextResponse } from 'next/server';
import { tellFilm } from '../../../../server/base/events';
import { parse } from '../../../../server/base/parse';
import { idSchema } from '../../../../server/http/request-schema';
import { handle } from '../../../../server/http/http';
import { deleteMedium } from '../../../../server/films/medium-uses';
import { getWorkshop } from '../../../../server/workshop/workshop';

/** Takes a medium away for good, while it waits, is prepared or could not be used. One that is ready is taken off the shelf by an edit. */
export const DELETE = handle<{ medium: string }>(async (_, { params }) => {
  const { db, jobs } = await getWorkshop();
  const filmId = await deleteMedium(db, parse(idSchema, (await params).medium), (id) => jobs.cancelOf(id));
  tellFilm(filmId, { kind: 'media' });
  return NextResponse.json({});
});
