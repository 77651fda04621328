import { randomUUID } from 'node:crypto';
import { createWriteStream, mkdirSync } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { NextResponse } from 'next/server';
import { incomingFolder } from '../../../server/base/data-folder';
import { AppError } from '../../../server/base/errors';
import { openPackage } from '../../../server/films/packages';
import { handle } from '../../../server/http/http';
import { getWorkshop } from '../../../server/workshop/workshop';

/** Opens a package, sent as the body, as a film. */
export const POST = handle(async (request) => {
  if (request.body === null) throw new AppError('bad-request', 'No package came with the request.');
  const { db, jobs } = await getWorkshop();
  mkdirSync(incomingFolder(), { recursive: true });
  const received = join(incomingFolder(), `${randomUUID()}.part`);
  try {
    await pipeline(Readable.fromWeb(request.body as never), createWriteStream(received));
    const { filmId, media } = await openPackage(db, received);
    for (const { id, name, bytes } of media)
      await jobs.add({ filmId, kind: 'ingest', subjectId: id, label: `Preparing ${name}`, cost: bytes });
    return NextResponse.json({ id: filmId }, { status: 201 });
  } finally {
    await rm(received, { force: true });
  }
});
