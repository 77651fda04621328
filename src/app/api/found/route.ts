import { NextResponse } from 'next/server';
import { loadFilm } from '../../../server/films/films';
import { listFound, moveAside, takeInFound } from '../../../server/workshop/found';
import { handle, readJson } from '../../../server/http/http';
import { parse } from '../../../server/base/parse';
import { foundBody } from '../../../server/http/request-schema';
import { getWorkshop } from '../../../server/workshop/workshop';

/** What lies in the data folder and is of no film. */
export const GET = handle(async () => NextResponse.json(await listFound((await getWorkshop()).db)));

/** Takes one thing of it into a film, or moves it aside. */
export const POST = handle(async (request) => {
  const { db, jobs } = await getWorkshop();
  const order = parse(foundBody, await readJson(request));
  if (order.do === 'move aside') return NextResponse.json({ movedTo: await moveAside(db, order.place, order.entry) });
  const { filmId } = order;
  await loadFilm(db, filmId);
  const { id, name, bytes } = await takeInFound(db, order.place, order.entry, filmId);
  await jobs.add({ filmId, kind: 'ingest', subjectId: id, label: `Preparing ${name}`, cost: bytes });
  return NextResponse.json({ id }, { status: 201 });
});
