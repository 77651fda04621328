import { NextResponse } from 'next/server';
import { parse } from '../../../../../../server/base/parse';
import { idSchema, matteFramesBody } from '../../../../../../server/http/request-schema';
import { handle, readJson, windowOf } from '../../../../../../server/http/http';
import {
  copyMatteFrames,
  listMatteFrames,
  removeMatteFrames,
  restoreMatteFrame,
  settleMatte,
} from '../../../../../../server/films/matte-frames';
import { askedIn } from '../../../../../../server/films/film-edits';
import { newFrameEdit, noteFrames } from '../../../../../../server/films/server-edits';
import { getWorkshop } from '../../../../../../server/workshop/workshop';

type Params = { film: string; matte: string };

export const GET = handle<Params>(async (_, { params }) => {
  const { film, matte } = await params;
  return NextResponse.json(await listMatteFrames((await getWorkshop()).db, parse(idSchema, film), parse(idSchema, matte)));
});

export const POST = handle<Params>(async (request, { params }) => {
  const { db } = await getWorkshop();
  const filmId = parse(idSchema, (await params).film);
  const matteId = parse(idSchema, (await params).matte);
  const order = parse(matteFramesBody, await readJson(request));
  if (order.do === 'restore') await restoreMatteFrame(db, filmId, matteId, order.frame);
  else if (order.do === 'remove') await removeMatteFrames(db, filmId, matteId, [order.frame]);
  else if (order.do === 'copy') await copyMatteFrames(db, filmId, matteId, order.to);
  else if (order.do === 'forget carried') {
    const edit = newFrameEdit(askedIn(windowOf(request)));
    await removeMatteFrames(db, filmId, matteId, 'carried', edit.editId);
    await noteFrames(db, filmId, matteId, edit, (name) => `Discarded carried frames of ${name}`);
  } else await settleMatte(db, filmId, matteId, order.do === 'settle');
  return NextResponse.json({ ok: true });
});
