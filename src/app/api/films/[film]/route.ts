import { NextResponse } from 'next/server';
import { makeEdit } from '../../../../core/film/history';
import { parse } from '../../../../server/base/parse';
import { filmBody, idSchema } from '../../../../server/http/request-schema';
import { bringFilmBack, copyFilm, deleteFilm, deleteForGood } from '../../../../server/films/film-copies';
import { askedIn, openFilm } from '../../../../server/films/film-edits';
import { editFilm } from '../../../../server/films/server-edits';
import { handle, readJson, windowOf } from '../../../../server/http/http';
import { getWorkshop } from '../../../../server/workshop/workshop';

export const GET = handle<{ film: string }>(async (_, { params }) =>
  NextResponse.json(await openFilm((await getWorkshop()).db, parse(idSchema, (await params).film))),
);

/** Renames, duplicates, deletes a film, or brings it back. */
export const POST = handle<{ film: string }>(async (request, { params }) => {
  const { db } = await getWorkshop();
  const id = parse(idSchema, (await params).film);
  const order = parse(filmBody, await readJson(request));
  switch (order.do) {
    case 'rename':
      await editFilm(db, id, askedIn(windowOf(request)), (film) =>
        makeEdit(film, `Renamed the film to ${order.name}`, (d) => void (d.name = order.name)),
      );
      break;
    case 'duplicate':
      return NextResponse.json({ id: await copyFilm(db, id, order.name) }, { status: 201 });
    case 'delete':
      await deleteFilm(db, id);
      break;
    case 'bring back':
      await bringFilmBack(db, id);
      break;
    case 'delete for good':
      await deleteForGood(db, id);
      break;
  }
  return NextResponse.json({ id });
});
