import { NextResponse } from 'next/server';
import { AppError } from '../../../../../../../server/base/errors';
import { parse } from '../../../../../../../server/base/parse';
import { frameSchema, idSchema, paintedFrameQuery } from '../../../../../../../server/http/request-schema';
import { loadFilm } from '../../../../../../../server/films/films';
import { handle, readBytes } from '../../../../../../../server/http/http';
import { loadCoverage, storeMatteFrame } from '../../../../../../../server/films/matte-frames';
import { getWorkshop } from '../../../../../../../server/workshop/workshop';

type Params = { film: string; matte: string; frame: string };

/** The coverage of one frame, a byte a pixel, or with `which=base` what it was before a hand corrected it; its size is in the headers. */
export const GET = handle<Params>(async (request, { params }) => {
  const { film, matte, frame } = await params;
  const { db } = await getWorkshop();
  const which = request.nextUrl.searchParams.get('which') === 'base' ? 'base' : 'coverage';
  const stored = await loadCoverage(db, parse(idSchema, film), parse(idSchema, matte), parse(frameSchema, frame, true), which);
  if (stored === null) return new Response(null, { status: 204 });
  return new Response(new Uint8Array(stored.data), {
    headers: {
      'content-type': 'application/octet-stream',
      'cache-control': 'no-store',
      'x-width': String(stored.width),
      'x-height': String(stored.height),
    },
  });
});

/** Stores what a hand has painted on one frame: the body is its coverage. */
export const PUT = handle<Params>(async (request, { params }) => {
  const { film, matte, frame } = await params;
  const { db } = await getWorkshop();
  const [filmId, matteId, number] = [parse(idSchema, film), parse(idSchema, matte), parse(frameSchema, frame, true)];
  const { width, height, madeFrom } = parse(paintedFrameQuery, Object.fromEntries(request.nextUrl.searchParams), true);
  if (!(await loadFilm(db, filmId)).film.mattes.some((m) => m.id === matteId))
    throw new AppError('not-found', 'There is no such matte in this film.');
  const data = await readBytes(request, width * height, 'The coverage is larger than it says.');
  await storeMatteFrame(db, filmId, matteId, {
    frame: number,
    origin: 'hand',
    confidence: 1,
    doubt: null,
    madeFrom,
    coverage: { width, height, data },
  });
  return NextResponse.json({ ok: true });
});
