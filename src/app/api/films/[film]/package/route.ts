import { Readable } from 'node:stream';
import { parse } from '../../../../../server/base/parse';
import { handlesSchema, idSchema } from '../../../../../server/http/request-schema';
import { loadFilm } from '../../../../../server/films/films';
import { packFilm } from '../../../../../server/films/packages';
import { handle } from '../../../../../server/http/http';
import { getWorkshop } from '../../../../../server/workshop/workshop';

/**
 * The film with its media and mattes as one file; `?media=all` takes the whole shelf along, `?handles=n` only the frames in use and n film
 * frames around them. */
export const GET = handle<{ film: string }>(async (request, { params }) => {
  const { db } = await getWorkshop();
  const id = parse(idSchema, (await params).film);
  const { film } = await loadFilm(db, id);
  const asked = request.nextUrl.searchParams;
  const handles = asked.get('handles');
  const packing = handles === null ? (asked.get('media') === 'all' ? 'all' : 'used') : { handles: parse(handlesSchema, handles, true) };
  const stream = await packFilm(db, id, packing);
  return new Response(Readable.toWeb(stream as Readable) as ReadableStream<Uint8Array>, {
    headers: {
      'content-type': 'application/zip',
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(`${film.name}.irimi.zip`)}`,
      'cross-origin-resource-policy': 'same-origin',
    },
  });
});
