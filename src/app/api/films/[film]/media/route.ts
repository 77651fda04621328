import { NextResponse } from 'next/server';
import { parse } from '../../../../../server/base/parse';
import { idSchema } from '../../../../../server/http/request-schema';
import { handle } from '../../../../../server/http/http';
import { listMedia } from '../../../../../server/media/media';
import { getWorkshop } from '../../../../../server/workshop/workshop';

export const GET = handle<{ film: string }>(async (_, { params }) => {
  const { db, jobs } = await getWorkshop();
  return NextResponse.json(await listMedia(db, parse(idSchema, (await params).film), (id) => jobs.progressOf(id)));
});
