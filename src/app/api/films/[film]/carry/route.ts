import { carryBody } from '../../../../../server/film-schema';
import { matteOf, orderRoute } from '../order-route';

export const POST = orderRoute({ kind: 'carry', body: carryBody, subject: matteOf, doing: 'Carrying' });
