import { NextResponse } from 'next/server';
import { orderMatteExport } from '../../../../../server/exports/exports';
import { parse } from '../../../../../server/base/parse';
import { idSchema, matteSendBody } from '../../../../../server/http/request-schema';
import { handle, readJson, windowOf } from '../../../../../server/http/http';
import { getWorkshop } from '../../../../../server/workshop/workshop';

export const POST = handle<{ film: string }>(async (request, { params }) => {
  const { db, jobs } = await getWorkshop();
  const filmId = parse(idSchema, (await params).film);
  const { entry, cost } = await orderMatteExport(db, filmId, parse(matteSendBody, await readJson(request)));
  await jobs.add({ filmId, kind: 'send', subjectId: entry.id, label: `Exporting ${entry.name}`, cost, window: windowOf(request) });
  return NextResponse.json(entry, { status: 201 });
});
