import { followBody } from '../../../../../server/http/request-schema';
import { orderRoute } from '../order-route';

export const POST = orderRoute({
  kind: 'follow',
  body: followBody,
  subject: (film, { trackId }) => film.tracks?.find((t) => t.id === trackId),
  doing: 'Following',
});
