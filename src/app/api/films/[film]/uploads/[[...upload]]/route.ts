import { parse } from '../../../../../../server/base/parse';
import { idSchema } from '../../../../../../server/http/request-schema';
import { handle, windowOf } from '../../../../../../server/http/http';
import { answerUpload } from '../../../../../../server/http/uploads';

/** Files of a film by the tus protocol: media, or with a matte in their metadata its frames. */
const answer = handle<{ film: string }>(async (request, { params }) =>
  answerUpload(request, parse(idSchema, (await params).film), windowOf(request)),
);

export { answer as DELETE, answer as HEAD, answer as PATCH, answer as POST };
