import { NextResponse } from 'next/server';
import { parse } from '../../../../../server/base/parse';
import { idSchema, jobKindSchema } from '../../../../../server/http/request-schema';
import { handle } from '../../../../../server/http/http';
import { getWorkshop } from '../../../../../server/workshop/workshop';

export const GET = handle<{ film: string }>(async (_, { params }) =>
  NextResponse.json(await (await getWorkshop()).jobs.list(parse(idSchema, (await params).film))),
);

/** Stops everything of a kind that is under way, or waits, in a film. */
export const DELETE = handle<{ film: string }>(async (request, { params }) => {
  const kind = parse(jobKindSchema, new URL(request.url).searchParams.get('kind'));
  await (await getWorkshop()).jobs.cancelKind(parse(idSchema, (await params).film), kind);
  return NextResponse.json({});
});
