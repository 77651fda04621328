import { carryBody } from '../../../../../server/http/request-schema';
import { matteOf, orderRoute } from '../order-route';

export const POST = orderRoute({ kind: 'carry', body: carryBody, subject: matteOf, doing: 'Carrying' });
