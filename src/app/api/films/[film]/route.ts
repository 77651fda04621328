import { NextResponse } from 'next/server';
import { parse } from '../../../../server/base/parse';
import { idSchema } from '../../../../server/http/request-schema';
import { openFilm } from '../../../../server/films/film-edits';
import { handle } from '../../../../server/http/http';
import { getWorkshop } from '../../../../server/workshop/workshop';

export const GET = handle<{ film: string }>(async (_, { params }) =>
  NextResponse.json(await openFilm((await getWorkshop()).db, parse(idSchema, (await params).film))),
);
