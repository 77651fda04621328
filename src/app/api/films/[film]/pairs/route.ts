import { NextResponse } from 'next/server';
import { readyMedium } from '../../../../../server/work/analysis';
import { AppError } from '../../../../../server/base/errors';
import { parse } from '../../../../../server/base/parse';
import { idSchema, pairBody } from '../../../../../server/http/request-schema';
import { loadPairs, pairKey } from '../../../../../server/work/find-pairs';
import { handle, readJson, windowOf } from '../../../../../server/http/http';
import { listMedia } from '../../../../../server/media/media';
import { getWorkshop } from '../../../../../server/workshop/workshop';

/** Compares two shots: what is known of them at once, or the key under which it will be found. */
export const POST = handle<{ film: string }>(async (request, { params }) => {
  const { db, jobs } = await getWorkshop();
  const filmId = parse(idSchema, (await params).film);
  const order = parse(pairBody, await readJson(request));
  const shelf = await listMedia(db, filmId);
  const [a, b] = [readyMedium(shelf, order.a.mediumId), readyMedium(shelf, order.b.mediumId)];
  for (const [medium, { first, count, step }] of [
    [a, order.a],
    [b, order.b],
  ] as const)
    if (first + (count - 1) * step >= medium.frames) throw new AppError('bad-request', `${medium.name} has only ${medium.frames} frames.`);
  const key = pairKey(order);
  if ((await loadPairs(key)) === null && !(await jobs.isWaiting('pair', key)))
    await jobs.add({ filmId, kind: 'pair', subjectId: key, label: `Comparing ${a.name} with ${b.name}`, window: windowOf(request), order });
  return NextResponse.json({ key }, { status: 201 });
});

/** What comparing two shots came to; null while they have not been compared. */
export const GET = handle<{ film: string }>(async (request) => {
  const given = new URL(request.url).searchParams.get('order') ?? '';
  let order: unknown = null;
  try {
    order = JSON.parse(given);
  } catch {
    throw new AppError('bad-request', 'The order is not JSON.');
  }
  const found = await loadPairs(pairKey(parse(pairBody, order)));
  return new NextResponse(found ?? 'null', { headers: { 'content-type': 'application/json', 'cache-control': 'no-store' } });
});
