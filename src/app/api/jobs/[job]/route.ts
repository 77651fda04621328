import { NextResponse } from 'next/server';
import { parse } from '../../../../server/base/parse';
import { idSchema } from '../../../../server/http/request-schema';
import { handle } from '../../../../server/http/http';
import { getWorkshop } from '../../../../server/workshop/workshop';

/** Cancels the job. */
export const DELETE = handle<{ job: string }>(async (_, { params }) => {
  await (await getWorkshop()).jobs.cancel(parse(idSchema, (await params).job));
  return NextResponse.json({});
});
