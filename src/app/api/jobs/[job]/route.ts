import { NextResponse } from 'next/server';
import { parse } from '../../../../server/parse';
import { idSchema } from '../../../../server/request-schema';
import { handle } from '../../../../server/http';
import { getWorkshop } from '../../../../server/workshop';

/** Cancels the job. */
export const DELETE = handle<{ job: string }>(async (_, { params }) => {
  await (await getWorkshop()).jobs.cancel(parse(idSchema, (await params).job));
  return NextResponse.json({});
});
