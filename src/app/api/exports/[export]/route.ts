import { NextResponse } from 'next/server';
import type { ExportEnding } from '../../../../core/film/job';
import { AppError } from '../../../../server/base/errors';
import { exportFile, findExport, removeExport } from '../../../../server/exports/exports';
import { parse } from '../../../../server/base/parse';
import { idSchema } from '../../../../server/http/request-schema';
import { fileResponse, handle } from '../../../../server/http/http';
import { getWorkshop } from '../../../../server/workshop/workshop';

const TYPES: Record<ExportEnding, string> = {
  webm: 'video/webm',
  mp4: 'video/mp4',
  wav: 'audio/wav',
  mkv: 'video/x-matroska',
  mov: 'video/quicktime',
  zip: 'application/zip',
};

export const GET = handle<{ export: string }>(async (request, { params }) => {
  const found = await findExport((await getWorkshop()).db, parse(idSchema, (await params).export));
  if (found.frames === null) throw new AppError('not-found', 'This file is not finished yet.');
  const name = encodeURIComponent(found.name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`);
  return fileResponse(request, exportFile(found.id, found.format), TYPES[found.format], {
    'content-disposition': `attachment; filename*=UTF-8''${name}`,
  });
});

export const DELETE = handle<{ export: string }>(async (_, { params }) => {
  const { db, jobs } = await getWorkshop();
  const id = parse(idSchema, (await params).export);
  await jobs.cancelOf(id);
  await removeExport(db, id);
  return NextResponse.json({});
});
