import { NextResponse } from 'next/server';
import { parse } from '../../../../../server/base/parse';
import { idSchema, versionBody } from '../../../../../server/http/request-schema';
import { copyFilm } from '../../../../../server/films/film-copies';
import { deleteVersion, keepVersion, listVersions, loadVersion } from '../../../../../server/films/versions';
import { handle, readJson } from '../../../../../server/http/http';
import { getWorkshop } from '../../../../../server/workshop/workshop';

/** The versions of a film, newest first. */
export const GET = handle<{ film: string }>(async (_, { params }) =>
  NextResponse.json(await listVersions((await getWorkshop()).db, parse(idSchema, (await params).film))),
);

/** Keeps the film as it is, opens a version as a film of its own, or deletes one. */
export const POST = handle<{ film: string }>(async (request, { params }) => {
  const { db } = await getWorkshop();
  const filmId = parse(idSchema, (await params).film);
  const order = parse(versionBody, await readJson(request));
  if (order.do === 'keep') return NextResponse.json(await keepVersion(db, filmId, order.name, order.isByItself ?? false), { status: 201 });
  if (order.do === 'open')
    return NextResponse.json({ id: await copyFilm(db, filmId, order.name, await loadVersion(db, filmId, order.id)) }, { status: 201 });
  await deleteVersion(db, filmId, order.id);
  return NextResponse.json({ id: order.id });
});
