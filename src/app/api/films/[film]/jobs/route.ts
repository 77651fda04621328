import { NextResponse } from 'next/server';
import { idSchema, parse } from '../../../../../server/film-schema';
import { handle } from '../../../../../server/http';
import { getWorkshop } from '../../../../../server/workshop';

export const GET = handle<{ film: string }>(async (_, { params }) =>
  NextResponse.json(await (await getWorkshop()).jobs.list(parse(idSchema, (await params).film))),
);
