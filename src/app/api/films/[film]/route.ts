import { NextResponse } from 'next/server';
import { parse } from '../../../../server/parse';
import { idSchema } from '../../../../server/request-schema';
import { openFilm } from '../../../../server/film-edits';
import { handle } from '../../../../server/http';
import { getWorkshop } from '../../../../server/workshop';

export const GET = handle<{ film: string }>(async (_, { params }) =>
  NextResponse.json(await openFilm((await getWorkshop()).db, parse(idSchema, (await params).film))),
);
