import { mediumFile, type MediumFile } from '../../../../../server/base/data-folder';
import { AppError } from '../../../../../server/base/errors';
import { parse } from '../../../../../server/base/parse';
import { idSchema } from '../../../../../server/http/request-schema';
import { fileResponse, handle } from '../../../../../server/http/http';

const TYPES: Partial<Record<string, string>> = {
  'proxy.webm': 'video/webm',
  'proxy.png': 'image/png',
  'poster.jpg': 'image/jpeg',
  'first.jpg': 'image/jpeg',
  'strip.jpg': 'image/jpeg',
  'sound.s16': 'application/octet-stream',
  'peaks.s8': 'application/octet-stream',
};

export const GET = handle<{ medium: string; file: string }>(async (request, { params }) => {
  const { medium, file } = await params;
  const type = /^part-\d{1,3}\.webm$/.test(file) ? 'video/webm' : TYPES[file];
  if (type === undefined) throw new AppError('not-found', 'There is no such file.');
  return fileResponse(request, mediumFile(parse(idSchema, medium), file as MediumFile), type, {
    'cache-control': 'private, max-age=31536000, immutable',
  });
});
