import { NextResponse } from 'next/server';
import { parse } from '../../../../../server/parse';
import { idSchema } from '../../../../../server/request-schema';
import { handle } from '../../../../../server/http';
import { listMedia } from '../../../../../server/media';
import { getWorkshop } from '../../../../../server/workshop';

export const GET = handle<{ film: string }>(async (_, { params }) => {
  const { db, jobs } = await getWorkshop();
  return NextResponse.json(await listMedia(db, parse(idSchema, (await params).film), (id) => jobs.progressOf(id)));
});
