import { NextResponse } from 'next/server';
import { AppError } from '../../../../../server/base/errors';
import { parse } from '../../../../../server/base/parse';
import { findBeatsBody, idSchema } from '../../../../../server/http/request-schema';
import { handle, readJson, windowOf } from '../../../../../server/http/http';
import { listMedia } from '../../../../../server/media/media';
import { getWorkshop } from '../../../../../server/workshop/workshop';

/** Finds the beats of a medium of the film. */
export const POST = handle<{ film: string }>(async (request, { params }) => {
  const { db, jobs } = await getWorkshop();
  const filmId = parse(idSchema, (await params).film);
  const { mediumId } = parse(findBeatsBody, await readJson(request));
  const sound = (await listMedia(db, filmId)).find((m) => m.id === mediumId)?.sound ?? null;
  if (sound === null) throw new AppError('not-found', 'This media has no sound, or it is not ready.');
  const label = `Finding the beats of ${sound.name}`;
  const id = await jobs.add({ filmId, kind: 'find beats', subjectId: mediumId, label, window: windowOf(request) });
  return NextResponse.json({ id }, { status: 201 });
});
