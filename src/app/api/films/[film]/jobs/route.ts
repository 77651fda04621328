import { NextResponse } from 'next/server';
import { parse } from '../../../../../server/parse';
import { idSchema } from '../../../../../server/request-schema';
import { handle } from '../../../../../server/http';
import { getWorkshop } from '../../../../../server/workshop';

export const GET = handle<{ film: string }>(async (_, { params }) =>
  NextResponse.json(await (await getWorkshop()).jobs.list(parse(idSchema, (await params).film))),
);
