import { randomUUID } from 'node:crypto';
import { mkdirSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { NextResponse } from 'next/server';
import { incomingFolder } from '../../../../../../server/base/data-folder';
import { tellFilm } from '../../../../../../server/base/events';
import { parse } from '../../../../../../server/base/parse';
import { frameAsPng } from '../../../../../../server/exports/frame-picture';
import { frameSchema, idSchema } from '../../../../../../server/http/request-schema';
import { handle } from '../../../../../../server/http/http';
import { takeInMedium } from '../../../../../../server/media/media';
import { getWorkshop } from '../../../../../../server/workshop/workshop';

interface Params {
  readonly film: string;
  readonly frame: string;
}

/** A picture of a film frame as it is sent out. */
export const GET = handle<Params>(async (request, { params }) => {
  const { film, frame } = await params;
  const { name, png } = await frameAsPng((await getWorkshop()).db, parse(idSchema, film), parse(frameSchema, frame, true), request.signal);
  return new Response(new Uint8Array(png), {
    headers: {
      'content-type': 'image/png',
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      'cross-origin-resource-policy': 'same-origin',
    },
  });
});

/** Puts that picture on the shelf as a still. */
export const POST = handle<Params>(async (request, { params }) => {
  const { db, jobs } = await getWorkshop();
  const { film, frame } = await params;
  const filmId = parse(idSchema, film);
  const { name, png } = await frameAsPng(db, filmId, parse(frameSchema, frame, true), request.signal);
  mkdirSync(incomingFolder(), { recursive: true });
  const received = join(incomingFolder(), randomUUID());
  await writeFile(received, png);
  const id = await takeInMedium(db, filmId, name, received);
  await jobs.add({ filmId, kind: 'ingest', subjectId: id, label: `Preparing ${name}`, cost: png.length });
  tellFilm(filmId, { kind: 'media' });
  return NextResponse.json({ id, name }, { status: 201 });
});
