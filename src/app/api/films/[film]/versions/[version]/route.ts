import { NextResponse } from 'next/server';
import { parse } from '../../../../../../server/base/parse';
import { idSchema } from '../../../../../../server/http/request-schema';
import { loadVersion } from '../../../../../../server/films/versions';
import { handle } from '../../../../../../server/http/http';
import { getWorkshop } from '../../../../../../server/workshop/workshop';

/** The film as it was. */
export const GET = handle<{ film: string; version: string }>(async (_, { params }) => {
  const { film, version } = await params;
  return NextResponse.json(await loadVersion((await getWorkshop()).db, parse(idSchema, film), parse(idSchema, version)));
});
