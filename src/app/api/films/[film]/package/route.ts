import { Readable } from 'node:stream';
import { parse } from '../../../../../server/base/parse';
import { idSchema } from '../../../../../server/http/request-schema';
import { loadFilm } from '../../../../../server/films/films';
import { packFilm } from '../../../../../server/films/packages';
import { handle } from '../../../../../server/http/http';
import { getWorkshop } from '../../../../../server/workshop/workshop';

/** The film with its media and mattes as one file; `?media=all` takes the whole shelf along. */
export const GET = handle<{ film: string }>(async (request, { params }) => {
  const { db } = await getWorkshop();
  const id = parse(idSchema, (await params).film);
  const { film } = await loadFilm(db, id);
  const stream = await packFilm(db, id, request.nextUrl.searchParams.get('media') === 'all' ? 'all' : 'used');
  return new Response(Readable.toWeb(stream as Readable) as ReadableStream<Uint8Array>, {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(`${film.name}.irimi.zip`)}`,
      'cross-origin-resource-policy': 'same-origin',
    },
  });
});
