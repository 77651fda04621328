import { NextResponse } from 'next/server';
import { listExports, orderExport } from '../../../../../server/exports/exports';
import { parse } from '../../../../../server/base/parse';
import { idSchema, sendBody } from '../../../../../server/http/request-schema';
import { handle, readJson, windowOf } from '../../../../../server/http/http';
import { getWorkshop } from '../../../../../server/workshop/workshop';

export const GET = handle<{ film: string }>(async (_, { params }) =>
  NextResponse.json(await listExports((await getWorkshop()).db, parse(idSchema, (await params).film))),
);

export const POST = handle<{ film: string }>(async (request, { params }) => {
  const { db, jobs } = await getWorkshop();
  const filmId = parse(idSchema, (await params).film);
  const order = parse(sendBody, await readJson(request));
  const { entry, cost } = await orderExport(db, filmId, order);
  await jobs.add({
    filmId,
    kind: 'send',
    subjectId: entry.id,
    label: `Exporting ${entry.name}`,
    cost,
    after: order.after ?? [],
    window: windowOf(request),
  });
  return NextResponse.json(entry, { status: 201 });
});
